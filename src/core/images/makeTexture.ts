import { shares } from '../numbers/filled.ts';
import { createDigest } from '../numbers/digest.ts';
import type { Mesh } from '../meshes/mesh.ts';
import { givenOf, namedBy, type Argument, type WordKind } from './declareStep.ts';
import { blank, type Image } from './image.ts';
import type { Face } from '../letters/face.ts';
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
/** Where steps have from what is not made of steps. Each throws an Error that says what is not there. */
export interface Sources {
  readonly picture: (sha: string) => Image;
  readonly surface: (word: string, size: readonly [number, number], time: number) => Image;
  readonly mesh: (word: string) => Mesh;
  readonly face: (name: string) => Face;
  /** Told how much of a texture is made, from 0 to 1. */
  readonly progress?: (share: number) => void;
}

/** What a step came to; where it could not be made, what was before it, and why. */
export interface MadeStep {
  readonly id: string;
  readonly image: Image;
  readonly mistake: string | null;
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

/** What makes textures brings pictures, which have been read, and remembers what it made. */
export interface Maker {
  /** Every step of a texture, of its size times `scale`. @throws Error where there is no such texture */
  readonly steps: (id: string, scale?: number) => readonly MadeStep[];
  /** What a texture comes to. @throws Error that says which step of which texture could not be made */
  readonly image: (id: string, scale?: number) => Image;
}

/**
 * Makes textures from recipes: the same recipes and pictures always give the same numbers.
 * @param most pixels it remembers, of all steps together
 */
export const createMaker = (
  recipes: ReadonlyMap<string, Recipe>,
  sources: Sources,
  most = 2 ** 24,
  known = new Map<string, MadeStep>(),
): Maker => {
  const underWay: string[] = [];

  /** What a step reads besides what is before it. */
  const readBy = (step: RecipeStep, reads: Recipe['reads']): readonly unknown[] => [
    texturesIn([step]).map(keyOf),
    wordsIn(step, 'surface', 'prop').map((word) => reads?.get(word)?.is),
  ];
  /** What tells a texture apart, with all that it is made of. */
  const keyOf = (id: string): string => {
    const recipe = recipes.get(id);
    if (!recipe || underWay.includes(id)) return id;
    underWay.push(id);
    const made = JSON.stringify([
      recipe.size,
      recipe.repeats,
      recipe.steps,
      recipe.steps.map((each) => readBy(each, recipe.reads)),
    ]);
    underWay.pop();
    return made;
  };
  const remember = (key: string, made: MadeStep): void => {
    known.delete(key);
    known.set(key, made);
    let held = 0;
    for (const { image } of known.values()) held += image.width * image.height;
    for (const [oldest, { image }] of known) {
      if (held <= most) break;
      known.delete(oldest);
      held -= image.width * image.height;
    }
  };

  /** @throws Error where a texture is being made already */
  const refuseCircle = (id: string): void => {
    if (!underWay.includes(id)) return;
    const names = [...underWay.slice(underWay.indexOf(id)), id].map((each) => recipes.get(each)?.name);
    throw new Error(`It would be made of itself: ${names.join(' → ')}.`);
  };
  const imageOf = (id: string, scale: number): Image => {
    const recipe = recipes.get(id);
    if (!id) throw new Error('No texture is chosen here.');
    if (!recipe) throw new Error('The texture that this reads was deleted.');
    refuseCircle(id);
    // Each step is let go of once the next is made: a long recipe takes no more memory than a short one.
    let last: MadeStep | null = null;
    for (last of stepsOf(id, scale))
      if (last.mistake !== null) throw new Error(`${recipe.name} cannot be made: ${last.mistake}`);
    if (!last) throw new Error(`${recipe.name} has no step yet.`);
    return last.image;
  };

  function* stepsOf(id: string, scale: number): Generator<MadeStep> {
    const recipe = recipes.get(id);
    if (!recipe) throw new Error('There is no such texture.');
    underWay.push(id);
    try {
      let [image, before] = [blank(1, 1), `${recipe.size} ${recipe.repeats} ${scale}`];
      let isBegun = false;
      // How far it is, of the texture that was asked for.
      const progress = (done: number): void => {
        if (underWay.length === 1) sources.progress?.(done / recipe.steps.length);
      };
      for (const [place, told] of recipe.steps.entries()) {
        const step = IMAGE_STEPS.get(told.step);
        if (told.off) {
          yield { id: told.id, image, mistake: null };
          continue;
        }
        const key = `${before} ${JSON.stringify([told.step, told.numbers, told.words, readBy(told, recipe.reads)])}`;
        before = key;
        const found = known.get(key);
        const made = ((): MadeStep => {
          if (found) return { ...found, id: told.id };
          try {
            if (!step) throw new Error(`There is no image step “${told.step}”.`);
            if (!isBegun && !step.isSource)
              throw new Error(
                `${step.name} changes a picture, and there is none before it: begin with ${sourceNames()}.`,
              );
            if (isBegun && step.isSource)
              throw new Error(
                `${step.name} begins a texture; to lay it over what is here, make it one of its own and mix it.`,
              );
            const given = givenOf(step, told, { scale });
            const next = step.make(image, given, {
              ...{ size: recipe.size, scale, wraps: recipe.repeats, picture: sources.picture },
              texture: (other) => imageOf(other, scale),
              surface: (word, ...rest) => {
                recipe.reads?.get(word)?.textures.forEach(refuseCircle);
                return sources.surface(word, ...rest);
              },
              ...{ mesh: sources.mesh, face: sources.face, progress: (share) => progress(place + share) },
            });
            if (next.width * next.height > MOST_PIXELS)
              throw new Error(
                `This would be ${next.width} × ${next.height} pixels; at most ${MOST_PIXELS / 2 ** 20} million are made.`,
              );
            return { id: told.id, image: next, mistake: null };
          } catch (error) {
            return { id: told.id, image, mistake: (error as Error).message };
          }
        })();
        // What could not be made may be once what it reads is there.
        if (!found && made.mistake === null) remember(key, made);
        if (made.mistake === null) isBegun = true;
        // What one step has to say of itself is not said of the next.
        const { width, height, data } = made.image;
        image = { width, height, data };
        progress(place + 1);
        yield made;
      }
    } finally {
      underWay.pop();
    }
  }
  return { steps: (id, scale = 1) => [...stepsOf(id, scale)], image: (id, scale = 1) => imageOf(id, scale) };
};

const sourceNames = (): string =>
  [...IMAGE_STEPS.values()].flatMap(({ name, isSource }) => (isSource ? [name] : [])).join(', ');

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

/** Reads what the server, or a file, gave as numbers: width, height and bits, then four samples a pixel. */
export const readNumbers = (bytes: ArrayBuffer): Image => {
  const [width, height, bits] = new Uint32Array(bytes, 0, 3) as unknown as [number, number, number];
  if (bits === 32) return { width, height, data: new Float32Array(bytes, 12), isLight: true };
  const samples = bits === 16 ? new Uint16Array(bytes, 12) : new Uint8Array(bytes, 12);
  const whole = bits === 16 ? 65535 : 255;
  return { width, height, data: shares(samples, whole) };
};
