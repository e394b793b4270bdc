import { expect } from '@playwright/test';
import { COARSE, figure, openCurtain, parameter, saved, test } from './stage.ts';
import { undo, show, rangeOf } from './score.ts';

test.use(COARSE);

test('curves, gradients and noise are edited in the panel, and the picture follows', async ({ page }) => {
  await openCurtain(page);
  await show(page, 'Arches, upstage');
  const before = await rangeOf(page, 'sky-2');
  expect(before[1]).toBeCloseTo(1, 1);
  await parameter(page, 'rise')
    .getByRole('button', { name: /a curve of 3 keys/ })
    .click();
  // A drag that was not meant ends on Escape, and leaves what was.
  const { x, y } = (await page.getByRole('slider', { name: 'Key 3' }).boundingBox())!;
  await page.mouse.move(x + 4, y + 4);
  await page.mouse.down();
  await page.mouse.move(x + 4, y + 60, { steps: 4 });
  await expect.poll(async () => (await rangeOf(page, 'sky-2'))[1]).toBeLessThan(0.9);
  await page.keyboard.press('Escape');
  await page.mouse.up();
  await expect.poll(() => rangeOf(page, 'sky-2')).toEqual(before);
  await page.getByRole('slider', { name: 'Key 3' }).focus();
  for (let i = 0; i < 30; i += 1) await page.keyboard.press('ArrowDown');
  await expect.poll(async () => (await rangeOf(page, 'sky-2'))[1]).toBeLessThan(0.85);
  await page.getByRole('button', { name: 'Delete key' }).click();
  await expect(page.getByRole('slider', { name: 'Key 3' })).toHaveCount(0);
  await page.keyboard.press('Escape');
  await parameter(page, 'rise').getByRole('button', { name: 'Reset rise' }).click();
  await expect.poll(async () => (await rangeOf(page, 'sky-2'))[1]).toBeCloseTo(before[1], 1);

  await parameter(page, 'dusk')
    .getByRole('button', { name: /a gradient of 4 stops/ })
    .click();
  await page.getByRole('button', { name: /Stop 4/ }).focus();
  await page.getByRole('spinbutton', { name: 'dusk stop red' }).click();
  await page.getByRole('textbox', { name: 'dusk stop red' }).fill('5');
  await page.keyboard.press('Enter');
  await expect.poll(async () => (await rangeOf(page, 'sky-3'))[1]).toBeGreaterThan(2);
  await page.keyboard.press('Escape');
  await parameter(page, 'dusk').getByRole('button', { name: 'Reset dusk' }).click();
  await parameter(page, 'plaster').getByRole('spinbutton', { name: 'plaster seed' }).focus();
  await page.keyboard.press('ArrowUp');
  await parameter(page, 'plaster').getByRole('button', { name: 'Reset plaster' }).click();
  await saved(page);
});

test('a shared value is one for every shader; a lifetime one shows its slot; presets are taken up again', async ({
  page,
}) => {
  await openCurtain(page);
  await show(page, 'Arches, upstage');
  const reach = parameter(page, 'hazeReach');
  await expect(reach).toContainText('shared');
  await reach.getByRole('spinbutton').click();
  await page.getByRole('textbox', { name: 'hazeReach figure' }).fill('6');
  await page.keyboard.press('Enter');
  await show(page, 'Boards, downstage');
  await expect.poll(() => figure(parameter(page, 'hazeReach'))).toBe(6);
  await undo(page);
  await expect.poll(() => figure(parameter(page, 'hazeReach'))).toBe(14);

  await show(page, 'Bell at midnight');
  await expect(parameter(page, 'glow')).toContainText('lifetime[0].xyz');
  await expect(parameter(page, 'turn')).toContainText(/lifetime\[\d\]\.[xyzw]/);
  await parameter(page, 'turn').getByRole('button', { name: 'turn' }).first().click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByLabel('Whose value')).toHaveValue('lifetime');
  await dialog.getByLabel('Drives between').fill('-2');
  await expect(dialog.getByRole('alert')).toContainText('The ends are two numbers');
  await page.keyboard.press('Escape');
  await expect(dialog).toHaveCount(0);

  await show(page, 'Arches, upstage');
  await page.getByRole('button', { name: /Preset/ }).click();
  await page.getByRole('menuitem', { name: 'Opening night' }).click();
  await expect(parameter(page, 'stone').getByRole('spinbutton')).toHaveAttribute('aria-valuenow', '0.8');
  await page.getByRole('button', { name: 'Preset: Opening night' }).click();
  await page.getByRole('menuitem', { name: 'Keep these values…' }).click();
  await page.getByRole('textbox', { name: 'Name of the preset' }).fill('Matinée');
  await page.keyboard.press('Enter');
  await undo(page);
  await undo(page);
  await expect(parameter(page, 'stone').getByRole('spinbutton')).toHaveAttribute('aria-valuenow', '0.3');
  await saved(page);
});

