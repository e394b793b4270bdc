import { expect } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { apart, picture } from './pixels.ts';
import { COARSE, figure, openCurtain, parameter, saved, test } from './stage.ts';

test.use(COARSE);

test('a sweep finds a parameter’s true ends, tells them, and lets it be driven between them, undone at once', async ({
  page,
}) => {
  await openCurtain(page);
  const before = await picture(page);
  const burn = parameter(page, 'burn');
  const authored = await figure(burn);
  await page.getByRole('button', { name: 'More for Velvet, house left' }).click();
  await page.getByRole('menuitem', { name: 'Sweep' }).press('ArrowRight');
  await page.getByRole('menuitem', { name: 'burn', exact: true }).press('Enter');
  const told = page.getByTestId('swept');
  await expect(told).toContainText(/Nothing shows from 0\.8\d+\./);
  await expect(told).toContainText('Nowhere in this range does all of it show.');
  const pane = page.getByRole('region', { name: 'Sweep' });
  await expect(pane.getByRole('img', { name: 'how much of the prop shows, by burn' })).toBeVisible();
  const download = page.waitForEvent('download');
  await pane.getByRole('button', { name: 'CSV' }).click();
  const rows = readFileSync(await (await download).path(), 'utf8')
    .trim()
    .split('\n');
  expect(rows[0]).toBe('burn,share,brightest,change');
  expect(rows).toHaveLength(65);
  // By another strand, and over a range that is none.
  await pane.getByLabel('what shows').selectOption({ label: 'remains' });
  await expect(told).toContainText('Nothing shows from');
  await pane.getByLabel('To', { exact: true }).click();
  await page.keyboard.type('-0.2');
  await page.keyboard.press('Enter');
  await expect(pane.getByRole('alert')).toContainText('these are the same');
  await pane.getByLabel('To', { exact: true }).click();
  await page.keyboard.type('1.2');
  await page.keyboard.press('Enter');
  // What it found is promised, and measured at once.
  await pane.getByRole('button', { name: 'Make a guarantee' }).click();
  await expect(
    pane.getByRole('listitem').filter({ hasText: /✓\s*at burn = 0\.\d+ nothing shows, by remains/ }),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  // Over two, as a map that is read field by field.
  await pane.getByLabel('over two, with').selectOption({ label: 'edgeWidth' });
  const map = pane.getByRole('img', {
    name: 'How much shows over burn, to the right, and edgeWidth, upwards',
  });
  await map.focus();
  await page.keyboard.press('ArrowRight');
  await expect(pane.getByText(/^burn .*, edgeWidth .*: [\d.]+ % shows/)).toBeVisible();
  await pane.getByLabel('over two, with').selectOption({ label: 'none other' });
  await pane.getByRole('button', { name: /^Drive 0–1 between 0\.0\d+ and 0\.\d+$/ }).click();
  // It stands where it stood, and looks as it looked.
  await expect(burn).toHaveAttribute('title', /it works between/);
  const [low, high] = (await burn.getAttribute('title'))!
    .match(/between ([\d.]+) and ([\d.]+\d)/)!
    .slice(1)
    .map(Number) as [number, number];
  expect(await figure(burn)).toBeCloseTo((authored - low) / (high - low), 2);
  await expect
    .poll(async () => {
      const after = await picture(page);
      return Math.max(...[0.3, 0.45, 0.6, 0.7].map((x) => apart(before(x, 0.5), after(x, 0.5))));
    })
    .toBeLessThan(12);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(() => figure(burn)).toBe(authored);
  await saved(page);
});
