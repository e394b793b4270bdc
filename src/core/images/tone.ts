import type { Image } from './image.ts';
import { pixelFormula, type Pair, type Written } from './pixelCode.ts';

/** A formula for each number of colour by itself; alpha stays. */
export const tone = (told: number, of: (x: Pair, told: readonly Pair[], keep: Written['keep']) => Pair) => {
  const formula = pixelFormula({ pictures: 1, told }, ({ pictures: [pixel], told: numbers, keep }) => {
    const { r, g, b, a } = pixel!;
    return { r: of(r, numbers, keep), g: of(g, numbers, keep), b: of(b, numbers, keep), a };
  });
  return (image: Image, ...numbers: readonly number[]): Image => {
    const { width, height, data } = image;
    return { width, height, data: formula({ pictures: [data], told: numbers }) };
  };
};
