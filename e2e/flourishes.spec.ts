import { expect, type Page } from '@playwright/test';
import { layersAt } from '#core/time/layersAt.ts';
import type { StageDocument } from '#core/document/project.ts';
import { board, byte, openWith } from './plainSet.ts';
import { apart, picture } from './pixels.ts';
import { undo } from './score.ts';
import { COARSE, playhouseId, saved, stageRests, test } from './stage.ts';

test.use(COARSE);

const camera = { position: [0, 1, 4], target: [0, 1, 0], fieldOfView: 30 };
const row = (page: Page, name: string) => page.locator(`[data-flourish="${name}"]`);
const bar = (page: Page, name: string) => page.locator(`[data-layer="${name}"] [role=slider]`);
const scrub = async (page: Page, name: string, frames: number): Promise<void> => {
  await page.getByRole('tab', { name: 'Cues' }).click();
  await row(page, name).click();
  await page.getByRole('slider', { name: `Playhead of ${name}` }).focus();
  for (let i = 0; i < frames / 10; i += 1) await page.keyboard.press('Shift+ArrowRight');
};
const plain = { start: 0, life: 1, at: [0, 0, 0], rotation: [0, 0, 0], size: 1, spin: 0, values: [] };
const flat = (y: number): number[] => [0, y, 0, 0];
const flourish = (layers: readonly object[]) => ({
  ...{ id: 'f', name: 'f', at: [0, 1, 0], rotation: [0, 0, 0], play: 'once', seed: 3, starts: [], layers },
});
const card = { kind: 'card', size: [0.4, 0.4], divisions: [1, 1] };
/** Where a place on the plane z = 0 is on the picture, as shares of its width and height. */
const placeOn = async (page: Page, x: number, y: number): Promise<readonly [number, number]> => {
  const { width, height } = (await page.getByTestId('stage').boundingBox())!;
  const half = 4 * Math.tan((15 * Math.PI) / 180);
  return [0.5 + x / (2 * half * (width / height)), 0.5 - (y - 1) / (2 * half)];
};

test('each sprite and mesh tells its age, order and seed, and a ribbon its colour along it and its brightness', async ({
  page,
}) => {
  const set = {
    ...{ props: [], camera },
    flourishes: [
      flourish([
        {
          ...{ ...plain, id: 'band', name: 'Band', kind: 'ribbon', material: 'velvet-house-left' },
          ribbon: {
            ...{ from: { at: [-0.8, -0.5, 0], way: [0, 0, 0] }, to: { at: [0.8, -0.5, 0], way: [0, 0, 0] } },
            ...{
              segments: 32,
              width: 0.3,
              color: [0, 1, 0, 0, 1, 0, 0, 1],
              fade: [0, 1, -1, -1, 1, 0, -1, -1],
            },
          },
        },
        {
          ...{ ...plain, id: 'grains', name: 'Grains', kind: 'sprites', material: 'brass-work' },
          sprites: {
            ...{ count: 3, lasts: 1, speed: [0, 0], way: [0, 1, 0], spread: 0, size: 0.25, along: 'line' },
          },
        },
        {
          ...{ ...plain, id: 'line', name: 'Line', kind: 'ribbon', material: 'brass-work' },
          ribbon: {
            ...{ from: { at: [-0.8, 0, 0], way: [0, 0, 0] }, to: { at: [0.8, 0, 0], way: [0, 0, 0] } },
            ...{ segments: 8, width: 0 },
          },
        },
        {
          ...{ ...plain, id: 'sheet', name: 'Sheet', kind: 'mesh', material: 'brass-work', at: [0, 0.5, 0] },
          mesh: card,
        },
      ]),
    ],
  };
  await openWith(
    page,
    set,
    false,
    { baseColor: 'vec3(0.0)', emission: 'vec3(instanceAge, instanceOrder, float(instanceSeed) / 65536.0)' },
    { baseColor: 'vec3(0.0)', emission: 'vertexColor.rgb * vertexColor.a' },
  );
  await scrub(page, 'f', 10);
  const seen = await picture(page);
  const age = 1 / 3;
  const at = async (x: number, y: number) => seen(...(await placeOn(page, x, y)));
  const drawn = layersAt({ set: set as unknown as StageDocument, parametersOf: () => [] }, 'f', age);
  const seedOf = (id: string) => drawn.find(({ layer }) => layer === id)!.seed;
  for (const [i, x] of [-0.8, 0, 0.8].entries()) {
    const wanted = [age, i / 2, ((seedOf('grains') + i) % 65536) / 65536].map(byte);
    expect(
      apart(await at(x, 1), wanted),
      `sprite ${i}: ${String(await at(x, 1))}, not ${String(wanted)}`,
    ).toBeLessThan(2.5);
  }
  expect(apart(await at(0, 1.5), [age, 0, seedOf('sheet') / 65536].map(byte))).toBeLessThan(2.5);
  // A quarter of the way along it, two thirds as bright as at first; where nothing is, nothing is seen.
  const bright = 1 - age;
  expect(apart(await at(-0.4, 0.5), [0.75 * bright, 0, 0.25 * bright].map(byte))).toBeLessThan(4);
  expect(apart(await at(0.5, 1.5), await at(0, 1.5))).toBeGreaterThan(40);
  await saved(page);
});

