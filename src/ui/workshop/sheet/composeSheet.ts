import type { Cell } from './cells.ts';

/** What stands under each picture, and between them, in pixels. */
const CAPTION = 22;
const GAP = 8;

const loaded = (url: string): Promise<HTMLImageElement> =>
  new Promise((resolve, reject) => {
    const image = new Image();
    image.onload = () => resolve(image);
    image.onerror = () => reject(new Error('A picture of the sheet is gone.'));
    image.src = url;
  });

/** All pictures of a sheet with their captions as one, as a PNG. */
export const composeSheet = async (
  drawn: readonly { readonly cell: Cell; readonly url: string | null }[],
  columns: number,
  [width, height]: readonly [number, number],
): Promise<Blob | null> => {
  const canvas = document.createElement('canvas');
  const rows = Math.ceil(drawn.length / columns);
  canvas.width = columns * (width + GAP) + GAP;
  canvas.height = rows * (height + CAPTION + GAP) + GAP;
  const on = canvas.getContext('2d');
  if (!on) return null;
  const style = getComputedStyle(document.documentElement);
  on.fillStyle = style.getPropertyValue('--page').trim();
  on.fillRect(0, 0, canvas.width, canvas.height);
  on.font = `13px ${getComputedStyle(document.body).fontFamily}`;
  on.textBaseline = 'middle';
  for (const [i, { cell, url }] of drawn.entries()) {
    const x = GAP + (i % columns) * (width + GAP);
    const y = GAP + Math.floor(i / columns) * (height + CAPTION + GAP);
    if (url) on.drawImage(await loaded(url), x, y, width, height);
    on.fillStyle = style.getPropertyValue('--ink').trim();
    on.textAlign = 'left';
    on.fillText(cell.label, x, y + height + CAPTION / 2, width * 0.7);
    on.fillStyle = style.getPropertyValue('--third').trim();
    on.textAlign = 'right';
    on.fillText(cell.cost, x + width, y + height + CAPTION / 2, width * 0.3);
  }
  return new Promise((resolve) => canvas.toBlob(resolve, 'image/png'));
};
