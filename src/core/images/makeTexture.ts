import type { Mesh } from '../meshes/mesh.ts';
import { givenOf, type Around, type ImageStep } from './declareStep.ts';
import { blank, sizeOf, type Image } from './image.ts';
import type { Face } from '../letters/face.ts';
import { IMAGE_STEPS } from './imageSteps.ts';
import { MOST_PIXELS, texturesIn, wordsIn, type Recipe, type RecipeStep } from './recipe.ts';
import { digestOfJson } from '../numbers/digest.ts';
import { changedRows, gathered, madeRows, rowsOf, type Rows } from './rows.ts';
import { resampled } from './resampled.ts';

/** Where steps have from what is not made of steps. Each throws an Error that says what is not there. */
export interface Sources {
  readonly picture: (sha: string) => Image;
  readonly surface: (word: string, size: readonly [number, number], time: number) => Image;
  readonly mesh: (word: string) => Mesh;
  readonly face: (name: string) => Face;
  /** Told how much of a texture is made, from 0 to 1. */
  readonly progress?: Told;
}
type Told = (share: number) => void;

/** What a step came to; where it could not be made, what was before it, and why. */
export interface MadeStep {
  readonly id: string;
  readonly image: Image;
  readonly mistake: string | null;
}

/** What makes textures brings pictures, which have been read, and remembers what it made. */
export interface Maker {
  /**
   * Every step of a texture, of its size times `scale`, each a picture of its own.
   * @param see is shown each as soon as it is made. @throws Error where there is no such texture
   */
  readonly steps: (id: string, scale?: number, see?: (made: MadeStep) => void) => readonly MadeStep[];
  /**
   * What a texture comes to, made by bands of rows as they are asked for: of one step after another no picture is held, but
   * before and after a step that looks everywhere. @throws Error that says which step of which texture could not be made
   */
  readonly rows: (id: string, scale?: number) => Rows;
  /** All of them in one picture. @throws Error as above */
  readonly image: (id: string, scale?: number) => Image;
}

/** The step that is told of, where it may stand there. @throws Error */
const stepFor = ({ step: name }: RecipeStep, isBegun: boolean): ImageStep => {
  const step = IMAGE_STEPS.get(name);
  if (!step) throw new Error(`There is no image step “${name}”.`);
  if (!isBegun && !step.isSource)
    throw new Error(
      `${step.name} changes a picture, and there is none before it: begin with ${sourceNames()}.`,
    );
  if (isBegun && step.isSource)
    throw new Error(
      `${step.name} begins a texture; to lay it over what is here, make it one of its own and mix it.`,
    );
  return step;
};
const refuseLarge = ({ width, height }: Pick<Image, 'width' | 'height'>): void => {
  if (width * height > MOST_PIXELS)
    throw new Error(
      `This would be ${width} × ${height} pixels; at most ${MOST_PIXELS / 2 ** 20} million are made.`,
    );
};
/** Forgets the oldest until no more than so many pixels are held. */
const forget = <T>(known: Map<string, T>, imageOf: (one: T) => Image, most: number): void => {
  const pixels = (one: T): number => imageOf(one).width * imageOf(one).height;
  let held = 0;
  for (const one of known.values()) held += pixels(one);
  for (const [oldest, one] of known) {
    if (held <= most) break;
    known.delete(oldest);
    held -= pixels(one);
  }
};

/** What a source is given: how large a picture, or a band of one, is asked of it. */
const frameOf = (width: number, height: number): Image => ({ width, height, data: new Float32Array(0) });

/** What a maker may be told. */
interface Remembering {
  /** Pixels that are remembered, of all steps together, and of textures that others read. */
  readonly most?: number;
  readonly known?: Map<string, MadeStep>;
  /** Pixels of a band, about. */
  readonly band?: number;
}

