import { expect, test, type Page } from '@playwright/test';
import sharp from 'sharp';
import { undo } from './score.ts';
import { openCurtain, playhouseId, leavePlayhouse, saved, stageRests } from './stage.ts';
import { apart, picture } from './pixels.ts';

test.afterEach(leavePlayhouse);

interface Part {
  readonly id: string;
  readonly name: string;
  readonly revision: number;
  readonly body: object;
}
/** The playhouse with its first set made another: grey boards that shine by themselves, or are lit, as told. */
const openWith = async (
  page: Page,
  set: object,
  lit: boolean,
  outputs: object = { baseColor: 'vec3(0.5, 0.25, 0.1)', roughness: '1.0' },
  /** What the curtain's cloth is made of instead. */
  cloth?: object,
): Promise<void> => {
  const id = await playhouseId(page);
  const { parts } = (await (await page.request.get(`/api/projects/${id}`)).json()) as { parts: Part[] };
  const put = async (part: string, change: object) => {
    const before = parts.find((each) => each.id === part)!;
    const data = { name: before.name, revision: before.revision, body: { ...before.body, ...change } };
    const answer = await page.request.put(`/api/projects/${id}/parts/${part}`, { data });
    expect(answer.status(), await answer.text()).toBe(200);
  };
  const surface = { lit, alphaMode: 'opaque', sides: 'both', depthWrite: true };
  await put('worn-brass', {
    surface: { ...surface, outputs },
  });
  if (cloth) await put('curtain-burn-away', { surface: { ...surface, outputs: cloth } });
  await put('proscenium', {
    ...{ ambientUp: [0.05, 0.05, 0.05], ambientDown: [0.05, 0.05, 0.05], exposure: 1, toneMapping: 'none' },
    ...{ bloom: { threshold: 1, intensity: 0 }, lights: [], ...set },
  });
  await openCurtain(page);
  await page.getByRole('tab', { name: 'Stage' }).click();
};
const board = (id: string, size: readonly number[], position: readonly number[], more: object = {}) => ({
  ...{ id, name: id, material: 'brass-work', position, rotation: [0, 0, 0] },
  ...{ mesh: { kind: 'card', size, divisions: [1, 1] }, ...more },
});
const byte = (x: number): number =>
  255 * (x <= 0.0031308 ? x * 12.92 : 1.055 * Math.min(x, 1) ** (1 / 2.4) - 0.055);

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

test('the distance to what stands near is what it is, moves with it in one frame, and leaves out what is not counted', async ({
  page,
}) => {
  const box = { kind: 'box', size: [1, 1, 1], divisions: [2, 2, 2], pivot: [0.5, 0.5, 0.5] };
  await openWith(
    page,
    {
      props: [
        board('Wall', [6, 4], [0, 1, 0]),
        // Twice as wide and turned: its own size and place count.
        {
          ...{ ...board('Box', [1, 1], [0.8, 1, -0.3], { mesh: box, material: 'iron-work' }) },
          ...{ scale: [2, 1, 0.2], rotation: [0, 0, 90] },
        },
      ],
      camera: { position: [0, 1, 5], target: [0, 1, 0], fieldOfView: 40 },
    },
    false,
    { baseColor: 'vec3(surfaceDistance * 0.5)', roughness: '1.0' },
  );
  const half = Math.tan((20 * Math.PI) / 180) * 5;
  const size = (await page.getByTestId('stage').boundingBox())!;
  const check = async (x: number, why: string): Promise<void> => {
    const shown = await picture(page);
    for (const [u, v] of [
      [0.2, 0.3],
      [0.35, 0.5],
      [0.5, 0.62],
      [0.62, 0.5],
      [0.8, 0.8],
    ] as const) {
      const [px, py] = [(u - 0.5) * 2 * half * (size.width / size.height), 1 - (v - 0.5) * 2 * half];
      const over = [Math.abs(px - x) - 0.5, Math.abs(py - 1) - 1, 0.3 - 0.1];
      const metres = Math.hypot(...over.map((each) => Math.max(each, 0)));
      const wanted = byte(metres * 0.5);
      expect(Math.abs(shown(u, v)[0]! - wanted), `${why}: at ${u}, ${v}`).toBeLessThan(5);
    }
  };
  await check(0.8, 'as it stands');
  await page.getByRole('spinbutton', { name: 'Box position x' }).focus();
  await page.keyboard.type('-1');
  await page.keyboard.press('Enter');
  await check(-1, 'moved');
  const row = page.getByRole('region', { name: 'Prop Box' });
  await row.getByRole('button', { name: 'field', exact: true }).click();
  expect((await picture(page))(0.5, 0.5)[0]).toBeGreaterThan(253);
  await undo(page);
  await check(-1, 'counted again');
  await saved(page);
});

