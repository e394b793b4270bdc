import sharp from 'sharp';
import { expect } from '@playwright/test';
import { undo } from './score.ts';
import { COARSE, openCurtain, saved, test } from './stage.ts';
import { drawnAt, beginTexture, add } from './imageSteps.ts';

test.use(COARSE);

test('words are written on a texture: several lines, what no face has is told, undone in one step', async ({
  page,
}) => {
  await beginTexture(page);
  await add(page, 'Texture', 'text');
  const words = page.getByRole('textbox', { name: 'text words' });
  await expect(words).toHaveValue('TONIGHT');
  // Between two lines there is nothing; a bar of its own goes through the middle.
  await words.fill('HH\nHH');
  await page.keyboard.press('Tab');
  await expect.poll(async () => (await drawnAt(page, 0.5, 0.5))[0]).toBe(0);
  await words.fill('|');
  await page.keyboard.press('Tab');
  await expect.poll(async () => (await drawnAt(page, 0.5, 0.5))[0]).toBeGreaterThan(250);
  await words.fill('GHOST 漢');
  await expect(page.getByRole('alert').filter({ hasText: 'This face has no “漢”' }).first()).toBeVisible();
  await page.keyboard.press('Tab');
  await undo(page);
  await expect(words).toHaveValue('|');
  await saved(page);
});

test('a strand of a shader and the mesh of a prop are what textures begin with, and what they are is followed', async ({
  page,
}) => {
  await beginTexture(page);
  await add(page, 'Texture', 'shader');
  await expect(page.getByRole('alert').filter({ hasText: 'No shader is chosen yet.' })).toBeVisible();
  await page.getByLabel('shader of', { exact: true }).selectOption({ label: 'Heights for textures' });
  await page.getByLabel('shader of, which strand').selectOption({ label: 'whorl' });
  // It burns from its heart outwards: dark in the middle, light at the corners.
  await expect.poll(async () => (await drawnAt(page, 0.02, 0.02))[0]).toBeGreaterThan(180);
  expect((await drawnAt(page, 0.5, 0.5))[0]).toBeLessThan(130);
  await page.getByRole('button', { name: 'shader of Texture', exact: true }).press('Delete');
  await add(page, 'Texture', 'meshMap');
  // Where so many lines are cast, how far they are is told; nobody has to wait for what is not wanted any more.
  await page.getByRole('spinbutton', { name: 'meshMap rays' }).click();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('512');
  await page.keyboard.press('Enter');
  await page.getByLabel('meshMap of', { exact: true }).selectOption({ label: 'Tallow saint' });
  await expect(page.getByRole('region', { name: 'The texture' })).toContainText(/being made anew, \d+ %/);
  await page.getByLabel('meshMap map').selectOption({ label: 'position' });
  // Left to right, foot to crown, and the front nearer than the back.
  await expect.poll(async () => (await drawnAt(page, 0.5, 0.05))[1]).toBeGreaterThan(235);
  await expect(page.getByRole('region', { name: 'The texture' })).not.toContainText('being made');
  expect((await drawnAt(page, 0.5, 0.95))[1]).toBeLessThan(110);
  expect((await drawnAt(page, 0.75, 0.5))[0]).toBeGreaterThan((await drawnAt(page, 0.25, 0.5))[0]!);
  await page.getByRole('button', { name: 'Bake', exact: true }).click();
  await expect(page.getByText(/^Texture was baked in/)).toBeVisible();
  await undo(page);
  await saved(page);
});

