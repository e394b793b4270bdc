import { expect } from '@playwright/test';
import sharp from 'sharp';
import { apart, picture } from './pixels.ts';
import { board, byte, openWith } from './plainSet.ts';
import { undo } from './score.ts';
import { saved, test } from './stage.ts';

test('the key light’s shadow falls where light is held back, softer as asked, and not from what throws none', async ({
  page,
}) => {
  // From straight above: a board a metre up darkens the floor below it and nowhere else.
  await openWith(
    page,
    {
      props: [
        board('Floor', [6, 6], [0, 0, 0], { rotation: [-90, 0, 0] }),
        board('Lid', [1, 1], [-1, 1, 0], { rotation: [-90, 0, 0] }),
        board('Veil', [1, 1], [1, 1, 0], { rotation: [-90, 0, 0], material: 'velvet-house-left' }),
      ],
      lights: [{ kind: 'direction', position: [0, 1, 0], color: [1, 1, 1], intensity: 3, shadow: 0 }],
      camera: { position: [0, 0.9, 5], target: [0, 0, 0], fieldOfView: 40 },
    },
    true,
  );
  const [under, beside, edge] = [
    [0.37, 0.502],
    [0.5, 0.502],
    [0.432, 0.502],
  ] as const;
  const first = await picture(page);
  const [dark, light] = [first(...under), first(...beside)];
  expect(light[0]! - dark[0]!).toBeGreaterThan(60);
  // Where nothing of the light comes, the fill is all there is: 0.05 of the light around, reflected by 0.5.
  expect(Math.abs(dark[0]! - byte(0.5 * 0.05))).toBeLessThan(6);
  const sharp = first(...edge);
  await page.getByRole('spinbutton', { name: 'softness of the shadow' }).focus();
  await page.keyboard.type('0.6');
  await page.keyboard.press('Enter');
  const soft = await picture(page);
  expect(apart(soft(...edge), sharp)).toBeGreaterThan(3);
  await page
    .getByRole('region', { name: 'Prop Lid' })
    .getByRole('button', { name: 'shadow', exact: true })
    .click();
  expect(apart((await picture(page))(...under), light)).toBeLessThan(4);
  await undo(page);
  await page.getByRole('checkbox', { name: 'The key light throws a shadow' }).uncheck();
  expect(apart((await picture(page))(...under), light)).toBeLessThan(4);
  await saved(page);
});

