import { expect } from '@playwright/test';
import { apart, picture, pictureOn } from './pixels.ts';
import { board, openWith } from './plainSet.ts';
import { COARSE, saved, test } from './stage.ts';

test.use(COARSE);

const CAMERA = { position: [0, 0, 4], target: [0, 0, 0], fieldOfView: 40 };

test('what stands now is wiped against what was kept and against itself without something, and gone back to', async ({
  page,
}) => {
  await openWith(page, { camera: CAMERA, props: [board('Wall', [2, 2], [0, 0, 0])] }, false, {
    baseColor: 'vec3(0.25)',
  });
  const GREY = [137, 137, 137];
  const middle = async () => (await picture(page))(0.42, 0.65);
  const compared = page.getByTestId('compared');
  const other = async () => (await pictureOn(compared))(0.42, 0.65);
  const row = page.locator('[data-prop="Wall"]');
  await row.press('Enter');
  await page.getByRole('button', { name: 'Compare', exact: true }).click();
  await expect.poll(async () => apart(await other(), GREY)).toBeLessThan(3);
  // The edge is moved by keys and by a drag.
  const edge = page.getByRole('slider', { name: 'Edge of the comparison' });
  await expect(edge).toHaveAttribute('aria-valuenow', '50');
  await edge.focus();
  await page.keyboard.press('Shift+ArrowRight');
  await page.keyboard.press('ArrowLeft');
  await expect(edge).toHaveAttribute('aria-valuenow', '59');
  const box = (await page.getByTestId('stage').boundingBox())!;
  await page.mouse.move(box.x + box.width * 0.59, box.y + box.height * 0.8);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width * 0.25, box.y + box.height * 0.8, { steps: 4 });
  await page.mouse.up();
  await expect(edge).toHaveAttribute('aria-valuenow', '25');
  // Without the board there is nothing there; the stage itself keeps it.
  const choice = page.getByLabel('Compare now with');
  await choice.selectOption({ label: 'without prop Wall' });
  await expect.poll(async () => apart(await other(), GREY)).toBeGreaterThan(40);
  expect(apart(await middle(), GREY)).toBeLessThan(3);
  // What was kept has it still once it is deleted, and brings it back.
  await choice.selectOption({ label: 'Proscenium 1' });
  await page.getByLabel('Name of what is kept').fill('with the wall');
  await page.keyboard.press('Enter');
  await expect(choice.locator('option:checked')).toHaveText('with the wall');
  await row.press('Enter');
  await page.keyboard.press('Delete');
  await expect.poll(async () => apart(await middle(), GREY)).toBeGreaterThan(40);
  await expect.poll(async () => apart(await other(), GREY)).toBeLessThan(3);
  await page.getByRole('button', { name: 'Go back to it' }).click();
  await expect.poll(async () => apart(await middle(), GREY)).toBeLessThan(3);
  await page.getByRole('button', { name: 'Forget' }).click();
  await expect(compared).toHaveCount(0);
  // A key that is held shows the stage without what is in hand, as long as it is held.
  await row.press('Enter');
  await page.keyboard.down('v');
  await expect(page.getByText('without Wall', { exact: true })).toBeVisible();
  await expect.poll(async () => apart(await other(), GREY)).toBeGreaterThan(40);
  await page.keyboard.up('v');
  await expect(compared).toHaveCount(0);
  await saved(page);
});
