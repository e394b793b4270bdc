import { expect } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { board, openWith } from './plainSet.ts';
import { COARSE, figure, openCurtain, parameter, saved, stageRests, test } from './stage.ts';

test.use(COARSE);

test('values are plotted against a parameter at a pin, the marker sets it, and the numbers leave as CSV', async ({
  page,
}) => {
  await openCurtain(page);
  await page.getByLabel('Set on the stage').selectOption({ label: 'Ghost light' });
  await stageRests(page);
  const box = (await page.getByTestId('stage').boundingBox())!;
  await page.keyboard.press('x');
  await page.mouse.click(box.x + box.width * 0.25, box.y + box.height / 2);
  await page.getByRole('tab', { name: 'Plot' }).click();
  await page.getByRole('combobox', { name: 'against' }).selectOption({ label: 'radius' });
  const lines = page.getByRole('list', { name: 'Lines' });
  await expect(lines).toContainText('wake');
  await expect(page.getByRole('img', { name: 'wake, rim by radius' })).toBeVisible();
  // Dragged past where the pin is reached, the value there is whole.
  const marker = page.getByRole('slider', { name: 'radius now' });
  const from = (await marker.boundingBox())!;
  await page.mouse.move(from.x + from.width / 2, from.y + 40);
  await page.mouse.down();
  await page.mouse.move(from.x + 700, from.y + 40, { steps: 4 });
  await page.mouse.up();
  const radius = parameter(page, 'radius');
  await expect.poll(() => figure(radius)).toBeGreaterThan(4);
  await expect(lines.locator('[data-now]').first()).toHaveText('1.00');
  const dragged = await figure(radius);
  await marker.focus();
  await page.keyboard.press('Shift+ArrowRight');
  await expect.poll(() => figure(radius)).toBeCloseTo(dragged + 0.3, 2);
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'CSV' }).click();
  const rows = readFileSync(await (await download).path(), 'utf8')
    .trim()
    .split('\n');
  expect(rows[0]).toBe('radius,wake,rim');
  expect(rows).toHaveLength(201);
  expect(rows.at(-1)!.split(',').slice(0, 2)).toEqual(['6', '1']);
  await page.getByRole('button', { name: 'Add line' }).click();
  await page.getByRole('menuitem', { name: 'ground', exact: true }).click();
  await expect(lines).toContainText('ground.x');
  await lines.getByRole('button', { name: 'Take ground.x out of the plot' }).click();
  await expect(lines).not.toContainText('ground');
  // A parameter is a line of its own: level, for it is not what is drawn against.
  await page.getByRole('button', { name: 'Add line' }).click();
  await page.getByRole('menuitem', { name: 'softness parameter' }).click();
  await expect(lines).toContainText('softness');
  const softness = await figure(parameter(page, 'softness'));
  await expect(lines.locator('[data-now]').last()).toHaveText(softness.toFixed(2));
  // So is what the pin’s note tells of its place: as far from another prop, whatever the radius.
  await page.getByRole('button', { name: 'Add line' }).click();
  const toProp = page.getByRole('menuitem', { name: /^to (?!the camera).* reading$/ }).first();
  const words = (await toProp.textContent())!.replace('reading', '').trim();
  await toProp.click();
  const told = page.locator('dt', { hasText: words }).locator('xpath=following-sibling::dd[1]');
  await expect(lines.locator('[data-now]').last()).toHaveText((await told.innerText()).replace(' m', ''));
  // What goes wrong says so at its place.
  await page.getByRole('group', { name: 'Plot' }).waitFor();
  await page.getByLabel('To', { exact: true }).click();
  await page.keyboard.type('-1');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('group', { name: 'Plot' })).toContainText(
    'from a smaller number to a greater one',
  );
  await saved(page);
});

test('while it is rehearsed, a plot against time is a running trace', async ({ page }) => {
  await openWith(
    page,
    {
      camera: { position: [0, 0, 4], target: [0, 0, 0], fieldOfView: 40 },
      props: [board('Slate', [2, 2], [0, 0, 0])],
    },
    false,
  );
  const box = (await page.getByTestId('stage').boundingBox())!;
  await page.keyboard.press('x');
  await page.mouse.click(box.x + box.width / 2, box.y + box.height / 2);
  await page.getByRole('tab', { name: 'Plot' }).click();
  await page.getByRole('combobox', { name: 'against' }).selectOption({ label: 'time' });
  await page.getByRole('button', { name: 'Rehearse' }).click();
  const now = page.getByRole('slider', { name: 'Now' });
  await expect.poll(async () => Number(await now.getAttribute('aria-valuenow'))).toBeGreaterThan(0.5);
  await expect(page.getByRole('list', { name: 'Lines' }).locator('[data-now]').first()).toHaveText(/\d/);
  await page.getByRole('button', { name: 'Stop', exact: true }).click();
  await saved(page);
});
