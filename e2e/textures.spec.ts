import { readFileSync } from 'node:fs';
import { zlibSync } from 'fflate';
import sharp from 'sharp';
import { expect } from '@playwright/test';
import { partsOf, type Part } from '#core/document/project.ts';
import { bakedChanges } from '#core/edits/textureEdits.ts';
import { encodeExr } from '#core/images/encodeExr.ts';
import { undo } from './score.ts';
import { apart, picture } from './pixels.ts';
import { board, byte, openWith } from './plainSet.ts';
import { COARSE, openCurtain, parameter, playhouseId, saved, stageRests, test } from './stage.ts';
import { drawnAt, add, stale } from './imageSteps.ts';

test.use(COARSE);

test('a texture is made of steps, seen, renamed, copied, baked, read by a material, and all of it undone', async ({
  page,
}) => {
  await openCurtain(page);
  await page.getByRole('tab', { name: 'Textures' }).click();
  // What the playhouse came with was baked from what its textures are.
  await expect(page.locator('[data-texture="Seep masks"]')).toBeVisible();
  await expect(stale(page)).toHaveCount(0);
  // Only rows that can be seen are made: how far their numbers reach is told then.
  const reaches = (name: string) => page.getByLabel(`Texture ${name}`).getByTitle(/ to /);
  await expect(reaches('Cracked plaster')).not.toHaveCount(0);
  await expect(reaches('Whorl')).toHaveCount(0);
  await page.locator('[data-texture="Whorl"]').scrollIntoViewIfNeeded();
  await expect(reaches('Whorl')).toHaveCount(1);
  const project = await page.request.get(`/api/projects/${await playhouseId(page)}`);
  const { parts } = (await project.json()) as { parts: Part[] };
  const [textures, materials] = [partsOf({ parts }, 'texture'), partsOf({ parts }, 'material')];
  for (const each of textures)
    expect(bakedChanges(each, materials, each.body.baked!, each.body.bakedOf!), each.name).toEqual([]);
  await page.getByRole('button', { name: 'Add texture' }).click();
  const row = page.locator('[data-texture="Texture"]');
  await row.press('F2');
  await page.getByRole('textbox', { name: 'Name of the texture' }).fill('shimmer');
  await page.keyboard.press('Enter');
  await expect(page.locator('[data-texture="shimmer"]')).toBeVisible();
  // A ramp from black to white, in place of the noise it begins with.
  await page.getByRole('button', { name: 'noise of shimmer' }).press('Delete');
  await add(page, 'shimmer', 'ramp');
  await expect.poll(async () => (await drawnAt(page, 0.01, 0.5))[0]).toBeLessThan(10);
  expect((await drawnAt(page, 0.5, 0.5))[0]).toBeGreaterThan(120);
  await expect(page.getByTestId('seam')).toContainText(/left–right 100\.0 %/);
  // Where black meets white, sharpening goes beyond both: eight bits cut that, floats keep it.
  await expect(page.getByTestId('loss')).toHaveCount(0);
  await add(page, 'shimmer', 'sharpen');
  await expect(page.getByTestId('loss')).toContainText(/from −0\.\d+ to 1\.\d+: in 8 bits/);
  await page.getByRole('button', { name: 'Keep it as floats' }).click();
  await expect(page.getByTestId('loss')).toHaveCount(0);
  await expect(page.getByLabel('How finely shimmer is kept')).toHaveValue('32');
  await undo(page);
  await expect(page.getByTestId('loss')).toBeVisible();
  await undo(page);
  await add(page, 'shimmer', 'invert');
  await expect.poll(async () => (await drawnAt(page, 0.01, 0.5))[0]).toBeGreaterThan(245);
  await page.getByRole('button', { name: 'invert of shimmer' }).press('h');
  await expect.poll(async () => (await drawnAt(page, 0.01, 0.5))[0]).toBeLessThan(10);
  await undo(page);
  await add(page, 'shimmer', 'levels');
  await page.getByRole('spinbutton', { name: 'levels white', exact: true }).click();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('0.5');
  await page.keyboard.press('Enter');
  await expect.poll(async () => (await drawnAt(page, 0.4, 0.5))[0]).toBe(255);
  await page.getByRole('checkbox', { name: /hold/ }).uncheck();
  await expect(page.getByRole('button', { name: 'levels of shimmer' })).toContainText('hold off');
  await undo(page);
  // Moved before what was inverted it is another thing; a step is copied, and goes again.
  await page.getByRole('button', { name: 'levels of shimmer' }).press('Alt+ArrowLeft');
  await page.getByRole('button', { name: 'invert of shimmer' }).click();
  await expect.poll(async () => (await drawnAt(page, 0.6, 0.5))[0]).toBe(0);
  await undo(page);
  await page.getByRole('button', { name: 'levels of shimmer' }).press('d');
  await expect(page.getByRole('button', { name: 'levels of shimmer' })).toHaveCount(2);
  await undo(page);
  await expect(page.getByRole('button', { name: 'levels of shimmer' })).toHaveCount(1);
  await page.getByRole('button', { name: '3 × 3' }).click();
  await expect.poll(async () => (await drawnAt(page, 0.66, 0.5))[0]).toBeLessThan(20);
  // Sizes that are powers of two are a press away.
  await add(page, 'shimmer', 'resize');
  const offers = page.getByRole('group', { name: 'Powers of two for resize size' });
  await offers.getByRole('button', { name: '256 × 256' }).click();
  const width = page.getByRole('spinbutton', { name: 'resize size 1' });
  await expect(width).toHaveAttribute('aria-valuenow', '256');
  await expect(page.getByRole('button', { name: 'resize of shimmer' })).toContainText('size 256 256');
  await expect(offers.getByRole('button')).toHaveText(['128 × 128', '512 × 512']);
  await undo(page);
  await expect(width).toHaveAttribute('aria-valuenow', '512');
  await undo(page);

  // What changes a picture where there is none is told at its step, and what was before it is kept.
  await page.getByRole('button', { name: 'ramp of shimmer' }).press('Delete');
  await expect(
    page.getByRole('alert').filter({ hasText: 'there is none before it: begin with' }).first(),
  ).toBeVisible();
  await undo(page);
  await expect(page.getByRole('alert')).toHaveCount(0);

  // Baked, it is what a material reads; changed, it is baked by itself and the material has that.
  await page.getByRole('button', { name: 'Bake', exact: true }).click();
  await expect(page.getByText(/^shimmer was baked in/)).toBeVisible();
  const tab = (name: string) => page.getByRole('tab', { name }).click();
  await tab('Strands');
  await page.getByLabel('orderPicture: texture of the project').selectOption({ label: 'shimmer' });
  /** What the material reads now. */
  const read = async (): Promise<string | null> => {
    await tab('Strands');
    const src = await parameter(page, 'orderPicture').locator('img').getAttribute('src');
    await tab('Textures');
    return src;
  };
  const first = await read();
  await expect(page.getByText('Used by Velvet, house left.')).toBeVisible();
  const levels = page.getByRole('button', { name: 'levels of shimmer' });
  await levels.press('Delete');
  await expect.poll(read).not.toBe(first);
  await expect(stale(page)).toHaveCount(0);
  // That is no deed of its own: what is undone is the change, which bakes it anew.
  await undo(page);
  await expect(levels).toBeVisible();
  await expect.poll(read).toBe(first);
  // Where that is left to the author, it only says so.
  await page.getByRole('checkbox', { name: 'whenever it changes' }).uncheck();
  await levels.press('Delete');
  await expect(page.getByText('changed since it was baked')).toBeVisible();
  await saved(page);
  expect(await read()).toBe(first);
  await page.getByRole('button', { name: 'Bake again' }).click();
  await expect.poll(read).not.toBe(first);
  await expect(stale(page)).toHaveCount(0);
  await saved(page);
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'PNG, 16 bit' }).click();
  const file = readFileSync(await (await download).path());
  expect(await sharp(file).metadata()).toMatchObject({
    width: 512,
    height: 512,
    depth: 'ushort',
    channels: 1,
  });
  // Deleted, what it came to last is still read.
  await page.locator('[data-texture="shimmer"]').press('Delete');
  await expect(page.locator('[data-texture="shimmer"]')).toHaveCount(0);
  expect(await read()).toBeTruthy();
  await undo(page);
  await expect(page.locator('[data-texture="shimmer"]')).toBeVisible();
  await saved(page);
});