test('layers of one material stand each at its own values, and the prop that wears it at its own', async ({
  page,
}) => {
  const id = await playhouseId(page);
  const { parts } = (await (await page.request.get(`/api/projects/${id}`)).json()) as {
    parts: {
      id: string;
      name: string;
      revision: number;
      body: { parameters: { id: string; scope?: string }[] };
    }[];
  };
  const shader = parts.find((each) => each.id === 'worn-brass')!;
  const [brass] = shader.body.parameters;
  const body = { ...shader.body, parameters: [{ ...brass!, scope: 'lifetime' }] };
  const put = await page.request.put(`/api/projects/${id}/parts/worn-brass`, {
    data: { name: shader.name, revision: shader.revision, body },
  });
  expect(put.status()).toBe(200);
  const own = (name: string, x: number, color: readonly number[]) => ({
    ...{ ...plain, id: name, name, kind: 'mesh', material: 'brass-work', at: [x, 0, 0.1], mesh: card },
    values: [{ parameter: brass!.id, curves: color.map(flat) }],
  });
  await openWith(
    page,
    {
      ...{ camera, props: [board('Wall', [3, 3], [0, 1, 0])] },
      flourishes: [flourish([own('Left', -0.5, [0.5, 0, 0, 0]), own('Right', 0.5, [0, 0.25, 0, 1])])],
    },
    false,
    { baseColor: 'vec3(0.0)', emission: 'brass.rgb' },
  );
  const wall = [0.86, 0.6, 0.24].map((c) => byte(c * 2 ** -0.4));
  const at = async (x: number) => (await picture(page))(...(await placeOn(page, x, 1)));
  expect(apart(await at(-0.5), wall)).toBeLessThan(2);
  await scrub(page, 'f', 10);
  expect(apart(await at(-0.5), [0.5, 0, 0].map(byte))).toBeLessThan(2);
  expect(apart(await at(0.5), [0, 0.5, 0].map(byte))).toBeLessThan(2);
  expect(apart(await at(0), wall)).toBeLessThan(2);
  await page.getByRole('button', { name: 'Let go' }).click();
  expect(apart(await at(0.5), wall)).toBeLessThan(2);
  await saved(page);
});

