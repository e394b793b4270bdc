import { readFileSync } from 'node:fs';
import { expect, type Locator, type Page } from '@playwright/test';
import { COARSE, figure, openCurtain, parameter, saved, stageRests, step, test } from './stage.ts';

test.use(COARSE);

/** Figures the stage keeps of itself: frames drawn and programs linked. */
const countsOf = async (page: Page): Promise<{ frames: number; links: number }> => {
  const { frames, links } = await page
    .getByTestId('stage')
    .evaluate((canvas) => ({ ...(canvas as HTMLElement).dataset }));
  return { frames: Number(frames ?? 0), links: Number(links ?? 0) };
};

/** The stage's picture, as figures: mean colour, and a hash that any change changes. */
const pictureOf = (page: Page): Promise<{ mean: number[]; hash: number }> =>
  page.getByTestId('stage').evaluate((element) => {
    const canvas = element as HTMLCanvasElement;
    const copy = document.createElement('canvas');
    copy.width = 200;
    copy.height = 100;
    const context = copy.getContext('2d')!;
    context.drawImage(canvas, 0, 0, 200, 100);
    const { data } = context.getImageData(0, 0, 200, 100);
    const mean = [0, 0, 0];
    let hash = 0;
    for (let i = 0; i < data.length; i += 4)
      for (let c = 0; c < 3; c += 1) {
        mean[c]! += data[i + c]! / 20000;
        hash = (Math.imul(hash, 31) + data[i + c]!) | 0;
      }
    return { mean, hash };
  });

const dragBy = async (page: Page, target: Locator, dx: number): Promise<void> => {
  const box = (await target.boundingBox())!;
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  for (let i = 1; i <= 8; i += 1) await page.mouse.move(x + (dx * i) / 8, y);
  await page.mouse.up();
};

test('the curtain burns on a stage laid out beside its parameters and its score', async ({ page }) => {
  const complaints: { readonly said: string; readonly of: string }[] = [];
  page.on('console', (message) => {
    if (message.type() === 'error') complaints.push({ said: message.text(), of: message.location().url });
  });
  page.on('pageerror', (error) => complaints.push({ said: String(error), of: '' }));
  await page.goto('/');
  await page.getByRole('link', { name: 'Open The Gallowglass Playhouse', exact: true }).click();
  await stageRests(page);
  const stage = (await page.getByTestId('stage').boundingBox())!;
  const panel = (await parameter(page, 'burn').boundingBox())!;
  const score = (await page.getByRole('tab', { name: 'Strands' }).boundingBox())!;
  expect(panel.x).toBeGreaterThan(stage.x + stage.width - 2);
  expect(score.y).toBeGreaterThan(stage.y + stage.height - 2);
  const { mean } = await pictureOf(page);
  expect(mean[0]!, 'embers and velvet are red').toBeGreaterThan(mean[2]! * 1.3);

  // Orbit, zoom, reset.
  const first = await pictureOf(page);
  await dragBy(page, page.getByTestId('stage'), 120);
  await page.mouse.wheel(0, 400);
  await stageRests(page);
  expect((await pictureOf(page)).hash).not.toBe(first.hash);
  await page.getByRole('button', { name: 'Reset the camera' }).click();
  await stageRests(page);
  expect((await pictureOf(page)).hash).toBe(first.hash);
  // On the wall other tests' playhouses come and go.
  const project = /\/projects\/([0-9a-f-]{36})/;
  const ours = project.exec(page.url())![1];
  expect(complaints.filter(({ of }) => [undefined, ours].includes(project.exec(of)?.[1]))).toEqual([]);
});