test('a shader laid over the frame sees all beneath it, in the author’s order, and is switched, moved and taken off', async ({
  page,
}) => {
  await openWith(
    page,
    {
      props: [board('Board', [3, 3], [0, 1, 0], { material: 'iron-work' })],
      frame: [{ id: 'over', material: 'brass-work' }],
      lights: [],
      ...{ ambientUp: [1, 1, 1], ambientDown: [1, 1, 1] },
      camera: { position: [0, 1, 3], target: [0, 1, 0], fieldOfView: 40 },
    },
    false,
    // Its red is how far to the right; the rest is what is beneath, turned about.
    { baseColor: 'vec3(uv.x, 1.0 - sceneColor(screenUv).yz)', roughness: '1.0' },
  );
  const over = (await picture(page))(0.25, 0.5);
  expect(Math.abs(over[0]! - byte(0.25))).toBeLessThan(2);
  await page.getByRole('checkbox', { name: 'Brass work is laid over the frame' }).uncheck();
  const bare = (await picture(page))(0.25, 0.5);
  const linear = (x: number) => (x / 255 <= 0.04045 ? x / 255 / 12.92 : ((x / 255 + 0.055) / 1.055) ** 2.4);
  expect(Math.abs(over[1]! - byte(1 - linear(bare[1]!)))).toBeLessThan(2);
  await undo(page);
  // A second of the same, and what it turned about is turned back; off it comes again.
  await page.getByLabel('Material shown').selectOption({ label: 'Brass work' });
  await page.getByRole('button', { name: 'Lay the material in hand over the frame' }).click();
  const twice = (await picture(page))(0.25, 0.5);
  expect(Math.abs(twice[1]! - bare[1]!)).toBeLessThan(3);
  await page.getByRole('button', { name: 'Take Brass work off the frame' }).last().click();
  expect(apart((await picture(page))(0.25, 0.5), over)).toBeLessThan(2);
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
  await page.getByRole('spinbutton', { name: 'turn of the surroundings' }).focus();
  await page.keyboard.type('180');
  await page.keyboard.press('Enter');
  const turned = await picture(page);
  expect(turned(0.62, 0.5)[2]! - turned(0.62, 0.5)[0]!).toBeGreaterThan(60);
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
  await page.getByRole('checkbox', { name: 'Light from a picture' }).uncheck();
  const back = await picture(page);
  for (const place of places) expect(apart(back(...place), plain(...place))).toBeLessThan(2);
  await saved(page);
});