/** Makes textures from recipes: the same recipes and pictures always give the same numbers. */
export const createMaker = (
  recipes: ReadonlyMap<string, Recipe>,
  sources: Sources,
  { most = 2 ** 24, known = new Map<string, MadeStep>(), band }: Remembering = {},
): Maker => {
  const underWay: string[] = [];
  /** What was made whole on the way to rows: what steps that look everywhere came to, and textures that others read. */
  const wholes = new Map<string, Image>();
  const remembered = (key: string, make: () => Image): Image => {
    const image = wholes.get(key) ?? make();
    wholes.delete(key);
    wholes.set(key, image);
    forget(wholes, (each) => each, most);
    return image;
  };

  /** The cache key of each texture that others read; recipes do not change while a maker is used. */
  const keys = new Map<string, string>();
  /** What a step reads besides what is before it. */
  const readBy = (step: RecipeStep, reads: Recipe['reads']): readonly unknown[] => [
    texturesIn([step]).map(keyOf),
    wordsIn(step, 'surface', 'prop').map((word) => reads?.get(word)?.is),
  ];
  /** The cache key of what a step makes: a digest of the key of what is before it, and of all that it reads. */
  const keyAfter = (before: string, told: RecipeStep, reads: Recipe['reads']): string =>
    digestOfJson([before, told.step, told.numbers, told.words, readBy(told, reads)]);
  const keyBefore = ({ size, repeats }: Recipe, scale: number): string =>
    digestOfJson([size, repeats, scale]);
  const keyOf = (id: string): string => {
    const recipe = recipes.get(id);
    if (!recipe || underWay.includes(id)) return id;
    const found = keys.get(id);
    if (found !== undefined) return found;
    underWay.push(id);
    const made = digestOfJson([
      recipe.size,
      recipe.repeats,
      recipe.steps,
      recipe.steps.map((each) => readBy(each, recipe.reads)),
    ]);
    underWay.pop();
    keys.set(id, made);
    return made;
  };

  /** @throws Error where a texture is being made already */
  const refuseCircle = (id: string): void => {
    if (!underWay.includes(id)) return;
    const names = [...underWay.slice(underWay.indexOf(id)), id].map((each) => recipes.get(each)?.name);
    throw new Error(`It would be made of itself: ${names.join(' → ')}.`);
  };
  /** @throws Error where there is none, or it is being made already */
  const recipeOf = (id: string): Recipe => {
    const recipe = recipes.get(id);
    if (!id) throw new Error('No texture is chosen here.');
    if (!recipe) throw new Error('The texture that this reads was deleted.');
    refuseCircle(id);
    return recipe;
  };
  /** What all steps of a recipe are made among. */
  const amongAll = (recipe: Recipe, scale: number) => ({
    ...{ size: recipe.size, scale, wraps: recipe.repeats },
    ...{ picture: sources.picture, mesh: sources.mesh, face: sources.face },
    surface: ((word, ...rest) => {
      recipe.reads?.get(word)?.textures.forEach(refuseCircle);
      return sources.surface(word, ...rest);
    }) satisfies Around['surface'],
  });

  const imageOf = (id: string, scale: number, progress?: Told): Image => {
    const recipe = recipeOf(id);
    // Each step is let go of once the next is made.
    let last: MadeStep | null = null;
    for (last of stepsOf(id, scale, progress))
      if (last.mistake !== null) throw new Error(`${recipe.name} cannot be made: ${last.mistake}`);
    if (!last) throw new Error(`${recipe.name} has no step yet.`);
    return last.image;
  };
  function* stepsOf(id: string, scale: number, progress: Told = () => undefined): Generator<MadeStep> {
    const recipe = recipes.get(id);
    if (!recipe) throw new Error('There is no such texture.');
    underWay.push(id);
    try {
      let [image, before] = [blank(1, 1), keyBefore(recipe, scale)];
      let isBegun = false;
      for (const [place, told] of recipe.steps.entries()) {
        const within: Told = (share) => progress((place + share) / recipe.steps.length);
        if (told.off) {
          yield { id: told.id, image, mistake: null };
          continue;
        }
        const key = keyAfter(before, told, recipe.reads);
        before = key;
        const found = known.get(key);
        const made = ((): MadeStep => {
          if (found) return { ...found, id: told.id };
          try {
            const step = stepFor(told, isBegun);
            const from = step.isSource ? frameOf(...sizeOf(recipe.size, scale)) : image;
            const next = step.make(from, givenOf(step, told, { scale }), {
              ...amongAll(recipe, scale),
              ...{ top: 0, progress: within },
              texture: (other) => imageOf(other, scale, within),
              beside: (other, { width, height }) =>
                resampled(imageOf(other, scale, within), [width, height], recipe.repeats),
            });
            refuseLarge(next);
            return { id: told.id, image: next, mistake: null };
          } catch (error) {
            return { id: told.id, image, mistake: (error as Error).message };
          }
        })();
        // What could not be made may be later, and what follows is another then: the failure is part of its key.
        if (made.mistake !== null) before = digestOfJson([key, 'failed', made.mistake]);
        if (!found && made.mistake === null) {
          known.set(key, made);
          forget(known, (each) => each.image, most);
        }
        if (made.mistake === null) isBegun = true;
        // What one step has to say of itself is not said of the next.
        const { width, height, data } = made.image;
        image = { width, height, data };
        yield made;
      }
    } finally {
      underWay.pop();
    }
  }

  /** A texture that another reads. */
  const readRows = (id: string, scale: number): Rows => {
    const recipe = recipeOf(id);
    if (recipe.size[0] * recipe.size[1] * scale * scale > most) return rowsFor(id, scale);
    return rowsOf(remembered(`${scale} ${keyOf(id)}`, () => gathered(rowsFor(id, scale), undefined, band)));
  };
  const rowsFor = (id: string, scale: number): Rows => {
    const recipe = recipeOf(id);
    const { steps, name, repeats } = recipe;
    if (!steps.some(({ off }) => !off)) throw new Error(`${name} has no step yet.`);
    // How far it is, of the texture that was asked for.
    const isAskedFor = !underWay.length;
    const progress = (done: number): void => {
      if (isAskedFor) sources.progress?.(done / steps.length);
    };
    const named = <T>(make: () => T): T => {
      try {
        return make();
      } catch (error) {
        throw new Error(`${name} cannot be made: ${(error as Error).message}`, { cause: error });
      }
    };
    let rows: Rows | null = null;
    /** How many steps are done with. */
    let done = 0;
    let key = keyBefore(recipe, scale);
    const plan = (told: RecipeStep, place: number): Rows => {
      key = keyAfter(key, told, recipe.reads);
      const before = rows;
      const step = stepFor(told, before !== null);
      const given = givenOf(step, told, { scale });
      const others = new Map(wordsIn(told, 'texture').map((word) => [word, readRows(word, scale)]));
      const otherOf = (word: string): Rows => others.get(word) ?? readRows(word, scale);
      /** Others at the size of what is changed, by their words. */
      const sized = new Map<string, Rows>();
      const sizedOf = (word: string): Rows => {
        const other = otherOf(word);
        const { width, height } = before ?? other;
        const isAsLarge = other.width === width && other.height === height;
        const made =
          sized.get(word) ??
          (isAsLarge ? other : rowsOf(resampled(gathered(other, undefined, band), [width, height], repeats)));
        sized.set(word, made);
        return made;
      };
      const among = (top: number, share?: Around['progress']): Around => ({
        ...{ ...amongAll(recipe, scale), top, progress: share ?? (() => undefined) },
        texture: (word) => gathered(otherOf(word), undefined, band),
        beside: (word, { height }) => {
          const other = sizedOf(word);
          return height === other.height ? gathered(other, undefined, band) : other.take(top, top + height);
        },
      });
      if (before && step.rows) return step.rows(before, given, { scale, wraps: repeats });
      const reach = step.reach?.(given, { scale }) ?? null;
      const [width, height] = sizeOf(recipe.size, scale);
      if (reach === null)
        return rowsOf(
          remembered(key, () => {
            const from = before
              ? gathered(before, (share) => progress(done + share * (place - done)), band)
              : frameOf(width, height);
            return step.make(
              from,
              given,
              among(0, (share) => progress(place + share)),
            );
          }),
        );
      if (before)
        return changedRows(before, reach, repeats[1], (image, top) => step.make(image, given, among(top)));
      return madeRows(width, height, (top, bottom) =>
        step.make(frameOf(width, bottom - top), given, among(top)),
      );
    };
    underWay.push(id);
    try {
      named(() => {
        for (const [place, told] of steps.entries()) {
          if (told.off) continue;
          rows = plan(told, place);
          refuseLarge(rows);
          if (rows.whole) progress((done = place + 1));
        }
      });
    } finally {
      underWay.pop();
    }
    const made = rows!;
    return {
      ...made,
      take: (top, bottom) => {
        const taken = named(() => made.take(top, bottom));
        progress(done + (steps.length - done) * (bottom / made.height));
        return taken;
      },
    };
  };
  return {
    steps: (id, scale = 1, see = () => undefined) => {
      const all: MadeStep[] = [];
      for (const made of stepsOf(id, scale, sources.progress)) {
        see(made);
        all.push(made);
      }
      return all;
    },
    rows: (id, scale = 1) => rowsFor(id, scale),
    image: (id, scale = 1) => gathered(rowsFor(id, scale), undefined, band),
  };
};

const sourceNames = (): string =>
  [...IMAGE_STEPS.values()].flatMap(({ name, isSource }) => (isSource ? [name] : [])).join(', ');