test('how a texture is read reaches the stage; where that is wrong a check says so, and mends it', async ({
  page,
}) => {
  await openCurtain(page);
  await page.getByLabel('Set on the stage').selectOption({ label: 'Footlight shimmer' });
  await stageRests(page);
  const spots = Array.from({ length: 40 }, (_, i) => [0.15 + i * 0.018, 0.3 + (i % 7) * 0.06] as const);
  const seen = async () => {
    const at = await picture(page);
    return spots.map(([x, y]) => at(x, y));
  };
  const before = await seen();
  await page.getByRole('tab', { name: 'Textures' }).click();
  await page.locator('[data-texture="Footlight shimmer"]').click();
  // A frame is dragged over what it is cut from, and levels on the histogram of what they are given.
  const crop = page.getByRole('button', { name: 'crop of Footlight shimmer' });
  await crop.click();
  await page.getByRole('button', { name: 'Frame', exact: true }).click();
  const corner = page.getByRole('slider', { name: 'Lower right of the frame' });
  await corner.press('ArrowLeft');
  await expect(crop).toContainText('frame 0.13 0.19 0.74 0.75');
  const { x, y, width } = (await corner.boundingBox())!;
  await page.mouse.move(x + width / 2, y + width / 2);
  await page.mouse.down();
  await page.mouse.move(x - 30, y - 30);
  await page.mouse.up();
  await expect(crop).not.toContainText('0.74 0.75');
  await undo(page);
  await undo(page);
  await expect(crop).toContainText('frame 0.13 0.19 0.75 0.75');
  await page.locator('[data-image-step="footlight-tile-7"]').click();
  await page.getByRole('slider', { name: 'black on the histogram' }).press('ArrowRight');
  await expect(page.getByRole('spinbutton', { name: 'levels black' })).toHaveText('0.13');
  await undo(page);
  await expect(stale(page)).toHaveCount(0);
  await page.getByRole('checkbox', { name: 'across' }).uncheck();
  await page.getByLabel('How Footlight shimmer is read').selectOption({ label: 'at the nearest texel' });
  await page.getByRole('button', { name: 'Bake again' }).click();
  await expect(page.getByText(/^Footlight shimmer was baked in/)).toBeVisible();
  await page.getByRole('tab', { name: 'Checks' }).click();
  await expect(page.getByText('rippleTile is read beyond its edges.')).toBeVisible();
  await expect(page.getByText('is read at its nearest texel, and rippleTile moves the place')).toBeVisible();
  await stageRests(page);
  const after = await seen();
  const changed = after.filter((each, i) => apart(each, before[i]!) > 2);
  expect(changed.length).toBeGreaterThan(5);
  await page.getByRole('button', { name: 'Mend Footlight shimmer' }).click();
  await expect(page.getByText('rippleTile is read beyond its edges.')).toHaveCount(0);
  await page.getByRole('tab', { name: 'Textures' }).click();
  // Nobody asks for it: it is baked whenever it changes.
  await expect(stale(page)).toHaveCount(0);
  await stageRests(page);
  await expect.poll(seen).toEqual(before);
  await saved(page);
});

