import { expect } from '@playwright/test';
import { COARSE, openCurtain, saved, step, test } from './stage.ts';
import { wordsOf, undo, rangeOf, addStep } from './score.ts';

test.use(COARSE);

test('strands fold into a motif; edited once, all users follow; a used one is not deleted; a use unfolds', async ({
  page,
}) => {
  await openCurtain(page);
  const before = await rangeOf(page, 'remains-2');
  await page.getByTitle('What to do with front').click();
  await page.getByRole('menuitem', { name: 'Fold into a motif…' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('textbox', { name: 'Name' }).fill('Flame front');
  await expect(dialog).toContainText('order: float');
  await expect(dialog).toContainText('→ front');
  await dialog.getByRole('button', { name: 'Fold' }).click();
  const use = page.getByRole('group', { name: 'Flame front step' });
  await expect(use).toBeVisible();
  await expect.poll(() => rangeOf(page, 'remains-2')).toEqual(before);
  // Motif and shader were one deed, on the server too.
  await undo(page);
  await expect.poll(wordsOf(page, 'front')).toEqual(['order', 'subtract']);
  await page.getByRole('button', { name: 'Motifs' }).click();
  await expect(page.getByRole('menuitem', { name: 'New motif' })).toBeVisible();
  await expect(page.getByRole('menuitem', { name: /Flame front/ })).toHaveCount(0);
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+Shift+z');

  await use.focus();
  await page.keyboard.press('o');
  await page.getByTestId('open-motif').click();
  await page.keyboard.type('Fire line');
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('open-motif')).toHaveText('Fire line');
  await undo(page);
  await expect(page.getByTestId('open-motif')).toHaveText('Flame front');
  await expect(page.getByText('used by Curtain burn-away')).toBeVisible();
  await expect.poll(wordsOf(page, 'front')).toEqual(['value', 'subtract']);
  await addStep(page, 'front', 'add');
  const added = page.locator('[data-strand="front"] [data-step]').last();
  await added.getByRole('spinbutton', { name: 'y' }).click();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('9');
  await page.keyboard.press('Enter');
  await saved(page);
  // It is checked by itself while it is open, and what is answered is kept with it.
  await addStep(page, 'front', 'divide');
  await page
    .locator('[data-strand="front"] [data-step]')
    .last()
    .getByRole('spinbutton', { name: 'y' })
    .click();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('0');
  await page.keyboard.press('Enter');
  await page.getByRole('tab', { name: /^Checks/ }).click();
  const found = page.locator('[data-check="not-a-number"]', { hasText: 'Flame front' });
  await expect(found).toContainText('divide in front');
  await found.getByRole('button', { name: 'Leave it…' }).click();
  await page.getByLabel('Why it stays as it is').fill('For a moment.');
  await page.keyboard.press('Enter');
  await expect(found).toHaveCount(0);
  await undo(page);
  await found.getByRole('button').first().click();
  await expect(page.getByRole('group', { name: 'divide step' })).toBeFocused();
  await undo(page);
  await undo(page);

  // A used motif cannot be deleted, and names its users.
  await page.getByRole('button', { name: 'Motifs' }).click();
  await page.getByRole('menuitem', { name: 'Delete Flame front' }).click();
  await expect(page.getByText('“Flame front” is used by Curtain burn-away')).toBeVisible();
  await page.getByRole('button', { name: 'Back to the shader' }).click();
  await expect.poll(async () => (await rangeOf(page, 'remains-2'))[0]).toBe(1);

  // Unfolded, it is strands again; then the motif may go, and come back.
  await page.getByRole('group', { name: 'Flame front step' }).focus();
  await page.keyboard.press('Shift+U');
  await expect(page.getByRole('group', { name: 'Flame front step' })).toHaveCount(0);
  await saved(page);
  await page.getByRole('button', { name: 'Motifs' }).click();
  await page.getByRole('menuitem', { name: /Flame front/ }).click();
  await page.getByRole('button', { name: 'Motifs' }).click();
  await page.getByRole('menuitem', { name: 'Delete Flame front' }).click();
  await expect(page.getByText('Flame front is deleted.')).toBeVisible();
  await expect(page.getByTestId('open-motif')).toHaveCount(0);
  // Back all the way: the deletion, the unfolding, two edits of the motif, the fold.
  await undo(page);
  await page.getByRole('button', { name: 'Motifs' }).click();
  await expect(page.getByRole('menuitem', { name: /Flame front/ })).toBeVisible();
  await page.keyboard.press('Escape');
  for (let i = 0; i < 4; i += 1) await undo(page);
  await expect.poll(wordsOf(page, 'front')).toEqual(['order', 'subtract']);
  await expect.poll(() => rangeOf(page, 'remains-2')).toEqual(before);
  await saved(page);
});

test('a motif never goes in a circle: its own palette leaves it out', async ({ page }) => {
  await openCurtain(page);
  await page.getByRole('button', { name: 'Motifs' }).click();
  await page.getByRole('menuitem', { name: /Near and far/ }).click();
  await page.getByRole('button', { name: 'Add a step to away' }).click();
  await page.getByRole('combobox', { name: 'Search operators' }).fill('near and far');
  await expect(page.getByRole('option', { name: /Near and far/ })).toHaveCount(0);
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Back to the shader' }).click();
  await addStep(page, 'remains', 'near and far');
  await expect(page.getByRole('group', { name: 'Near and far step' })).toBeVisible();
  await page.getByLabel('gives').selectOption('close');
  await undo(page);
  await undo(page);
  await saved(page);
});

test('steps fold into an expression and unfold, with the same picture', async ({ page }) => {
  await openCurtain(page);
  const before = await rangeOf(page, 'ember-4');
  const words = await wordsOf(page, 'ember')();
  await step(page, 'ember-4').focus();
  await page.keyboard.press('f');
  await expect.poll(async () => (await wordsOf(page, 'ember')())[0]).toBe('value');
  const folded = page.locator('[data-strand="ember"] [data-step]').first();
  await expect(folded.getByTitle('clamp(remap(')).toBeVisible();
  const id = (await folded.getAttribute('data-step'))!;
  await expect.poll(() => rangeOf(page, id)).toEqual(before);
  await page.keyboard.press('u');
  await expect.poll(async () => (await wordsOf(page, 'ember')()).length).toBeGreaterThan(3);
  await undo(page);
  await undo(page);
  await expect.poll(wordsOf(page, 'ember')).toEqual(words);
  await step(page, 'order-1').focus();
  await page.keyboard.press('u');
  await expect(page.getByText('Only an expression at the head of its strand can be unfolded.')).toBeVisible();
  await saved(page);
});

test('several steps are chosen, copied as text and pasted; notes, collapsing, definition and uses', async ({
  page,
  context,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await openCurtain(page);
  await step(page, 'ember-2').focus();
  await page.keyboard.press('Shift+ArrowRight');
  await expect(page.locator('.card.chosen')).toHaveCount(2);
  await page.keyboard.press('Control+c');
  await expect(page.getByText('2 steps copied')).toBeVisible();
  const text = await page.evaluate(() => navigator.clipboard.readText());
  expect((JSON.parse(text) as { format: string }).format).toBe('wicked-veil/clipping');
  await step(page, 'remains-2').focus();
  await page.keyboard.press('Control+v');
  await expect.poll(wordsOf(page, 'remains')).toEqual(['front', 'step', 'remap', 'clamp']);
  await page.locator('[data-strand="remains"] [data-step]').nth(2).focus();
  await page.keyboard.press('Shift+ArrowRight');
  await page.keyboard.press('m');
  await expect(page.locator('[data-strand="remains"] .card.muted')).toHaveCount(2);
  await page.keyboard.press('Delete');
  await expect.poll(wordsOf(page, 'remains')).toEqual(['front', 'step']);

  await step(page, 'remains-2').focus();
  await page.keyboard.press('q');
  await expect(page.getByRole('textbox', { name: 'Note on step' })).toBeFocused();
  await page.keyboard.type('where the cloth ends');
  await page.keyboard.press('Enter');
  await expect(page.getByText('where the cloth ends')).toBeVisible();
  await expect(step(page, 'remains-2'), 'the keys are the card’s again').toBeFocused();

  await step(page, 'remains-1').focus();
  await page.keyboard.press('g');
  await expect(step(page, 'front-2')).toBeFocused();
  await page.keyboard.press('w');
  await expect(page.getByText(/front is used by remains/)).toBeVisible();
  // remains, the ember and the cloth read it; the step that was asked about is not among them.
  await expect(page.locator('.card.chosen')).toHaveCount(3);
  await expect(step(page, 'front-2')).not.toHaveClass(/chosen/);

  await step(page, 'remains-1').focus();
  await page.keyboard.press('s');
  await expect(page.locator('[data-strand="remains"]')).toContainText('value → step');
  await expect(page.locator('[data-strand="remains"] [data-step]')).toHaveCount(0);
  await page.getByRole('button', { name: 'Spread out remains' }).click();
  await expect(step(page, 'remains-2')).toBeVisible();
  for (let i = 0; i < 6; i += 1) await undo(page);
  await expect(page.getByText('where the cloth ends')).toHaveCount(0);
  await saved(page);
});