test('the surface is seen as its edges, and a changed program takes the place of the last', async ({
  page,
}) => {
  await openCurtain(page);
  const finished = await pictureOf(page);
  await page.getByRole('button', { name: 'Wire' }).click();
  await stageRests(page);
  const wire = await pictureOf(page);
  // Lines on dark faces: grey, and nothing of the picture is left.
  expect(Math.abs(wire.mean[0]! - wire.mean[2]!)).toBeLessThan(1);
  expect(wire.hash).not.toBe(finished.hash);
  await page.keyboard.press('Escape');
  await stageRests(page);
  expect((await pictureOf(page)).hash).toBe(finished.hash);

  const { links } = await countsOf(page);
  await page.getByRole('group', { name: 'power step' }).focus();
  await page.keyboard.press('m');
  await expect.poll(async () => (await countsOf(page)).links).toBe(links + 1);
  await stageRests(page);
  await page.keyboard.press('Control+z');
  await stageRests(page);
  expect((await pictureOf(page)).hash).toBe(finished.hash);
  await saved(page);
});

test('an idle stage draws nothing', async ({ page }) => {
  await openCurtain(page);
  const stays = async () => {
    const { frames } = await countsOf(page);
    await page.waitForTimeout(1500);
    expect((await countsOf(page)).frames).toBe(frames);
  };
  await stays();
  // What is counted of a view afterwards draws it no second time.
  await page.getByRole('button', { name: 'Depth' }).click();
  await stageRests(page);
  await stays();
  // Nor does what was saved for coming back.
  await parameter(page, 'burn').getByRole('spinbutton').focus();
  await page.keyboard.press('ArrowUp');
  await stageRests(page);
  const { frames } = await countsOf(page);
  await saved(page);
  await page.waitForTimeout(500);
  expect((await countsOf(page)).frames).toBe(frames);
});

test('dragging a number changes the picture and links no program', async ({ page }) => {
  await openCurtain(page);
  const before = await pictureOf(page);
  const { links } = await countsOf(page);
  const edge = step(page, 'remains-2').getByRole('spinbutton', { name: 'edge' });
  await dragBy(page, edge, 60);
  expect(Number(await edge.getAttribute('aria-valuenow'))).toBeGreaterThan(0.1);
  await stageRests(page);
  expect((await pictureOf(page)).hash).not.toBe(before.hash);
  expect((await countsOf(page)).links).toBe(links);

  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(edge).toHaveAttribute('aria-valuenow', '0');
  await stageRests(page);
  expect((await pictureOf(page)).hash).toBe(before.hash);
  await saved(page);
});

test('an expression is typed, a wrong one says what is wrong while the last good picture stays', async ({
  page,
}) => {
  await openCurtain(page);
  const card = step(page, 'front-2');
  const before = await pictureOf(page);
  const type = async (text: string) => {
    await card.locator('[data-argument="y"] .expression, [data-argument="y"] [role=spinbutton]').click();
    await card.getByRole('combobox', { name: 'y, an expression' }).fill(text);
    await card.getByRole('combobox', { name: 'y, an expression' }).press('Enter');
  };
  await type('mix(-edgeWidht, 1.0, burn)');
  const alert = page.getByRole('alert').filter({ hasText: 'edgeWidht' });
  await expect(alert).toContainText('Nothing is called “edgeWidht” here. Did you mean edgeWidth?');
  await stageRests(page);
  expect((await pictureOf(page)).hash, 'the last good picture').toBe(before.hash);
  await page.getByRole('button', { name: 'change to edgeWidth' }).click();
  await expect(page.getByRole('alert')).toHaveCount(0);

  const { links } = await countsOf(page);
  await type('mix(-edgeWidth, 1.0, burn * uv.x)');
  await expect.poll(async () => (await countsOf(page)).links).toBeGreaterThan(links);
  await stageRests(page);
  expect((await pictureOf(page)).hash).not.toBe(before.hash);
  // A name is completed by Tab; the field keeps the focus.
  await card.locator('[data-argument="y"] .expression').click();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('mix(-edgeW');
  await expect(page.getByRole('option', { name: 'edgeWidth float' })).toBeVisible();
  await page.keyboard.press('Tab');
  await page.keyboard.type(', 1.0, bur');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await page.keyboard.type(')');
  await page.keyboard.press('Enter');
  await stageRests(page);
  expect((await pictureOf(page)).hash).toBe(before.hash);
  // So it is where a number stood.
  const held = page.getByRole('group', { name: 'power step' });
  await held.locator('[data-argument="y"] [role=spinbutton]').click();
  await page.keyboard.type('edgeW');
  await expect(page.getByRole('option', { name: 'edgeWidth float' })).toBeVisible();
  await page.keyboard.press('Tab');
  await page.keyboard.press('Enter');
  await expect(held.locator('[data-argument="y"] .expression')).toHaveText('edgeWidth');
  await page.keyboard.press('Control+z');
  await saved(page);
});

