import { expect, test, type Page } from '@playwright/test';
import sharp from 'sharp';
import { openCurtain, parameter, restorePlayhouse, saved, stageRests } from './stage.ts';

test.afterEach(({ request }) => restorePlayhouse(request));

type Picture = (x: number, y: number) => readonly number[];
/** The stage as it rests; asked for a colour at a place in shares of its size, the mean of a few pixels there. */
const picture = async (page: Page): Promise<Picture> => {
  await stageRests(page);
  const stage = page.getByTestId('stage');
  const address = await stage.evaluate((canvas) => (canvas as HTMLCanvasElement).toDataURL('image/png'));
  const { data, info } = await sharp(Buffer.from(address.split(',')[1]!, 'base64'))
    .removeAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return (x, y) => {
    const [left, top] = [Math.round(x * info.width), Math.round(y * info.height)];
    const sum = [0, 0, 0];
    for (let dy = -2; dy <= 2; dy += 1)
      for (let dx = -2; dx <= 2; dx += 1)
        for (let c = 0; c < 3; c += 1) sum[c]! += data[((top + dy) * info.width + left + dx) * 3 + c]! / 25;
    return sum;
  };
};
const apart = (a: readonly number[], b: readonly number[]): number =>
  Math.max(...a.map((each, i) => Math.abs(each - b[i]!)));
const show = async (page: Page, set: string): Promise<void> => {
  await page.getByLabel('Set on the stage').selectOption({ label: set });
  await stageRests(page);
};
const put = async (page: Page, name: string, value: string): Promise<void> => {
  await parameter(page, name).getByRole('spinbutton').focus();
  await page.keyboard.type(value);
  await page.keyboard.press('Enter');
  await stageRests(page);
};

test('heat bends only what is behind it: pipes and door stay as they are, and so does what is left out of the copy', async ({
  page,
}) => {
  await openCurtain(page);
  await show(page, 'Furnace mouth');
  await page.getByLabel('Material shown').selectOption({ label: 'Rising heat' });
  await put(page, 'strength', '0');
  const still = await picture(page);
  await put(page, 'strength', '0.1');
  const bent = await picture(page);
  const places = Array.from({ length: 12 }, (_, i) => 0.36 + i * 0.02);
  const moved = (a: Picture, b: Picture) =>
    Math.max(...places.flatMap((x) => [0.4, 0.5, 0.6].map((y) => apart(a(x, y), b(x, y)))));
  expect(moved(still, bent)).toBeGreaterThan(40);
  // A pipe in front of it, the door beside it, the boards before it.
  for (const [x, y] of [
    [0.346, 0.4],
    [0.645, 0.5],
    [0.3, 0.6],
    [0.5, 0.95],
  ] as const)
    expect(apart(still(x, y), bent(x, y)), `${x}, ${y}`).toBeLessThan(6);
  // Without the effect colours are what they are without the card.
  await page.getByRole('tab', { name: 'Stage' }).click();
  await put(page, 'strength', '0');
  await page.getByRole('region', { name: 'Prop Heat' }).focus();
  await page.keyboard.press('h');
  const without = await picture(page);
  for (const x of places) expect(apart(still(x, 0.5), without(x, 0.5)), `${x}`).toBeLessThan(4);
  await page.keyboard.press('h');
  // The middle flat is left out: it is not bent any more.
  const flat = page.getByRole('region', { name: 'Prop Flat 3' });
  await flat.getByRole('button', { name: 'copied' }).click();
  await page.getByLabel('Material shown').selectOption({ label: 'Rising heat' });
  await put(page, 'strength', '0.1');
  const leftOut = await picture(page);
  expect(apart(still(0.515, 0.4), leftOut(0.515, 0.4))).toBeLessThan(6);
  await saved(page);
});

test('haze thickens with what is behind it, shows no line at the floor, and goes when it is switched off', async ({
  page,
}) => {
  await openCurtain(page);
  await show(page, 'Scrim');
  await page.getByLabel('Material shown').selectOption({ label: 'Teal haze' });
  const hazy = await picture(page);
  await put(page, 'density', '0');
  const clear = await picture(page);
  const veiled = (x: number, y: number) => apart(hazy(x, y), clear(x, y));
  // The back wall, a wing further in, the nearest wing, the floor right behind the card.
  const [back, far, near] = [veiled(0.5, 0.3), veiled(0.69, 0.4), veiled(0.8, 0.5)];
  expect(back).toBeGreaterThan(far + 5);
  expect(far).toBeGreaterThan(near + 5);
  // Down the floor it thins out evenly to nothing: no step where the card meets it.
  const down = Array.from({ length: 14 }, (_, i) => veiled(0.45, 0.68 + i * 0.02));
  expect(down.at(-1)!).toBeLessThan(4);
  down.slice(1).forEach((each, i) => expect(Math.abs(each - down[i]!), `step ${i}`).toBeLessThan(12));
  await saved(page);
});