test('a picture that is brought, or a strand, begins a texture: of its own size, looked at nearer, and on the prop', async ({
  page,
}) => {
  await openCurtain(page);
  await page.getByRole('tab', { name: 'Textures' }).click();
  // Columns one pixel wide: seen from afar they are one red.
  const raw = { width: 700, height: 400, channels: 3 } as const;
  const columns = Uint8Array.from({ length: 700 * 400 * 3 }, (_, i) => (i % 6 === 0 ? 255 : 0));
  const buffer = await sharp(columns, { raw }).png().toBuffer();
  await page
    .getByLabel('Pictures for textures')
    .setInputFiles([{ name: 'Red weave.png', mimeType: 'image/png', buffer }]);
  const row = page.getByLabel('Texture Red weave', { exact: true });
  await expect(row).toContainText('colour · 700 × 400');
  const panel = page.getByLabel('Texture in hand');
  await expect(panel).toContainText('700 × 400, as its picture is');
  const layer = page.getByRole('region', { name: 'The texture' });
  await expect(layer).toContainText('texture Red weave · 700 × 400 · One');
  await add(page, 'Red weave', 'resize');
  await expect(row).toContainText('colour · 512');
  await expect(panel).toContainText('comes to 512 × 512');
  // Nearer about the pointer, which stays where it is; moved by dragging; and all of it again.
  const canvas = page.getByTestId('texture');
  const box = async () => (await canvas.boundingBox())!;
  const [before, size] = [await box(), layer.getByRole('button', { name: 'All of it' })];
  const percent = async () => Number.parseInt(await size.innerText(), 10);
  const whole = await percent();
  await page.mouse.move(before.x + before.width / 4, before.y + before.height / 4);
  await page.mouse.wheel(0, -300);
  await expect.poll(percent).toBeGreaterThan(whole);
  const near = await box();
  const grown = near.width / before.width;
  expect(Math.abs((await percent()) - grown * whole)).toBeLessThan(2);
  expect(near.x).toBeCloseTo(before.x - ((grown - 1) * before.width) / 4, 0);
  await page.mouse.down();
  await page.mouse.move(before.x + before.width / 4 - 50, before.y + before.height / 4 - 20);
  await page.mouse.up();
  expect((await box()).x).toBeCloseTo(near.x - 50, 0);
  await layer.getByRole('button', { name: 'Larger' }).press('Enter');
  await expect.poll(async () => (await box()).width / near.width).toBeCloseTo(1.5, 2);
  // Looked at so near, the picture is made as large as it is: its columns are seen apart.
  const inMiddle = () =>
    canvas.evaluate((each) => {
      const { width, height } = each as HTMLCanvasElement;
      const { data } = (each as HTMLCanvasElement)
        .getContext('2d')!
        .getImageData(width >> 1, height >> 1, 2, 1);
      return [width, Math.abs(data[0]! - data[4]!)] as const;
    });
  await size.click();
  await page.getByRole('button', { name: 'picture of Red weave' }).click();
  await expect.poll(inMiddle).toEqual([350, 0]);
  for (let k = 0; k < 5; k += 1) await layer.getByRole('button', { name: 'Larger' }).press('Enter');
  await expect.poll(inMiddle).toEqual([700, 255]);
  await layer.getByRole('button', { name: 'Red', exact: true }).click();
  expect(await inMiddle()).toEqual([700, 255]);
  await layer.getByRole('button', { name: 'One', exact: true }).click();
  await page.getByRole('button', { name: 'resize of Red weave' }).click();
  await size.click();
  expect(await box()).toEqual(before);
  // The stage is seen behind it, and has the pointer.
  await layer.getByRole('button', { name: 'On the prop' }).click();
  await expect(canvas).toHaveCount(0);
  await expect(layer).toContainText('No prop of this set reads Red weave.');
  await page.getByLabel('Set on the stage').selectOption({ label: 'Footlight shimmer' });
  await page.locator('[data-texture="Footlight shimmer"]').click();
  await expect(layer).not.toContainText('No prop of this set');
  await page.getByRole('button', { name: 'From a strand' }).click();
  await page.getByRole('menuitem').first().press('Enter');
  const strand = page.getByLabel('shader of, which strand');
  const begun = await strand.locator('option:checked').innerText();
  await expect(page.getByLabel(`Texture ${begun}`, { exact: true })).toContainText('numbers · 512');
  await undo(page);
  await expect(strand).toHaveCount(0);
  await page.getByRole('button', { name: 'Add texture' }).click();
  // What is dropped here begins a texture too; what is no picture is refused.
  const drop = (name: string, type: string) =>
    page.getByRole('tab', { name: 'Textures' }).evaluate(
      (tab, [file, kind, bytes]) => {
        const dataTransfer = new DataTransfer();
        const data = Uint8Array.from(atob(bytes!), (letter) => letter.charCodeAt(0));
        dataTransfer.items.add(new File([data], file!, { type: kind! }));
        tab.dispatchEvent(new DragEvent('drop', { dataTransfer, bubbles: true, cancelable: true }));
      },
      [name, type, buffer.toString('base64')],
    );
  await drop('Dropped.png', 'image/png');
  await expect(page.getByLabel('Texture Dropped', { exact: true })).toContainText('colour · 700 × 400');
  await drop('notes.zip', 'application/zip');
  await expect(page.getByText(/^notes\.zip is not read here/)).toBeVisible();
  await undo(page);
  await expect(page.getByLabel('Texture Dropped', { exact: true })).toHaveCount(0);
  await saved(page);
});
