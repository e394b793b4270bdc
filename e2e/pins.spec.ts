import { expect, type Page } from '@playwright/test';
import { board, openWith } from './plainSet.ts';
import { COARSE, openCurtain, saved, stageRests, test } from './stage.ts';

test.use(COARSE);

const putPin = async (page: Page, x: number, y: number): Promise<void> => {
  const box = (await page.getByTestId('stage').boundingBox())!;
  await page.keyboard.press('x');
  await page.mouse.click(box.x + box.width * x, box.y + box.height * y);
};
const note = (page: Page, name: string) => page.getByRole('region', { name: `Pin ${name}` });

test('a pin reads every step where it is, is dragged, named, copied, taken off, and all of it is undone', async ({
  page,
}) => {
  // Seen straight on from 4 m, 40° high: the board's middle is the picture's.
  await openWith(
    page,
    {
      camera: { position: [0, 0, 4], target: [0, 0, 0], fieldOfView: 40 },
      props: [
        board('Slate', [2, 2], [0, 0, 0]),
        board('Turned', [1, 1], [2, 0, 0], { rotation: [0, 180, 0] }),
      ],
      lights: [{ kind: 'point', position: [0, 0, 3], color: [1, 1, 1], intensity: 1 }],
    },
    false,
  );
  await putPin(page, 0.5, 0.5);
  const pin = note(page, 'On Slate');
  await expect(pin).toContainText('0.500 0.500');
  await expect(pin).toContainText('to the light 3.00 m');
  await expect(page.getByRole('button', { name: 'Pin', exact: true })).toHaveAttribute(
    'aria-pressed',
    'false',
  );
  await pin.getByLabel('Name of the pin').fill('Middle');
  await page.keyboard.press('Enter');
  const marker = page.getByRole('button', { name: 'Pin Middle', exact: true });
  await marker.focus();
  await page.keyboard.press('Shift+ArrowRight');
  // 20 pixels to the right: the picture is 2 · 4 · tan 20° high.
  const { height } = (await page.getByTestId('stage').boundingBox())!;
  const u = (0.5 + ((20 / height) * 8 * Math.tan(Math.PI / 9)) / 2).toFixed(3).slice(0, 4);
  await expect(note(page, 'Middle')).toContainText(u);
  await page.keyboard.press('d');
  await expect(page.getByRole('button', { name: 'Pin Middle 2', exact: true })).toBeVisible();
  await expect(note(page, 'Middle 2')).toContainText('to Middle 0.00 m');
  await page.getByRole('button', { name: 'Pin Middle 2', exact: true }).focus();
  await page.keyboard.press('Delete');
  await expect(page.getByRole('button', { name: 'Pin Middle 2', exact: true })).toHaveCount(0);
  // From behind: what is drawn there is what is told there.
  await putPin(page, 0.89, 0.5);
  await expect(note(page, 'On Turned')).toContainText('side back');
  await expect(note(page, 'On Turned')).toContainText('normal 0.000 0.000 1.000');
  await page.getByRole('tab', { name: 'Strands' }).click();
  await expect(page.locator('[data-reading][data-compared=yes]').first()).toBeVisible();
  await expect(page.locator('[data-reading] b')).toHaveCount(0);
  await marker.click();
  // With its prop a pin goes, and comes back.
  await page.getByRole('tab', { name: 'Stage' }).click();
  await page.getByLabel('Pin Middle x').click();
  await page.keyboard.type('0.25');
  await page.keyboard.press('Enter');
  await expect(note(page, 'Middle')).toContainText('0.250 0.000 0.000');
  await page.getByRole('region', { name: 'Prop Slate' }).focus();
  await page.keyboard.press('Delete');
  await expect(marker).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(marker).toBeVisible();
  await saved(page);
});

test('what is read at a pin is what the graphics card draws there, on what stands still and what moves', async ({
  page,
}) => {
  await openCurtain(page);
  for (const [set, x, y] of [
    [null, 0.45, 0.5],
    ['Rolling boards', 0.45, 0.6],
  ] as const) {
    if (set) await page.getByLabel('Set on the stage').selectOption({ label: set });
    await stageRests(page);
    await putPin(page, x, y);
    const readings = page.locator('[data-reading]');
    await expect(readings.first()).toBeVisible();
    // Once the picture has stood still, what is drawn is read too, and told where it is another.
    await expect(readings.first()).toHaveAttribute('title', /^At the pin/);
    await expect(page.locator('[data-reading][data-compared=no]')).toHaveCount(0);
    await expect(page.locator('[data-reading] b')).toHaveCount(0);
  }
});