test('seen small, colours are means of light, directions are one long, and what is kept in 16 bits is read so', async ({
  page,
}) => {
  /** A picture of stripes, a pixel each, as it is kept. */
  const kept = async (stripes: readonly (readonly number[])[], bits: 8 | 16 = 8): Promise<string> => {
    const side = 64;
    const pixels = Array.from({ length: side * side }, (_, i) => stripes[i % stripes.length]!).flat();
    const raw = { width: side, height: side, channels: 3 } as const;
    const data =
      bits === 8
        ? await sharp(Uint8Array.from(pixels), { raw }).png().toBuffer()
        : await sharp(Uint16Array.from(pixels), { raw }).toColourspace('rgb16').png().toBuffer();
    const headers = { 'content-type': 'application/octet-stream' };
    const answer = await page.request.post('/api/blobs', { data, headers });
    expect(answer.ok(), await answer.text()).toBe(true);
    return ((await answer.json()) as { sha256: string }).sha256;
  };
  const floats = async (x: number): Promise<string> => {
    const image = { width: 8, height: 8, data: new Float32Array(256).map((_, i) => (i % 4 === 3 ? 1 : x)) };
    const headers = { 'content-type': 'application/octet-stream' };
    const data = Buffer.from(encodeExr(image, zlibSync));
    const answer = await page.request.post('/api/blobs', { data, headers });
    expect(answer.ok(), await answer.text()).toBe(true);
    const cut = await page.request.post('/api/blobs', { data: data.subarray(0, data.length - 20), headers });
    expect([cut.status(), ((await cut.json()) as { message: string }).message]).toEqual([
      422,
      'This picture is damaged or cut short; it cannot be read to its end.',
    ]);
    return ((await answer.json()) as { sha256: string }).sha256;
  };
  const pictures = {
    asLight: await kept([
      [255, 255, 255],
      [0, 0, 0],
    ]),
    asNumbers: await kept([
      [255, 255, 255],
      [0, 0, 0],
    ]),
    ways: await kept([
      [255, 128, 128],
      [128, 128, 255],
    ]),
    fine: await kept([[30000, 30000, 30000]], 16),
    bright: await floats(2.5),
  };
  const usual = { repeats: [true, true], filter: 'linear' };
  const id = await playhouseId(page);
  const { parts } = (await (await page.request.get(`/api/projects/${id}`)).json()) as {
    parts: { id: string; name: string; revision: number; body: object }[];
  };
  const put = async (part: string, more: object) => {
    const { name, revision, body } = parts.find((each) => each.id === part)!;
    const data = { name, revision, body: { ...body, ...more } };
    const answer = await page.request.put(`/api/projects/${id}/parts/${part}`, { data });
    expect(answer.status(), await answer.text()).toBe(200);
  };
  const told = { default: [], min: 0, max: 0, unit: '', group: '', description: '' };
  const byId = <T>(kept: Readonly<Record<string, T>>) =>
    Object.fromEntries(Object.entries(kept).map(([name, each]) => [`p-${name}`, each]));
  await put('worn-brass', {
    parameters: Object.keys(pictures).map((name) => ({ ...told, id: `p-${name}`, name, kind: 'texture' })),
  });
  await put('brass-work', {
    ...{ values: {}, presets: [], pictures: byId(pictures) },
    sampling: byId({
      asLight: { ...usual, holds: 'color' },
      ways: { ...usual, holds: 'directions' },
      fine: { ...usual, bits: 16 },
      bright: { ...usual, bits: 32 },
    }),
  });
  // A metre of the board is some hundred pixels: a pixel is many stripes. The fine one is told by what no eighth bit has.
  const read = (name: string): string => `texture(${name}, uv * 40.0).rgb`;
  await openWith(
    page,
    {
      props: [board('Board', [2, 2], [0, 1, 0])],
      camera: { position: [0, 1, 4], target: [0, 1, 0], fieldOfView: 40 },
    },
    false,
    {
      baseColor: 'vec3(0.0)',
      emission: `uv.x < 0.25 ? ${read('asLight')} : uv.x < 0.5 ? ${read('asNumbers')} : uv.x < 0.75 ? ${read('ways')} : uv.y < 0.25 ? texture(bright, uv).rgb * 0.2 : fract(texture(fine, uv).rgb * 255.0)`,
    },
  );
  await stageRests(page);
  const at = await picture(page);
  const box = (await page.getByTestId('stage').boundingBox())!;
  const side = 2 / (8 * Math.tan((20 * Math.PI) / 180));
  const across = (u: number): number => 0.5 + (u - 0.5) * side * (box.height / box.width);
  const srgbOfHalf = 1.055 * 0.5 ** (1 / 2.4) - 0.055;
  const half = Math.SQRT1_2 * 0.5 + 0.5;
  for (const [u, wanted] of [
    [0.125, [srgbOfHalf, srgbOfHalf, srgbOfHalf]],
    [0.375, [0.5, 0.5, 0.5]],
    [0.625, [half, 0.5, half]],
    [0.875, [(30000 / 65535) * 255 - 116, (30000 / 65535) * 255 - 116, (30000 / 65535) * 255 - 116]],
  ] as const) {
    const shown = at(across(u), 0.5);
    wanted.forEach((x, c) => expect(Math.abs(shown[c]! - byte(x)), `at ${u}: ${shown}`).toBeLessThan(4));
  }
  // Floats beyond white are read as they are, and can be seen where a page shows them.
  expect(Math.abs(at(across(0.875), 0.5 + 0.4 * side)[0]! - byte(0.5))).toBeLessThan(3);
  const shown = await page.request.get(`/api/blobs/${pictures.bright}`, {
    headers: { accept: 'image/webp,*/*' },
  });
  expect(shown.headers()['content-type']).toBe('image/png');
  await saved(page);
});
