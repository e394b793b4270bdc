import { expect } from '@playwright/test';
import { emptyMotif } from '#core/document/motif.ts';
import { sketchShader } from '#core/document/sketch.ts';
import { COARSE, openCurtain, openProject, saved, stageRests, step, test } from './stage.ts';
import { undo, show, rangeOf, addStep } from './score.ts';

test.use(COARSE);

test('the palette knows other words, what a shader is given, and what each costs', async ({ page }) => {
  await openCurtain(page);
  await page.getByRole('button', { name: 'Add a step to remains' }).click();
  const search = page.getByRole('combobox', { name: 'Search operators' });
  const first = page.getByRole('listbox', { name: 'Operators' }).getByRole('option').first();
  for (const [wanted, name] of [
    ['fresnel', 'facing'],
    ['world position', 'position'],
    ['voronoi', 'worley'],
    ['custom', 'code'],
  ] as const) {
    await search.fill(wanted);
    await expect(first).toContainText(name);
    await expect(search).toHaveAttribute('aria-activedescendant', (await first.getAttribute('id'))!);
  }
  await search.fill('worley3');
  await expect(page.getByRole('dialog').or(page.locator('.popup'))).toContainText(/about \d+ operations/);
  await search.fill('camera distance');
  await page.keyboard.press('Enter');
  const card = page.getByRole('group', { name: /Distance.* step|distanceFalloff step|cameraDistance step/ });
  await expect(card).toBeVisible();
  await undo(page);
  await saved(page);
});

test('what a shader is given is right: the camera stands metres away, and choices choose', async ({
  page,
}) => {
  await openCurtain(page);
  await addStep(page, 'remains', 'cameraDistance');
  const card = page.locator('[data-strand="remains"] [data-step]').last();
  const id = (await card.getAttribute('data-step'))!;
  await expect.poll(async () => (await rangeOf(page, id))[0]).toBeGreaterThan(2.5);
  expect((await rangeOf(page, id))[1]).toBeLessThan(6);
  await undo(page);

  // A choice is settled when the shader is compiled, and undone like anything else.
  // At its default it stands on the card only where the card is chosen.
  await step(page, 'order-1').focus();
  const result = step(page, 'order-1').getByRole('combobox', { name: 'result' });
  const before = await rangeOf(page, 'order-1');
  await result.selectOption('second');
  await expect.poll(async () => (await rangeOf(page, 'order-1'))[0]).toBeGreaterThan(before[0] + 0.1);
  await undo(page);
  await expect(result).toHaveValue('nearest');
  await saved(page);
});

test('the handover gives WGSL and bindings too, and says what the game must do', async ({ page }) => {
  // The shader that was worked on is the one that is handed over.
  await openCurtain(page);
  await show(page, 'Bell at midnight');
  await page.getByRole('link', { name: 'Handover' }).click();
  await expect(page.getByLabel('Shader')).toHaveValue('bell-swing');
  await expect(page.getByRole('cell', { name: /lifetime\[0\]\.xyz/ })).toBeVisible();
  await expect(page.getByText('drives -14 … 6')).toBeVisible();
  await page.getByRole('tab', { name: 'WGSL' }).click();
  await expect(page.getByTestId('source')).toContainText('fn fragmentMain(');
  await page.getByRole('tab', { name: 'Bindings' }).click();
  await expect(page.getByTestId('source')).toContainText('export interface BellSwingValues');
  for (const name of ['WGSL', 'Bindings']) {
    const download = page.waitForEvent('download');
    await page.getByRole('button', { name }).click();
    expect((await download).suggestedFilename()).toMatch(/^bell-swing\.(wgsl|ts)$/);
  }
});

test('parts are added and taken out with every refusal a code and a sentence', async ({ request }) => {
  const { id } = (await (await request.post('/api/projects', { data: { name: 'Workroom' } })).json()) as {
    id: string;
  };
  const path = `/api/projects/${id}/parts`;
  const motif = { id: 'near', kind: 'motif', name: 'Near', body: emptyMotif() };
  const made = await request.post(path, { data: motif });
  expect([made.status(), ((await made.json()) as { revision: number }).revision]).toEqual([201, 1]);
  for (const [data, status, code] of [
    [motif, 409, 'conflict'],
    [{ ...motif, id: '../x' }, 422, 'invalid'],
    [{ ...motif, id: 'b', kind: 'spell' }, 422, 'invalid'],
    [{ ...motif, id: 'b', body: { format: 'wicked-veil/motif', version: 9 } }, 422, 'invalid'],
    [{ ...motif, id: 'b', name: '' }, 422, 'invalid'],
  ] as const) {
    const answer = await request.post(path, { data });
    expect([answer.status(), ((await answer.json()) as { code: string }).code]).toEqual([status, code]);
  }
  const user = sketchShader({ a: [{ operator: 'motif', motif: 'near', arguments: {} }] });
  await request.post(path, { data: { id: 'user', kind: 'shader', name: 'User', body: user } });
  const refused = await request.delete(`${path}/near`);
  expect(refused.status()).toBe(409);
  expect(await refused.json()).toMatchObject({
    code: 'in-use',
    users: ['User'],
    message: '“Near” is used by User; take it out there first.',
  });
  expect((await request.delete(`${path}/user`)).status()).toBe(200);
  expect((await request.delete(`${path}/near`)).status()).toBe(200);
  expect((await request.delete(`${path}/near`)).status()).toBe(404);
});

test('forty strands: only what is in sight has its pictures drawn, and scrolling brings the rest', async ({
  page,
  request,
}) => {
  const { id } = (await (await request.post('/api/projects', { data: { name: 'Forty' } })).json()) as {
    id: string;
  };
  const strands = Object.fromEntries(
    Array.from({ length: 40 }, (_, i) => [
      `row${i}`,
      [['value', { x: `uv.x * ${i}.0` }], ['fract'], ['invert']] as const,
    ]),
  );
  const shader = sketchShader(strands, { baseColor: 'vec3(row39)' });
  const { revision } = { revision: 1 };
  await request.put(`/api/projects/${id}/parts/shader`, {
    data: { revision, name: 'Forty strands', body: shader },
  });
  await openProject(page, id);
  await stageRests(page);
  const barOf = (row: number) => page.locator(`[data-step="row${row}-1"]`).getByRole('img');
  await expect(barOf(1)).toHaveAttribute('aria-label', /from/);
  await expect(barOf(39)).toHaveAttribute('aria-label', 'Values not drawn yet');
  await barOf(39).scrollIntoViewIfNeeded();
  await expect(barOf(39)).toHaveAttribute('aria-label', /from/);
});