test('a floor is made a relief, rises by every step of a 16-bit picture, and is flat again by undo', async ({
  page,
}) => {
  await openWith(
    page,
    {
      props: [
        { ...board('Ground', [1, 1], [0, 0, 0]), mesh: { kind: 'floor', size: [2, 2], divisions: [8, 8] } },
      ],
      camera: { position: [0, 1.5, 5], target: [0, 0.25, 0], fieldOfView: 40 },
    },
    false,
  );
  const row = page.getByRole('region', { name: 'Prop Ground' });
  await row.getByRole('combobox', { name: 'Kind of mesh of Ground' }).selectOption('relief');
  const flat = await picture(page);
  // Black on the left, white on the right; steps of one part in 65535 are told apart.
  const side = 64;
  const samples = Uint16Array.from({ length: side * side }, (_, i) => (i % side < 32 ? i % side : 65535));
  const buffer = await sharp(samples, { raw: { width: side, height: side, channels: 1 } })
    .toColourspace('grey16')
    .png()
    .toBuffer();
  await row
    .getByLabel('Height picture of Ground')
    .setInputFiles({ name: 'cliff.png', mimeType: 'image/png', buffer });
  await expect(row.getByRole('button', { name: 'another picture' })).toBeVisible();
  const raised = await picture(page);
  // The right half stands half a metre up, where there was nothing behind the floor.
  expect(apart(raised(0.532, 0.435), flat(0.532, 0.435))).toBeGreaterThan(20);
  expect(apart(raised(0.468, 0.435), flat(0.468, 0.435))).toBeLessThan(3);
  await saved(page);
  const kept = await page.request.get(`/api/projects/${await playhouseId(page)}`);
  const { parts } = (await kept.json()) as {
    parts: { id: string; body: { props: { mesh: { picture: string } }[] } }[];
  };
  const sha = parts.find((each) => each.id === 'proscenium')!.body.props[0]!.mesh.picture;
  const heights = await (await page.request.get(`/api/blobs/${sha}/heights`)).body();
  expect([heights.readUInt32LE(0), heights.readUInt32LE(4)]).toEqual([side, side]);
  expect([0, 1, 31, 32].map((x) => heights.readUInt16LE(8 + x * 2))).toEqual([0, 1, 31, 65535]);
  expect((await page.request.get(`/api/blobs/${'0'.repeat(64)}/heights`)).status()).toBe(404);
  await undo(page);
  expect(apart((await picture(page))(0.532, 0.435), flat(0.532, 0.435))).toBeLessThan(2);
  await saved(page);
});

