import { createDigest } from '../numbers/digest.ts';
import { namedBy, type Argument, type WordKind } from './declareStep.ts';
import { IMAGE_STEPS } from './imageSteps.ts';

/** One step of a texture, as documents tell it. */
export interface RecipeStep {
  readonly id: string;
  readonly step: string;
  readonly numbers: Readonly<Record<string, readonly number[]>>;
  readonly words: Readonly<Record<string, string>>;
  readonly off?: boolean | undefined;
}
/** How a texture is made. */
export interface Recipe {
  readonly name: string;
  readonly size: readonly [number, number];
  /** Whether it comes round, across and down. */
  readonly repeats: readonly [boolean, boolean];
  /** How those that read it do. */
  readonly filter?: 'linear' | 'nearest' | undefined;
  readonly steps: readonly RecipeStep[];
  /** What it is written as, where that is not eight bits of colour; who reads it as it is made has no need of it. */
  readonly kept?: string;
  /** What shaders, materials and props that its steps name are now, by the words that name them. */
  readonly reads?: ReadonlyMap<string, Reading>;
}
/** What stands behind a word that names a surface or a prop. */
export interface Reading {
  /** Tells it apart: another where what is named was changed. */
  readonly is: string;
  /** The textures that a material reads, by which a texture could come to be made of itself. */
  readonly textures: readonly string[];
  /** Pictures and meshes that have to be brought first, by their SHA-256. */
  readonly brings: readonly {
    readonly what: 'picture' | 'heights' | 'mesh' | 'letters';
    readonly blob: string;
  }[];
}
/** More pixels than this are not made. */
export const MOST_PIXELS = 4096 * 4096;

/** The words of a kind in steps. */
export const wordsIn = (
  { step, words }: Pick<RecipeStep, 'step' | 'words'>,
  ...kinds: readonly WordKind[]
): readonly string[] =>
  Object.entries(IMAGE_STEPS.get(step)?.arguments ?? {}).flatMap(([name, { kind }]: [string, Argument]) =>
    (kinds as readonly string[]).includes(kind) && words[name] ? [words[name]] : [],
  );
/** The textures that steps name. */
export const texturesIn = (steps: readonly RecipeStep[]): readonly string[] =>
  steps.flatMap((each) => (each.off ? [] : wordsIn(each, 'texture')));
/** The pictures that steps name, by their SHA-256. */
export const picturesIn = (steps: readonly RecipeStep[]): readonly string[] =>
  steps.flatMap((each) => wordsIn(each, 'picture'));
/** The parts that steps name: textures, shaders, materials, and the sets of props. */
export const partsIn = (steps: readonly RecipeStep[]): readonly string[] =>
  steps.flatMap((each) => wordsIn(each, 'texture', 'surface', 'prop').map((word) => namedBy(word).id));

/** What tells how a texture is made now, with all that it is made of: the same for the same recipe. */
export const digestOf = (id: string, recipes: ReadonlyMap<string, Recipe>): string => {
  const seen = new Set<string>();
  const told = (one: string): unknown => {
    const recipe = recipes.get(one);
    if (!recipe || seen.has(one)) return one;
    seen.add(one);
    const named = recipe.steps.flatMap((step) => wordsIn(step, 'surface', 'prop'));
    return [
      ...[recipe.size, recipe.repeats, recipe.steps, texturesIn(recipe.steps).map(told)],
      // What names nothing else is told as it always was.
      ...(recipe.filter === 'nearest' ? ['nearest'] : []),
      ...(named.length ? [named.map((word) => recipe.reads?.get(word)?.is)] : []),
    ];
  };
  const digest = createDigest();
  const kept = recipes.get(id)?.kept;
  // A texture of eight bits of colour is told as it always was.
  digest.word(JSON.stringify(kept === undefined ? told(id) : [told(id), kept]));
  return digest.text();
};
