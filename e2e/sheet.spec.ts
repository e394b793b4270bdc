import { expect } from '@playwright/test';
import sharp from 'sharp';
import { COARSE, figure, openCurtain, parameter, saved, test } from './stage.ts';

test.use(COARSE);

test('a contact sheet over a parameter shows each value with its cost; a click takes one, undone at once', async ({
  page,
}) => {
  await openCurtain(page);
  const burn = parameter(page, 'burn');
  const before = await figure(burn);
  await page.getByRole('button', { name: 'Sheet', exact: true }).click();
  const sheet = page.getByRole('dialog', { name: 'Contact sheet' });
  await sheet.getByLabel('How many pictures').selectOption('4');
  await expect(sheet.getByRole('status')).toHaveText('4 pictures');
  const cells = sheet.getByRole('img');
  await expect(cells).toHaveCount(4);
  await expect(sheet.getByText(/^\d+ op · 1 read$/)).toHaveCount(4);
  const whole = await cells.first().screenshot();
  const gone = await cells.last().screenshot();
  const light = async (png: Buffer) => (await sharp(png).stats()).channels[0]!.mean;
  // The red of the whole curtain is gone at the end.
  expect((await light(whole)) - (await light(gone))).toBeGreaterThan(8);
  const download = page.waitForEvent('download');
  await sheet.getByRole('button', { name: 'PNG' }).click();
  const { width, height } = await sharp(await (await download).path()).metadata();
  expect([width, height]).toEqual([2 * 328 + 8, 2 * 210 + 8]);
  await sheet.getByRole('button', { name: /^burn 1\.00/ }).click();
  await expect(sheet).toHaveCount(0);
  await expect.poll(() => figure(burn)).toBe(1);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(() => figure(burn)).toBe(before);
  await saved(page);
});
