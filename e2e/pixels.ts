import { expect, type Locator, type Page } from '@playwright/test';
import sharp from 'sharp';
import { stageRests } from './stage.ts';

export type Picture = (x: number, y: number) => readonly number[];
/** The stage as it rests; asked for a colour at a place in shares of its size, the mean of a few pixels there. */
export const picture = async (page: Page): Promise<Picture> => {
  await stageRests(page);
  return pictureOn(page.getByTestId('stage'));
};
/** The same of any canvas that a stage draws on. */
export const pictureOn = async (canvas: Locator): Promise<Picture> => {
  await expect(canvas).toHaveAttribute('data-rests', 'yes');
  const address = await canvas.evaluate((each) => (each as HTMLCanvasElement).toDataURL('image/png'));
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
/** How far two colours lie apart, in their channel that is furthest. */
export const apart = (a: readonly number[], b: readonly number[]): number =>
  Math.max(...a.map((each, i) => Math.abs(each - b[i]!)));
