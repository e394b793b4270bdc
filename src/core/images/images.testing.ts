import assert from 'node:assert/strict';
import sharp, { type Sharp } from 'sharp';
import { chanceOf } from '../numbers/chance.ts';
import { CHANNELS, drawn, greyOf, planeOf, type Image } from './image.ts';
import { createMaker, type Sources } from './makeTexture.ts';
import type { Recipe, RecipeStep } from './recipe.ts';

export const [WIDTH, HEIGHT] = [48, 32];
export const speckled = greyOf(
  WIDTH,
  HEIGHT,
  Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => chanceOf(5, i)),
);
export const colours = drawn(WIDTH, HEIGHT, (x, y, to, at) =>
  to.set([chanceOf(1, x, y), chanceOf(2, x, y), chanceOf(3, x, y), 1], at),
);
export const stepOf = (
  step: string,
  numbers: RecipeStep['numbers'] = {},
  words: RecipeStep['words'] = {},
): RecipeStep => ({
  ...{ id: `${step} ${JSON.stringify([numbers, words])}`, step, numbers, words },
});
export const PICTURE = stepOf('picture', {}, { picture: 'p', holds: 'numbers' });
export const recipe = (steps: readonly RecipeStep[], more: Partial<Recipe> = {}): Recipe => ({
  ...{ name: 'T', size: [WIDTH, HEIGHT], repeats: [true, true], steps, ...more },
});
/** Nothing but pictures. */
export const bringing = (picture: (sha: string) => Image): Sources => {
  const none = () => {
    throw new Error('There is none.');
  };
  return { picture, surface: none, mesh: none, face: none };
};
/** What steps make of a picture. */
export const made = (
  image: Image,
  steps: readonly RecipeStep[],
  others: Readonly<Record<string, Image>> = {},
  more: Partial<Recipe> = {},
): Image => {
  const recipes = new Map([
    ['t', recipe([PICTURE, ...steps], more)],
    ...Object.keys(others).map(
      (name) => [name, recipe([stepOf('picture', {}, { picture: name, holds: 'numbers' })])] as const,
    ),
  ]);
  return createMaker(
    recipes,
    bringing((sha) => others[sha] ?? image),
  ).image('t');
};
export const at = ({ width, data }: Image, x: number, y: number, c = 0): number =>
  data[(y * width + x) * CHANNELS + c]!;
export const near = (a: number, b: number, within: number, what = ''): void =>
  assert.ok(Math.abs(a - b) <= within, `${what} ${a} is not ${b}`);
/** The same by libvips, from and to bytes. */
export const byVips = async (image: Image, how: (one: Sharp) => Sharp): Promise<Buffer> => {
  const bytes = Buffer.from(planeOf(image, 0).map((x) => Math.round(x * 255)));
  const raw = { width: image.width, height: image.height, channels: 1 } as const;
  return how(sharp(bytes, { raw })).toColourspace('b-w').raw().toBuffer();
};