test('a step is found in the palette, added, moved and deleted', async ({ page }) => {
  await openCurtain(page);
  const row = page.locator('[data-strand="remains"]');
  await row.getByRole('button', { name: 'Add a step to remains' }).click();
  await page.getByRole('combobox', { name: 'Search operators' }).fill('one minus');
  await page.keyboard.press('Enter');
  const words = () => row.locator('.word').allTextContents();
  await expect.poll(words).toEqual(['front', 'step', 'invert']);
  const added = row.getByRole('group', { name: 'invert step' });
  await expect(added.getByRole('img', { name: /Values from 0.00 to 1.00/ })).toBeVisible();
  await added.focus();
  await page.keyboard.press('Alt+ArrowLeft');
  await expect.poll(words).toEqual(['front', 'invert', 'step']);
  await row.getByRole('group', { name: 'invert step' }).focus();
  await page.keyboard.press('Delete');
  await expect.poll(words).toEqual(['front', 'step']);
  await saved(page);
});

test('a tap shows one step alone; Escape returns', async ({ page }) => {
  await openCurtain(page);
  const before = await pictureOf(page);
  await page.getByRole('button', { name: 'Tap step' }).first().click();
  await stageRests(page);
  const { mean } = await pictureOf(page);
  expect(Math.max(...mean) - Math.min(...mean), 'a mask is grey').toBeLessThan(1);
  await page.keyboard.press('Escape');
  await stageRests(page);
  expect((await pictureOf(page)).hash).toBe(before.hash);
});