test('a flourish is made, named, layered, retimed, copied, hidden, played, deleted and undone', async ({
  page,
}) => {
  await openWith(page, { props: [board('Wall', [3, 3], [0, -0.5, -1])], camera }, false);
  await page.getByRole('tab', { name: 'Cues' }).click();
  await page.getByRole('button', { name: 'Add flourish' }).click();
  await expect(page.getByRole('textbox', { name: 'Name of the flourish' })).toBeFocused();
  await page.keyboard.type('sweep');
  await page.keyboard.press('Enter');
  await expect(row(page, 'sweep')).toContainText('1.00 s');
  for (const [item, name] of [
    ['a ribbon', 'Ribbon'],
    ['a mesh', 'Sweep'],
  ] as const) {
    await page.getByRole('button', { name: 'Add a layer to sweep' }).click();
    await page.getByRole('menuitem', { name: item }).click();
    await expect(bar(page, name)).toBeVisible();
  }
  // By keys: later by a frame, longer by ten, beside itself, hidden, gone.
  await bar(page, 'Sweep').focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Alt+Shift+ArrowRight');
  await expect(bar(page, 'Sweep')).toHaveAttribute('aria-valuetext', 'from 0.033 s, 1.33 s long');
  await page.keyboard.press('d');
  await expect(bar(page, 'Sweep 2')).toBeVisible();
  await bar(page, 'Sweep 2').focus();
  await page.keyboard.press('h');
  await expect(page.getByRole('button', { name: 'Show Sweep 2' })).toBeVisible();
  await page.keyboard.press('Delete');
  await expect(bar(page, 'Sweep 2')).toHaveCount(0);
  for (let i = 0; i < 3; i += 1) await undo(page);
  await expect(bar(page, 'Sweep 2')).toHaveCount(0);
  // By the mouse: its end dragged by half a second.
  const { x, y, width } = (await bar(page, 'Ribbon').boundingBox())!;
  await page.mouse.move(x + width - 2, y + 8);
  await page.mouse.down();
  await page.mouse.move(x + width + 128, y + 8, { steps: 3 });
  await page.mouse.up();
  await expect(bar(page, 'Ribbon')).toHaveAttribute('aria-valuetext', 'from 0.00 s, 1.50 s long');
  const layer = page.getByRole('group', { name: 'Layer in hand' });
  await layer.getByLabel('Name of the layer').fill('Band');
  await page.keyboard.press('Enter');
  await layer.getByLabel('Material of the layer').selectOption({ label: 'Brass work' });
  await expect(layer).toContainText('Its shader has no lifetime parameter');
  await layer.getByRole('button', { name: 'A curve for width along it' }).click();
  await expect(layer.getByRole('button', { name: /width along it: a curve of 2 keys/ })).toBeVisible();
  // Started by a key, it plays and ends; a rehearsal that stops leaves nothing of it.
  await page.getByRole('button', { name: 'Add a start' }).click();
  // Away from the wall's upper edge, which lies on the middle row and differs with the samples a busy machine leaves out.
  const seen = async () => {
    const at = await picture(page);
    return [0.4, 0.45, 0.55, 0.6].map((y) => at(0.5, y));
  };
  const none = await seen();
  await page.getByRole('button', { name: 'Rehearse' }).click();
  await page.keyboard.press('Space');
  await expect(row(page, 'sweep')).toContainText('plays at');
  await expect(row(page, 'sweep')).not.toContainText('plays at');
  await page.getByRole('button', { name: 'Stop', exact: true }).click();
  await stageRests(page);
  for (const [i, color] of (await seen()).entries()) expect(apart(color, none[i]!)).toBeLessThan(1);

  await row(page, 'sweep').focus();
  await page.keyboard.press('d');
  await expect(row(page, 'sweep 2')).toBeVisible();
  await row(page, 'sweep').press('Delete');
  await expect(row(page, 'sweep')).toHaveCount(0);
  await undo(page);
  await expect(row(page, 'sweep')).toBeVisible();
  await saved(page);
  await page.reload();
  await page.getByRole('tab', { name: 'Cues' }).click();
  await expect(bar(page, 'Band')).toHaveCount(2);
});