test('air takes its share of what is seen through it; what faces the camera does; what stands on another moves with it', async ({
  page,
}) => {
  const air = { color: [0.1, 0.2, 0.4], density: 0.25 };
  await openWith(
    page,
    {
      props: [
        board('Near', [1, 1], [-1.2, 1, -2]),
        board('Far', [3, 3], [3, 1, -10], { drawOrder: 1 }),
        // Edge-on to the camera, until it faces it.
        board('Edge', [1, 1], [1.2, 1, -2], { rotation: [0, 90, 0] }),
        board('Carried', [0.2, 0.2], [0, 0.7, 0], { parent: 'Near', rotation: [0, 0, 45] }),
      ],
      ...{ air, camera: { position: [0, 1, 2], target: [0, 1, 0], fieldOfView: 50 } },
    },
    false,
  );
  const through = (metres: number) =>
    [0.5, 0.25, 0.1].map((x, c) => {
      const left = Math.exp(-air.density * metres);
      return byte(air.color[c]! * (1 - left) + x * left);
    });
  const shown = await picture(page);
  const box = (await page.getByTestId('stage').boundingBox())!;
  /** Where a point of the world is seen, in shares of the picture. */
  const seenAt = (x: number, y: number, z: number): readonly [number, number] => {
    const half = Math.tan((25 * Math.PI) / 180) * (2 - z);
    return [0.5 + x / (2 * half * (box.width / box.height)), 0.5 - (y - 1) / (2 * half)];
  };
  expect(apart(shown(...seenAt(-1.2, 1, -2)), through(Math.hypot(1.2, 4)))).toBeLessThan(2);
  expect(apart(shown(...seenAt(3, 1, -10)), through(Math.hypot(3, 12)))).toBeLessThan(2);
  const [aside, carried] = [seenAt(1.5, 1.2, -2), seenAt(-1.2, 1.75, -2)];
  expect(apart(shown(...carried), through(Math.hypot(1.2, 0.75, 4)))).toBeLessThan(2);
  // Where nothing stands there is air, and no more.
  expect(apart(shown(...seenAt(0, 1.6, -2)), air.color.map(byte))).toBeLessThan(2);
  const before = shown(...aside);
  await page.getByLabel('Where Edge faces').selectOption({ label: 'faces the camera' });
  const faced = await picture(page);
  expect(apart(faced(...aside), before)).toBeGreaterThan(10);
  expect(apart(faced(...aside), through(Math.hypot(1.5, 0.2, 4)))).toBeLessThan(3);

  // Moved by half a metre, its carrier takes it along; put into the world, it stays.
  const place = page.getByRole('spinbutton', { name: 'Near position x' });
  await place.focus();
  await page.keyboard.type('-0.7');
  await page.keyboard.press('Enter');
  const moved = await picture(page);
  expect(apart(moved(...seenAt(-0.7, 1.75, -2)), through(Math.hypot(0.7, 0.75, 4)))).toBeLessThan(2);
  expect(apart(moved(...carried), through(Math.hypot(1.2, 0.75, 4)))).toBeGreaterThan(10);
  await page.getByLabel('What Carried stands on').selectOption({ label: 'in the world' });
  expect(
    apart((await picture(page))(...seenAt(-0.7, 1.75, -2)), moved(...seenAt(-0.7, 1.75, -2))),
  ).toBeLessThan(2);
  // And by keyboard: both in hand, the last carries the other.
  const row = (name: string) => page.getByRole('region', { name: `Prop ${name}`, exact: true });
  await row('Carried').focus();
  await page.keyboard.press('Enter');
  await row('Near').focus();
  await page.keyboard.press('Shift+Enter');
  await page.keyboard.press('p');
  await expect(page.getByLabel('What Carried stands on')).toHaveValue('Near');
  await page.getByRole('checkbox', { name: 'Air between the props' }).uncheck();
  const clear = await picture(page);
  expect(apart(clear(...seenAt(-1.1, 0.6, -2)), [0.5, 0.25, 0.1].map(byte))).toBeLessThan(2);
  await saved(page);
});

/** A picture of everything around, of the radiance in each direction, as an sRGB PNG. */
const around = (radiance: (x: number, y: number, z: number) => readonly number[]): Promise<Buffer> => {
  const [width, height] = [256, 128];
  const bytes = Buffer.from(
    Array.from({ length: width * height }, (_, i) => {
      const turn = (((i % width) + 0.5) / width - 0.5) * 2 * Math.PI;
      const down = ((Math.floor(i / width) + 0.5) / height) * Math.PI;
      const out = Math.sin(down);
      return radiance(Math.sin(turn) * out, Math.cos(down), -Math.cos(turn) * out).map((x) =>
        Math.round(byte(x)),
      );
    }).flat(),
  );
  return sharp(bytes, { raw: { width, height, channels: 3 } })
    .png()
    .toBuffer();
};