test('what is in hand is laid on what the pointer is over; several turn and grow about the last', async ({
  page,
}) => {
  const solid = (id: string, mesh: object, position: readonly number[]) => ({
    ...board(id, [1, 1], position),
    mesh,
  });
  await openWith(
    page,
    {
      props: [
        board('Floor', [8, 8], [0, 0, 0], { rotation: [-90, 0, 0] }),
        solid(
          'Table',
          { kind: 'box', size: [1, 0.8, 1], divisions: [1, 1, 1], pivot: [0.5, 0, 0.5] },
          [1, 0, 0],
        ),
        solid('Ball', { kind: 'sphere', radius: 0.2, divisions: [24, 16] }, [-0.8, 0.2, 0]),
        board('Peg', [0.1, 0.1], [-1.3, 0.2, 0]),
      ],
      camera: { position: [0, 1.5, 5], target: [0, 0.5, 0], fieldOfView: 40 },
    },
    false,
  );
  const stage = page.getByTestId('stage');
  const { x: left, y: top, width, height } = (await stage.boundingBox())!;
  /** Where a place of the world is on the page, by the camera’s own rule. */
  const seen = ([x, y, z]: readonly [number, number, number]): readonly [number, number] => {
    const [dy, dz] = [y - 1.5, z - 5];
    const size = Math.hypot(1, 5);
    const depth = (-1 * dy - 5 * dz) / size;
    const up = (5 * dy - 1 * dz) / size;
    const half = Math.tan((20 * Math.PI) / 180) * depth;
    return [left + width / 2 + (x / half) * (height / 2), top + height / 2 - (up / half) * (height / 2)];
  };
  const numbers = (prop: string, what: string) =>
    Promise.all(
      ['x', 'y', 'z'].map(async (axis) =>
        Number(
          await page
            .getByRole('spinbutton', { name: `${prop} ${what} ${axis}`, exact: true })
            .getAttribute('aria-valuenow'),
        ),
      ),
    );
  const stands = (prop: string, what: string, wanted: readonly number[], by: number) =>
    expect
      .poll(
        async () => apart(await numbers(prop, what), wanted),
        `${prop} ${what} is to be ${wanted.join(' ')}`,
      )
      .toBeLessThan(by);
  const drag = async (from: readonly [number, number], ...to: (readonly [number, number])[]) => {
    await page.mouse.move(...from);
    await page.mouse.down();
    for (const each of to) await page.mouse.move(...each, { steps: 4 });
    await page.mouse.up();
  };
  const row = (name: string) => page.getByRole('region', { name: `Prop ${name}` });
  await row('Peg').focus();
  await page.keyboard.press('Enter');
  await row('Ball').focus();
  await page.keyboard.press('Shift+Enter');
  await expect(stage).toHaveAttribute('data-hand', 'ready');
  await stage.focus();
  await page.keyboard.press('g');
  await expect(page.getByRole('button', { name: 'Lay', exact: true })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
  // Onto the middle of the table's top: it stands there on its lowest point, and the peg keeps its distance.
  await drag(seen([-0.8, 0.2, 0.15]), seen([0, 0, 1]), seen([1, 0.8, 0]));
  await stands('Ball', 'position', [1, 1, 0], 0.03);
  await stands('Peg', 'position', [0.5, 1, 0], 0.03);
  await undo(page);
  await stageRests(page);
  await stands('Ball', 'position', [-0.8, 0.2, 0], 1e-3);
  // Onto the table's front, by its side.
  await drag(seen([-0.8, 0.2, 0.15]), seen([1, 0.4, 0.5]));
  await stands('Ball', 'position', [1, 0.4, 0.7], 0.03);
  await undo(page);
  await stageRests(page);

  // A quarter turn by the ring about z, snapped: the peg goes round the ball and is turned as it is.
  await stage.focus();
  await page.keyboard.press('t');
  await page.keyboard.press('n');
  const away = Math.hypot(0.8, 1.3, 5);
  const ring = 0.5 * ((away * 1.9 * Math.tan((20 * Math.PI) / 180)) / 4) * 0.75;
  const around = [0, 30, 60, 90].map((degrees) => {
    const angle = ((degrees + 135) * Math.PI) / 180;
    return seen([-0.8 + ring * Math.cos(angle), 0.2 + ring * Math.sin(angle), 0]);
  });
  await drag(around[0]!, ...around.slice(1));
  await expect.poll(async () => Math.abs((await numbers('Ball', 'turn'))[2]!)).toBeGreaterThan(10);
  const [, , turn] = await numbers('Ball', 'turn');
  const angle = ((turn! + 180) * Math.PI) / 180;
  const place = [-0.8 + 0.5 * Math.cos(angle), 0.2 + 0.5 * Math.sin(angle), 0];
  await stands('Peg', 'position', place, 5e-3);
  await stands('Peg', 'turn', [0, 0, turn!], 0.01);
  await undo(page);
  await stageRests(page);
  await stands('Peg', 'position', [-1.3, 0.2, 0], 1e-3);
  await saved(page);
});

test('rough glass shows what is behind it blurred, as far as it is rough, and what is before it not at all', async ({
  page,
}) => {
  // Stripes of white and black behind a pane, 0.1 m each; the pane is the material that asks.
  await openWith(
    page,
    {
      props: [
        board('Stripes', [4, 4], [0, 1, -1], { material: 'velvet-house-left' }),
        board('Pane', [1.6, 1.6], [0, 1, 0]),
      ],
      camera: { position: [0, 1, 3], target: [0, 1, 0], fieldOfView: 40 },
    },
    false,
    { baseColor: 'sceneBlurred(screenUv, uv.y)', roughness: '1.0' },
    { baseColor: 'vec3(step(0.5, fract(uv.x * 20.0)))' },
  );
  const seen = await picture(page);
  const across = Array.from({ length: 40 }, (_, i) => 0.44 + i * 0.003);
  /** How far the stripes stand apart at a height of the picture. */
  const contrast = (y: number): number => {
    const greys = across.map((x) => seen(x, y)[0]!);
    return Math.max(...greys) - Math.min(...greys);
  };
  // Sharp at the pane's foot, blurred further up, even at its head; there it is the mean, as light.
  expect(contrast(0.76)).toBeGreaterThan(200);
  expect(contrast(0.5)).toBeLessThan(contrast(0.66));
  expect(contrast(0.17)).toBeLessThan(40);
  expect(Math.abs(seen(0.5, 0.17)[0]! - byte(0.5))).toBeLessThan(20);
  await saved(page);
});