test('a number is exposed as a parameter, driven from the panel and reset; it is there after a reload, and in the handover', async ({
  page,
}) => {
  await openCurtain(page);
  const card = step(page, 'ember-4');
  await card.hover();
  await card.getByRole('button', { name: 'Expose y as a parameter' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Name').fill('burn');
  await expect(dialog.getByRole('alert')).toContainText('used already');
  await dialog.getByLabel('Name').fill('falloff');
  await dialog.getByLabel('Greatest').fill('1');
  await expect(dialog.getByRole('alert')).toContainText('2.2 lies outside its range 0 to 1');
  await dialog.getByLabel('Greatest').fill('6');
  await dialog.getByLabel('Group').fill('Rim');
  await dialog.getByRole('button', { name: 'Expose' }).click();
  await expect(card).toContainText('falloff');
  const row = parameter(page, 'falloff');
  await stageRests(page);
  const before = await pictureOf(page);
  await row.getByRole('slider').focus();
  await page.keyboard.press('End');
  await expect.poll(() => figure(row)).toBe(6);
  await stageRests(page);
  expect((await pictureOf(page)).hash).not.toBe(before.hash);
  await row.getByRole('button', { name: 'Reset falloff' }).click();
  await expect.poll(() => figure(row)).toBe(2.2);
  const heat = parameter(page, 'heat').getByRole('spinbutton', { name: 'heat intensity' });
  await heat.click();
  await page.getByRole('textbox', { name: 'heat intensity' }).fill('9/2');
  await page.keyboard.press('Enter');
  await expect(heat).toHaveAttribute('aria-valuenow', '4.5');
  await saved(page);

  await page.reload();
  await expect(parameter(page, 'falloff')).toBeVisible();
  await expect(step(page, 'ember-4')).toContainText('falloff');
  await expect(parameter(page, 'heat').getByRole('spinbutton')).toHaveAttribute('aria-valuenow', '4.5');

  await page.getByRole('link', { name: 'Handover' }).click();
  const take = async (name: string): Promise<string> => {
    const download = page.waitForEvent('download');
    await page.getByRole('button', { name }).click();
    return readFileSync(await (await download).path(), 'utf8');
  };
  const fragment = await take('Fragment source');
  expect(fragment).toMatch(/^#version 300 es/);
  expect(fragment).toContain('// order: who burns first');
  expect(fragment).toContain('uniform float falloff;');
  expect(await take('Vertex source')).toContain('gl_Position');
  const contract = JSON.parse(await take('Parameter contract')) as {
    parameters: { name: string; min: number; max: number }[];
    materials: { name: string; uniforms: Record<string, number[]> }[];
  };
  expect(contract.parameters.find((each) => each.name === 'falloff')).toMatchObject({ min: 0, max: 6 });
  expect(contract.materials[0]!.uniforms['heat']![0]).toBeCloseTo(2 ** 4.5, 5);

  // The very source compiles in a browser, on its own.
  const trouble = await page.evaluate((source) => {
    const gl = document.createElement('canvas').getContext('webgl2')!;
    const shader = gl.createShader(gl.FRAGMENT_SHADER)!;
    gl.shaderSource(shader, source);
    gl.compileShader(shader);
    return gl.getShaderInfoLog(shader);
  }, fragment);
  expect(trouble ?? '').toBe('');
});

test('rehearsing: Space burns and flips mid-way, another key reseeds, stopping restores', async ({
  page,
}) => {
  await openCurtain(page);
  const burn = parameter(page, 'burn');
  const seed = parameter(page, 'seed');
  const authored = await figure(burn);
  const seeded = await figure(seed);
  await page.getByRole('button', { name: 'Rehearse' }).click();
  await page.keyboard.press('Space');
  await expect.poll(() => figure(burn)).toBeGreaterThan(authored + 0.1);
  await expect(burn).toContainText('Curtain');
  await page.keyboard.press('Space');
  await expect.poll(() => figure(burn)).toBe(0);
  await page.keyboard.press('KeyN');
  await expect.poll(() => figure(seed)).not.toBe(seeded);
  await page.keyboard.press('Space');
  await expect.poll(() => figure(burn)).toBe(1);
  // The one button that has its own keys.
  await page.getByRole('button', { name: 'Stop', exact: true }).focus();
  await page.keyboard.press('Space');
  await expect.poll(() => figure(burn)).toBe(authored);
  expect(await figure(seed)).toBe(seeded);
  await saved(page);
});

test('a project is made, renamed, deleted and brought back', async ({ page }) => {
  await page.goto('/');
  await page.getByRole('button', { name: 'New project' }).click();
  await page.getByLabel('Name of the project').fill('Understudy');
  await page.getByRole('button', { name: 'Make it' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Understudy');
  await stageRests(page);
  await page.getByRole('link', { name: 'All projects' }).click();
  const tile = page.getByRole('link', { name: 'Open Understudy' });
  await expect(tile.locator('img')).toBeVisible();
  const address = (await tile.getAttribute('href'))!;
  await tile.click();
  await stageRests(page);
  // Nothing was changed of what was drawn: its picture is there, and is not made again.
  const fetched: string[] = [];
  page.on('request', (request) => fetched.push(request.url()));
  await page.getByRole('link', { name: 'All projects' }).click();
  await expect(tile.locator('img')).toBeVisible();
  expect(fetched.filter((each) => each.endsWith(`/api${address}`))).toEqual([]);
  const remove = async () => {
    await page.getByRole('button', { name: 'More for Understudy' }).click();
    await page.getByRole('menuitem', { name: 'Delete' }).click();
    await expect(page.getByRole('link', { name: 'Open Understudy' })).toHaveCount(0);
  };
  await remove();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('link', { name: 'Open Understudy' })).toBeVisible();
  await remove();
});

test('what does not exist says so', async ({ page, request }) => {
  await page.goto('/projects/00000000-0000-4000-8000-000000000000');
  await expect(page.getByText('This project does not exist.')).toBeVisible();
  const answer = await request.get('/api/projects/not-a-project');
  expect(answer.status()).toBe(404);
  expect(await answer.json()).toEqual({ code: 'not-found', message: 'This project does not exist.' });
});
