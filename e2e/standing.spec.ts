import { expect, test, type Page } from '@playwright/test';
import { undo } from './score.ts';
import { openCurtain, playhouseId, leavePlayhouse, saved } from './stage.ts';
import { apart, picture } from './pixels.ts';

test.afterEach(leavePlayhouse);

interface Part {
  readonly id: string;
  readonly name: string;
  readonly revision: number;
  readonly body: object;
}
/** The playhouse with its first set made another: grey boards that shine by themselves, or are lit, as told. */
const openWith = async (page: Page, set: object, lit: boolean): Promise<void> => {
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
    surface: { ...surface, outputs: { baseColor: 'vec3(0.5, 0.25, 0.1)', roughness: '1.0' } },
  });
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
