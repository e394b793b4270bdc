import { givenOf, type Size, type Sizes } from './declareStep.ts';
import { IMAGE_STEPS } from './imageSteps.ts';
import type { Recipe } from './recipe.ts';

/**
 * How large each step of a texture comes to be, without making any of it; of one that is left out, or that something is missing
 * for, as large as what is before it.
 * @param picture the size of a picture that was brought, by its SHA-256
 */
export const sizesOf = (
  id: string,
  recipes: ReadonlyMap<string, Recipe>,
  picture: Sizes['picture'],
  underWay: readonly string[] = [],
): readonly Size[] => {
  const recipe = recipes.get(id);
  if (!recipe || underWay.includes(id)) return [];
  const texture = (other: string): Size | null =>
    sizesOf(other, recipes, picture, [...underWay, id]).at(-1) ?? null;
  let before: Size = recipe.size;
  let isBegun = false;
  return recipe.steps.map((told) => {
    const step = told.off ? undefined : IMAGE_STEPS.get(told.step);
    // One that begins a texture behind another one cannot be made.
    if (!step || Boolean(step.isSource) === isBegun) return before;
    isBegun = true;
    if (step.size)
      before = step.size(givenOf(step, told, { scale: 1 }), { picture, texture }, before) ?? before;
    return before;
  });
};

/** A texture in hand is shown no smaller than it is asked for, where it is that large, and none of its steps more often so large. */
const MOST_TIMES = 4;
/**
 * How much smaller than it is a texture is shown, so that its longer side is `longest` pixels, or up to √2 times as many: the share
 * stays the same while a frame is dragged, and with it all that was made before.
 */
export const shareShown = (sizes: readonly Size[], longest: number): number => {
  const last = Math.max(...(sizes.at(-1) ?? [longest]));
  const largest = Math.max(...sizes.flat(), 1);
  const share = 2 ** (Math.ceil(2 * Math.log2(longest / last)) / 2);
  return Math.min(share, (MOST_TIMES * longest) / largest, 1);
};
