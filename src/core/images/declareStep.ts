import type { Mesh } from '../meshes/mesh.ts';
import type { Image } from './image.ts';
import type { Rows } from './rows.ts';
import type { Face } from '../letters/face.ts';

/** What an image step is told: a number or several, one of some words, a switch, a curve or a gradient, another texture or a picture. */
export type Argument =
  | {
      readonly kind: 'number';
      readonly start: number;
      readonly least: number;
      readonly most: number;
      readonly whole?: true;
      /** `px`: of the whole texture, so that a smaller one shows the same. */
      readonly unit?: 'px' | '°' | '';
      readonly about: string;
    }
  | {
      readonly kind: 'numbers';
      readonly start: readonly number[];
      readonly least: number;
      readonly most: number;
      readonly whole?: true;
      readonly unit?: 'px';
      /** A size: powers of two near it are offered. */
      readonly isSize?: true;
      readonly about: string;
    }
  | {
      readonly kind: 'choice';
      readonly start: string;
      readonly options: readonly string[];
      readonly about: string;
    }
  /** Free words, of at most so many letters. */
  | { readonly kind: 'text'; readonly start: string; readonly most: number; readonly about: string }
  | { readonly kind: 'flag'; readonly start: boolean; readonly about: string }
  | { readonly kind: 'curve' | 'gradient'; readonly start: readonly number[]; readonly about: string }
  /** By a word: a texture’s id, a picture’s SHA-256, a shader’s or material’s id and maybe a strand’s, a set’s id and a prop’s. */
  | { readonly kind: WordKind; readonly about: string };

/** What is named by a word that is no choice. */
export const WORD_KINDS = ['texture', 'picture', 'surface', 'prop'] as const;
export type WordKind = (typeof WORD_KINDS)[number];

/** What a word names: a part by its id, and maybe a strand or a prop of it. */
export const namedBy = (word: string): { readonly id: string; readonly inner: string | undefined } => {
  const [id = '', inner] = word.split(' ');
  return { id, inner };
};

/** What is told of a step: numbers by their names, and words (choices, ids of textures, pictures by their SHA-256). */
export interface Told {
  readonly numbers: Readonly<Record<string, readonly number[]>>;
  readonly words: Readonly<Record<string, string>>;
}

/** What a step is made among. */
export interface Around {
  /** Pixels of the whole texture, and how much smaller this one is: 1 where it is whole. */
  readonly size: readonly [number, number];
  readonly scale: number;
  readonly wraps: readonly [boolean, boolean];
  /** Pictures and textures that are told by name. @throws Error that says which is not there */
  readonly picture: (sha: string) => Image;
  readonly texture: (id: string) => Image;
  /** The same rows of another texture, at the size of what is changed. */
  readonly beside: (id: string, image: Image) => Image;
  /** Which row of the whole the first one is, of what is given and made: 0 but for steps that are done by bands. */
  readonly top: number;
  /** What a shader or a strand of one is over the square of uv, so many pixels, at a time in seconds. */
  readonly surface: (word: string, size: readonly [number, number], time: number) => Image;
  readonly mesh: (word: string) => Mesh;
  /** Outlines of letters. */
  readonly face: (name: string) => Face;
  /** Told how much of a long step is done, from 0 to 1. */
  readonly progress: (share: number) => void;
}

/** What a step reads of what it is told: what is not told is as it starts. */
export interface Given {
  readonly number: (name: string) => number;
  readonly numbers: (name: string) => readonly number[];
  readonly word: (name: string) => string;
  readonly flag: (name: string) => boolean;
  /** Pixels of this size, of a number that is told in pixels of the whole. */
  readonly pixels: (name: string) => number;
}

/** Pixels across and down. */
export type Size = readonly [number, number];
/** How large what a step reads is; null where it is not there. */
export interface Sizes {
  readonly picture: (sha: string) => Size | null;
  readonly texture: (id: string) => Size | null;
}

export interface ImageStep {
  readonly name: string;
  readonly summary: string;
  /** Begins a texture; the others change what is before them. */
  readonly isSource?: true;
  readonly arguments: Readonly<Record<string, Argument>>;
  /**
   * How large what it makes is, of the whole, where that is neither as large as the texture says nor as what is before it.
   * @param before what it is given. @returns null where what it reads is not there
   */
  readonly size?: (given: Given, around: Sizes, before: Size) => Size | null;
  /**
   * How many rows up and down each of it looks: then it is made by bands of rows, and a source of as many as it is given. Null,
   * or left out, where it looks everywhere: then it is made of the whole.
   */
  readonly reach?: (given: Given, around: Pick<Around, 'scale'>) => number | null;
  /** How it is made by bands where it reads rows that lie elsewhere: what it is of others, not yet made. */
  readonly rows?: (of: Rows, given: Given, around: Pick<Around, 'scale' | 'wraps'>) => Rows;
  /** Where its way of doing it comes from. */
  readonly from?: string;
  /** @param image what is changed; of a source, no more than its size counts. @throws Error that says, in a sentence, what cannot be done */
  readonly make: (image: Image, given: Given, around: Around) => Image;
}

export const declareStep = <const S extends ImageStep>(step: S): S => step;

export const givenOf = (
  step: ImageStep,
  { numbers, words }: Told,
  { scale }: Pick<Around, 'scale'>,
): Given => {
  const argument = (name: string): Argument => {
    const found = step.arguments[name];
    if (!found) throw new Error(`${step.name} has no argument ${name}.`);
    return found;
  };
  const list = (name: string): readonly number[] => {
    const own = argument(name);
    const told = numbers[name];
    if (told) return told;
    if (own.kind === 'number') return [own.start];
    if (own.kind === 'flag') return [own.start ? 1 : 0];
    return 'start' in own && typeof own.start !== 'string' ? (own.start as readonly number[]) : [];
  };
  return {
    numbers: list,
    number: (name) => list(name)[0]!,
    flag: (name) => list(name)[0] !== 0,
    pixels: (name) => list(name)[0]! * scale,
    word: (name) => {
      const own = argument(name);
      return words[name] ?? (own.kind === 'choice' || own.kind === 'text' ? own.start : '');
    },
  };
};