test('a picture of what is around lights as the same sky without one does, by every roughness; it is turned, and what is none is told', async ({
  page,
}) => {
  await openWith(
    page,
    {
      props: [
        {
          ...board('Ball', [1, 1], [0, 0, 0]),
          mesh: { kind: 'sphere', radius: 1, divisions: [48, 32] },
        },
      ],
      ...{ ambientUp: [0.8, 0.8, 0.8], ambientDown: [0, 0, 0] },
      camera: { position: [0, 0, 4], target: [0, 0, 0], fieldOfView: 40 },
    },
    true,
    // Rougher from left to right; half a metal, so that the light all around counts too.
    { baseColor: 'vec3(1.0)', roughness: 'position.x * 0.5 + 0.5', metallic: '0.5' },
  );
  const places = [0.36, 0.43, 0.5, 0.57, 0.64].flatMap((x) => [0.35, 0.5, 0.65].map((y) => [x, y] as const));
  const plain = await picture(page);
  const chooser = page.getByLabel('Picture of what is around', { exact: true });
  const choose = async (name: string, buffer: Buffer) =>
    chooser.setInputFiles({ name, mimeType: 'application/octet-stream', buffer });
  await choose('sky.png', await around((_, y) => Array.from({ length: 3 }, () => 0.4 + 0.4 * y)));
  await expect(page.getByRole('checkbox', { name: 'Light from a picture' })).toBeChecked();
  const lit = await picture(page);
  for (const place of places) expect(apart(lit(...place), plain(...place)), `${place}`).toBeLessThan(5);

  await choose('sides.png', await around((x) => (x > 0 ? [0.8, 0, 0] : [0, 0, 0.8])));
  await expect.poll(async () => (await picture(page))(0.62, 0.5)[2]).toBeLessThan(90);
  const sides = await picture(page);
  expect(sides(0.62, 0.5)[0]! - sides(0.62, 0.5)[2]!).toBeGreaterThan(60);
  expect(sides(0.38, 0.5)[2]! - sides(0.38, 0.5)[0]!).toBeGreaterThan(60);
  // Where nothing stands it is seen once it is asked for: a ray that far to the left meets what is to the left.
  expect(apart(sides(0.05, 0.5), plain(0.05, 0.5))).toBeLessThan(2);
  const seen = page.getByRole('checkbox', { name: 'The surroundings are seen' });
  await seen.check();
  await expect.poll(async () => (await picture(page))(0.05, 0.5)[2]).toBeGreaterThan(200);
  const behind = await picture(page);
  expect(behind(0.05, 0.5)[0]).toBeLessThan(8);
  expect(behind(0.95, 0.5)[0]).toBeGreaterThan(200);
  expect(apart(behind(0.62, 0.5), sides(0.62, 0.5))).toBeLessThan(2);
  await page.getByRole('spinbutton', { name: 'turn of the surroundings' }).focus();
  await page.keyboard.type('180');
  await page.keyboard.press('Enter');
  const turned = await picture(page);
  expect(turned(0.62, 0.5)[2]! - turned(0.62, 0.5)[0]!).toBeGreaterThan(60);
  expect(turned(0.05, 0.5)[0]).toBeGreaterThan(200);
  await choose('sky.hdr', Buffer.from('#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y 8 +X 16\nshort'));
  await expect(page.getByText('sky.hdr was not taken: This picture is damaged or cut short')).toBeVisible();
  await choose('huge.hdr', Buffer.from('#?RADIANCE\n\n-Y 30000 +X 30000\n'));
  await expect(page.getByText(/huge.hdr was not taken: The picture is 30000 × 30000/)).toBeVisible();
  // Light of 8 all around: one scanline of runs a row.
  const row = [2, 2, 0, 16, ...[128, 128, 128, 132].flatMap((x) => [128 + 16, x])];
  await choose(
    'bright.hdr',
    Buffer.concat([
      Buffer.from('#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y 8 +X 16\n'),
      Buffer.from(Array.from({ length: 8 }, () => row).flat()),
    ]),
  );
  await expect.poll(async () => (await picture(page))(0.5, 0.5)[0]).toBeGreaterThan(250);
  await seen.uncheck();
  await expect.poll(async () => apart((await picture(page))(0.05, 0.5), plain(0.05, 0.5))).toBeLessThan(2);
  await page.getByRole('checkbox', { name: 'Light from a picture' }).uncheck();
  const back = await picture(page);
  for (const place of places) expect(apart(back(...place), plain(...place))).toBeLessThan(2);
  await saved(page);
});
