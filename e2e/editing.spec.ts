import { expect, type Page } from '@playwright/test';
import { playhouse } from '#demo/playhouse.ts';
import type { ScriptDocument } from '#core/document/project.ts';
import { COARSE, figure, openCurtain, parameter, saved, stageRests, step, test } from './stage.ts';

test.use(COARSE);

const wordsOf = (page: Page, strand: string) => () =>
  page.locator(`[data-strand="${strand}"] .word`).allTextContents();
const strands = (page: Page) => () =>
  page.locator('[data-strand]').evaluateAll((rows) => rows.map((row) => row.getAttribute('data-strand')));
const focused = (page: Page) => () =>
  page.evaluate(() => document.activeElement?.getAttribute('data-step') ?? null);

test('the whole score by keyboard', async ({ page }) => {
  await openCurtain(page);
  await step(page, 'order-1').focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowDown');
  await expect.poll(focused(page)).toBe('front-2');
  await page.keyboard.press('ArrowDown');
  await expect.poll(focused(page)).toBe('remains-2');

  // A card is one stop; Enter goes into it, Escape comes back.
  await page.keyboard.press('Shift+Tab');
  await expect.poll(focused(page)).toBe('remains-1');
  await page.keyboard.press('Tab');
  await page.keyboard.press('Enter');
  await expect.poll(focused(page)).toBe(null);
  await page.keyboard.press('Escape');
  await expect.poll(focused(page)).toBe('remains-2');
  await page.keyboard.press('Tab');
  await expect(page.getByRole('button', { name: 'Add a step to remains' })).toBeFocused();
  await page.keyboard.press('Shift+Tab');
  await expect.poll(focused(page)).toBe('remains-2');

  // Add by typing, before and after.
  await page.keyboard.press('a');
  await page.getByRole('combobox', { name: 'Search operators' }).pressSequentially('one minus');
  await page.keyboard.press('Enter');
  await expect.poll(wordsOf(page, 'remains')).toEqual(['front', 'step', 'invert']);
  await expect(page.getByRole('group', { name: 'invert step' })).toBeFocused();
  await step(page, 'remains-2').focus();
  await page.keyboard.press('i');
  await page.getByRole('combobox', { name: 'Search operators' }).pressSequentially('abs');
  await page.keyboard.press('Enter');
  await expect.poll(wordsOf(page, 'remains')).toEqual(['front', 'abs', 'step', 'invert']);
  await expect(page.getByRole('group', { name: 'abs step' })).toBeFocused();
  await page.keyboard.press('m');
  await expect(page.getByRole('group', { name: 'abs step, muted' })).toBeFocused();
  await page.keyboard.press('d');
  await expect.poll(wordsOf(page, 'remains')).toEqual(['front', 'abs', 'abs', 'step', 'invert']);
  for (let i = 0; i < 4; i += 1) await page.keyboard.press('Control+z');
  await expect.poll(wordsOf(page, 'remains')).toEqual(['front', 'step']);
  await page.keyboard.press('Control+Shift+z');
  await expect.poll(wordsOf(page, 'remains')).toEqual(['front', 'step', 'invert']);
  await page.keyboard.press('Control+z');

  // Strands: new, rename with its uses, move, refuse to delete while used, delete.
  await step(page, 'fringe-1').focus();
  await page.keyboard.press('n');
  await expect.poll(strands(page)).toContain('strand1');
  await page.keyboard.press('F2');
  await page.getByRole('textbox', { name: 'Name of the strand' }).fill('order');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert').filter({ hasText: 'used already' })).toBeVisible();
  await page.getByRole('textbox', { name: 'Name of the strand' }).fill('char');
  await page.keyboard.press('Enter');
  await expect.poll(strands(page)).toContain('char');
  await page.locator('[data-strand="char"] [data-step]').focus();
  await page.keyboard.press('Alt+ArrowUp');
  await expect.poll(async () => (await strands(page)()).indexOf('char')).toBe(6);
  await page.keyboard.press('Shift+Delete');
  await expect.poll(strands(page)).not.toContain('char');
  await step(page, 'order-1').focus();
  await page.keyboard.press('Shift+Delete');
  await expect(page.getByRole('alert').filter({ hasText: 'order is used by front' })).toBeVisible();
  await saved(page);
});

test('every command by name, and a page of keys', async ({ page }) => {
  await openCurtain(page);
  await page.keyboard.press('Control+k');
  await page.getByRole('combobox', { name: 'Search commands' }).fill('go to ember');
  await page.keyboard.press('Enter');
  await expect.poll(focused(page)).toBe('ember-1');
  await page.keyboard.press('Control+k');
  await page.getByRole('combobox', { name: 'Search commands' }).fill('add step wave');
  await page.keyboard.press('Enter');
  await expect.poll(async () => (await wordsOf(page, 'ember')())[1]).toBe('wave');
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await wordsOf(page, 'ember')())[1]).toBe('remap');
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toContainText('every command by name');
  await page.keyboard.press('Escape');
  await saved(page);
});

