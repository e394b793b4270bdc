import { mipmapsOf } from '../../numbers/mipmaps.ts';
import type { Picture } from '../points/points.ts';

/** One level of detail of a picture. */
export type Level = Pick<Picture, 'width' | 'height' | 'rgba'>;

/** Half the size: each texel the mean of the four (or, along an odd edge, the two) it covers. */
const halved = ({ width, height, rgba }: Level): Level => {
  const [w, h] = [Math.max(width >> 1, 1), Math.max(height >> 1, 1)];
  const small = new Float32Array(w * h * 4);
  for (let y = 0; y < h; y += 1)
    for (let x = 0; x < w; x += 1) {
      const [x0, y0] = [Math.min(x * 2, width - 1), Math.min(y * 2, height - 1)];
      const [x1, y1] = [Math.min(x0 + 1, width - 1), Math.min(y0 + 1, height - 1)];
      for (let c = 0; c < 4; c += 1) {
        const at = (px: number, py: number) => rgba[(py * width + px) * 4 + c]!;
        small[(y * w + x) * 4 + c] = (at(x0, y0) + at(x1, y0) + at(x0, y1) + at(x1, y1)) / 4;
      }
    }
  return { width: w, height: h, rgba: small };
};

const made = new WeakMap<Picture, readonly Level[]>();

/**
 * A picture and its mipmaps, down to one texel: means of light or of directions as the stage makes them, of plain numbers
 * as graphics cards do.
 */
export const levelsOf = (picture: Picture): readonly Level[] => {
  const known = made.get(picture);
  if (known) return known;
  const levels: Level[] = [picture];
  if (picture.holds)
    for (const { width, height, data } of mipmapsOf({ ...picture, data: picture.rgba }, picture.holds).slice(
      1,
    ))
      levels.push({ width, height, rgba: data });
  else
    for (let last: Level = picture; last.width > 1 || last.height > 1; levels.push(last)) last = halved(last);
  made.set(picture, levels);
  return levels;
};

/** The level, or the two and how far between them, that a level of detail asks for. */
export const levelAt = (
  detail: number,
  count: number,
  filter: Picture['filter'],
): { readonly low: number; readonly high: number; readonly between: number } => {
  const held = Math.min(Math.max(Number.isNaN(detail) ? 0 : detail, 0), count - 1);
  if (filter === 'nearest') {
    const low = Math.min(Math.max(Math.ceil(held + 0.5) - 1, 0), count - 1);
    return { low, high: low, between: 0 };
  }
  const low = Math.floor(held);
  return { low, high: Math.min(low + 1, count - 1), between: held - low };
};
