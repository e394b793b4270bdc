import { MOST_PIXELS } from './recipe.ts';

/**
 * Sizes near one whose sides are powers of two, about in its shape: half of the nearest, the nearest and twice it, without what it
 * is already. Mip maps halve such a size without a rest.
 * @param most of a side, in pixels
 */
export const powersOfTwo = (
  size: readonly [number, number],
  most: number,
): readonly (readonly [number, number])[] => {
  const nearest = size.map((side) => 2 ** Math.round(Math.log2(Math.max(side, 1))));
  return [0.5, 1, 2].flatMap((by) => {
    const [width, height] = nearest.map((side) => side * by) as [number, number];
    const isOne =
      Math.min(width, height) >= 1 && Math.max(width, height) <= most && width * height <= MOST_PIXELS;
    return isOne && (width !== size[0] || height !== size[1]) ? [[width, height] as const] : [];
  });
};