test('a parameter of every kind is made, and refused with a sentence where it is wrong', async ({ page }) => {
  await openCurtain(page);
  await show(page, 'Bell at midnight');
  const dialog = page.getByRole('dialog');
  const make = async (name: string, kind: string, standard?: string): Promise<void> => {
    await page.getByRole('button', { name: 'Add parameter' }).click();
    await dialog.getByLabel('Name').fill(name);
    await dialog.getByLabel('Type').selectOption({ label: kind });
    if (standard !== undefined) await dialog.getByLabel('Default').fill(standard);
    await dialog.getByLabel('Default').or(dialog.getByLabel('Name')).last().press('Enter');
    await expect(dialog).toHaveCount(0);
    await expect(parameter(page, name)).toBeVisible();
  };
  await page.getByRole('button', { name: 'Add parameter' }).click();
  const said = dialog.getByRole('alert');
  await dialog.getByLabel('Name').fill('vec3');
  await expect(said).toContainText('vec3');
  await dialog.getByLabel('Name').fill('2nd');
  await expect(said).not.toBeEmpty();
  await dialog.getByLabel('Name').fill('turn');
  await expect(said).toContainText('is used already in this shader');
  await dialog.getByLabel('Name').fill('toll');
  await dialog.getByLabel('Greatest').fill('-1');
  await expect(said).toContainText('Its range runs from 0 to -1');
  await dialog.getByLabel('Greatest').fill('3/2');
  await expect(said).toBeEmpty();
  await dialog.getByLabel('Type').selectOption({ label: 'vec3' });
  await dialog.getByLabel('Default').fill('1, 2');
  await expect(said).toContainText('A vec3 has 3 numbers');
  await dialog.getByRole('button', { name: 'Cancel' }).click();

  await make('ringFloat', 'float', '0.5');
  await make('ringInt', 'int', '1');
  await make('ringBool', 'bool');
  await make('ringPair', 'vec2', '0.25, 0.75');
  await make('ringTriple', 'vec3', '0.1');
  await make('ringFour', 'vec4', '1, 0, 0, 1');
  await make('ringColor', 'colour', '0.2, 0.4, 0.6, 1');
  await make('ringCurve', 'curve');
  await make('ringGradient', 'gradient');
  await make('ringNoise', 'noise', '1, 4');
  await make('ringPicture', 'texture');
  expect(await figure(parameter(page, 'ringFloat'))).toBe(0.5);
  expect(await figure(parameter(page, 'ringInt'))).toBe(1);
  await expect(parameter(page, 'ringPair').getByRole('spinbutton')).toHaveCount(2);
  await expect(parameter(page, 'ringFour').getByRole('spinbutton')).toHaveCount(4);
  await saved(page);
  for (let i = 0; i < 11; i += 1) await undo(page);
  await expect(parameter(page, 'ringFloat')).toHaveCount(0);
  await saved(page);
});
