import { expect } from '@playwright/test';
import { unzipSync } from 'fflate';
import sharp from 'sharp';
import { board, openWith } from './plainSet.ts';
import { COARSE, playhouseId, saved, test } from './stage.ts';

test.use(COARSE);

test('a picture is put beside the set, moved, sized, faded, named, copied, taken off and undone, and never exported', async ({
  page,
}) => {
  await openWith(page, { props: [board('Wall', [2, 2], [0, 1, 0])] }, false);
  const png = await sharp({ create: { width: 60, height: 30, channels: 3, background: '#2266aa' } })
    .png()
    .toBuffer();
  await page
    .getByLabel('Reference pictures')
    .setInputFiles({ name: 'old-print.png', mimeType: 'image/png', buffer: png });
  const picture = page.getByRole('button', { name: 'Reference old-print', exact: true });
  await expect(picture).toBeVisible();
  const box = async () => (await picture.boundingBox())!;
  const before = await box();
  expect(before.width / before.height).toBeCloseTo(2, 1);
  // By the pointer and by keys.
  await page.mouse.move(before.x + 20, before.y + 10);
  await page.mouse.down();
  await page.mouse.move(before.x - 180, before.y + 60, { steps: 4 });
  await page.mouse.up();
  await expect.poll(async () => (await box()).x).toBeCloseTo(before.x - 200, 0);
  await picture.press('+');
  await expect.poll(async () => (await box()).width).toBeCloseTo(before.width * 1.1, 0);
  await page.getByLabel('Fade of old-print').fill('0.5');
  await expect(picture.locator('img')).toHaveCSS('opacity', '0.5');
  await page.getByLabel('Name of the reference').fill('the print');
  await page.keyboard.press('Enter');
  const named = page.getByRole('button', { name: 'Reference the print', exact: true });
  await named.press('d');
  await expect(page.getByRole('button', { name: /^Reference the print/ })).toHaveCount(2);
  await page.getByRole('button', { name: 'Reference the print 2', exact: true }).press('Delete');
  await expect(page.getByRole('button', { name: /^Reference the print/ })).toHaveCount(1);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('button', { name: /^Reference the print/ })).toHaveCount(2);
  await page.getByRole('button', { name: 'References', exact: true }).click();
  await expect(named).toHaveCount(0);
  // What is no picture is told of, and nothing is put there.
  await page
    .getByLabel('Reference pictures')
    .setInputFiles({ name: 'notes.png', mimeType: 'image/png', buffer: Buffer.from('no picture at all') });
  await expect(page.getByText(/notes\.png/)).toBeVisible();
  await saved(page);
  // It is kept with the project, and does not leave with it.
  await page.reload();
  await expect(named).toBeVisible();
  const id = await playhouseId(page);
  const archive = await page.request.get(`/api/projects/${id}/archive`);
  expect(archive.status()).toBe(200);
  const files = Object.values(unzipSync(new Uint8Array(await archive.body())));
  const text = files.map((bytes) => Buffer.from(bytes).toString('utf8')).join('');
  expect(text).toContain('Proscenium');
  expect(text).not.toContain('the print');
});
