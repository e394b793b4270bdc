import { unweighByAlpha, weighedByAlpha } from './alphaRows.ts';
import { opaqueGrey } from './greyRows.ts';
import { CHANNELS, greyOf, isOpaque, type Image } from './image.ts';

/**
 * Every channel of a picture by itself, to one of the same size or another; colour is weighted by alpha, so that what is not
 * seen bleeds into nothing. Where nothing of it is left to be seen, it keeps the colour it had, if it keeps its size.
 * @param how of pixels of so many numbers, those of each channel without the others
 * @param size told where it is another
 */
export const overChannels = (
  { width, height, data }: Image,
  how: (data: Float32Array, channels: 1 | 4) => Float32Array,
  size?: readonly [width: number, height: number],
): Image => {
  const [wide, high] = size ?? [width, height];
  const grey = opaqueGrey(data);
  if (grey) return greyOf(wide, high, how(grey, 1));
  const isSeenThrough = !isOpaque({ data });
  const weighed = isSeenThrough ? weighedByAlpha(data) : data;
  const done = how(weighed, CHANNELS);
  // What is given back as it came is the picture's own.
  const made = done === data ? done.slice() : done;
  if (isSeenThrough) unweighByAlpha(made, size ? null : data);
  else for (let i = 3; i < made.length; i += CHANNELS) made[i] = 1;
  return { width: wide, height: high, data: made };
};