test('steps and strands are dragged to another place', async ({ page }) => {
  await openCurtain(page);
  await step(page, 'ember-3')
    .locator('.word')
    .dragTo(step(page, 'ember-2'), { targetPosition: { x: 6, y: 30 } });
  await expect
    .poll(async () => (await wordsOf(page, 'ember')()).slice(0, 3))
    .toEqual(['front', 'clamp', 'remap']);
  await page.keyboard.press('Control+z');
  await expect
    .poll(async () => (await wordsOf(page, 'ember')()).slice(0, 3))
    .toEqual(['front', 'remap', 'clamp']);
  await saved(page);
});

test('numbers: fine drag, keys, sums; an angle wraps; bad text is refused where it stands', async ({
  page,
}) => {
  await openCurtain(page);
  const edge = step(page, 'remains-2').getByRole('spinbutton', { name: 'edge' });
  const box = (await edge.boundingBox())!;
  await page.keyboard.down('Shift');
  await page.mouse.move(box.x + 4, box.y + 4);
  await page.mouse.down();
  await page.mouse.move(box.x + 34, box.y + 4, { steps: 5 });
  await page.mouse.up();
  await page.keyboard.up('Shift');
  const fine = Number(await edge.getAttribute('aria-valuenow'));
  expect(fine).toBeGreaterThan(0.005);
  expect(fine).toBeLessThan(0.03);
  await page.getByRole('button', { name: 'Undo' }).click();

  await parameter(page, 'burn').getByRole('spinbutton').click();
  const typed = page.getByRole('textbox', { name: 'burn figure' });
  await typed.fill('lots');
  await page.keyboard.press('Enter');
  await expect(typed).toHaveAttribute('aria-invalid', 'true');
  await typed.fill('3/8');
  await page.keyboard.press('Enter');
  await expect.poll(() => figure(parameter(page, 'burn'))).toBe(0.375);
  await page.getByRole('button', { name: 'Undo' }).click();
  await saved(page);
});

const writeScript = async (page: Page, source: string): Promise<void> => {
  const editor = page.getByRole('textbox', { name: 'Script' });
  await editor.click();
  await page.keyboard.press('Control+a');
  await page.evaluate((text) => document.execCommand('insertText', false, text), source);
};

test('scripts: a wrong name, an endless loop, a swap while rehearsing, and keeping what was found', async ({
  page,
}) => {
  await openCurtain(page);
  await page.getByRole('tab', { name: 'Script' }).click();
  await writeScript(page, "const c = material('Velvet, house left');\nc.brun = 1;");
  await page.getByRole('button', { name: 'Rehearse' }).click();
  const log = page.getByRole('log');
  await expect(log).toContainText('Line 2: “Velvet, house left” has no parameter “brun”. Did you mean burn?');

  // A changed script takes its place while rehearsing.
  await writeScript(
    page,
    "const c = material('Velvet, house left');\nonTick(() => { c.burn = 0.25; c.heat = [0, 1, 0, 3]; });",
  );
  await expect.poll(() => figure(parameter(page, 'burn'))).toBe(0.25);
  await page.getByRole('button', { name: 'Keep', exact: true }).click();
  await writeScript(page, 'onTick(() => {\n  let n = 0;\n  while (true) n += 1;\n});');
  await expect(log).toContainText('Line 3: This ran for more than 200 ms');
  await page.getByRole('button', { name: 'Stop', exact: true }).click();
  expect(await figure(parameter(page, 'burn')), 'kept').toBe(0.25);
  await expect(
    parameter(page, 'heat').getByRole('button', { name: /heat: linear 0.000, 1.000, 0.000/ }),
  ).toBeVisible();

  // Names complete themselves.
  await writeScript(page, "const c = material('Velvet, house left');\nc.");
  await page.keyboard.type('ed');
  await expect(page.locator('.cm-tooltip-autocomplete')).toContainText('edgeWidth');
  await page.keyboard.press('Escape');

  // The playhouse gets its own script back, for whoever rehearses next.
  const curtain = playhouse().parts.find((part) => part.id === 'curtain')!;
  await writeScript(page, (curtain.body as ScriptDocument).source);
  await saved(page);
});

test('the panes can be resized, and both themes are remembered', async ({ page }) => {
  await openCurtain(page);
  const stage = page.getByTestId('stage');
  const before = (await stage.boundingBox())!;
  const edge = page.getByLabel('Height of the stage');
  const box = (await edge.boundingBox())!;
  await page.mouse.move(box.x + 300, box.y);
  await page.mouse.down();
  await page.mouse.move(box.x + 300, box.y - 90, { steps: 4 });
  await page.mouse.up();
  await expect.poll(async () => (await stage.boundingBox())!.height).toBeLessThan(before.height - 60);
  await page.getByRole('button', { name: 'Blackout theme' }).click();
  await page.reload();
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'blackout');
  await expect.poll(async () => (await stage.boundingBox())!.height).toBeLessThan(before.height - 60);
  await stageRests(page);
});
