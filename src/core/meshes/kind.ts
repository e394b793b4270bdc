import type { Mesh } from './mesh.ts';

type Count = 1 | 2 | 3;

/** One or several numbers of a recipe, and what they may be. What lies beyond is held at the ends. */
export interface Field<N extends Count = Count> {
  readonly numbers: N;
  readonly least: number;
  readonly most: number;
  readonly whole: boolean;
  /** What each is where a document does not say; where there is none, it has to. */
  readonly otherwise?: number | readonly number[];
}

/** Metres, each above 0. */
export const lengths = <N extends Count>(numbers: N): Field<N> => ({
  ...{ numbers, least: 1e-3, most: 1000, whole: false },
});
/** Quads along an edge. */
export const quads = <N extends Count>(numbers: N): Field<N> => ({
  ...{ numbers, least: 1, most: 512, whole: true },
});
/** One number that need not be given. */
export const number = (otherwise: number, least: number, most: number): Field<1> => ({
  ...{ numbers: 1, least, most, whole: false, otherwise },
});
/** Three numbers that need not be given. */
export const three = (
  otherwise: readonly [number, number, number],
  least: number,
  most: number,
): Field<3> => ({
  ...{ numbers: 3, least, most, whole: false, otherwise },
});

export type Fields = Readonly<Record<string, Field>>;

/** A word or a text of a recipe: one of the options where it has them, else whatever fits. */
export type WordField = { readonly otherwise: string } & (
  | { readonly options: readonly string[]; readonly most?: undefined }
  | { readonly options?: undefined; readonly most: number }
);
export type WordFields = Readonly<Record<string, WordField>>;

/** What a mesh of a kind is made from: its fields’ numbers, its words, and the SHA-256 of a picture where it has one. */
export type RecipeOf<Kind extends string, F extends Fields, W extends WordFields = Record<never, never>> = {
  readonly kind: Kind;
  readonly picture?: string;
} & {
  readonly [name in keyof F]: F[name] extends Field<1>
    ? number
    : F[name] extends Field<2>
      ? readonly [number, number]
      : readonly [number, number, number];
} & { readonly [name in keyof W]: string };

/** Everything there is to say of a kind of mesh: documents, their schema, the stage and its pictures read it. */
export interface MeshKind<
  Kind extends string = string,
  F extends Fields = Fields,
  W extends WordFields = WordFields,
> {
  readonly kind: Kind;
  readonly summary: string;
  readonly fields: F;
  readonly words?: W;
  /** True where it is made from a picture’s heights too. */
  readonly picture?: true;
  /** The same recipe always gives the same mesh. */
  readonly make: (recipe: RecipeOf<Kind, F, W>) => Mesh;
}

export const meshKind = <
  const Kind extends string,
  F extends Fields,
  const W extends WordFields = Record<never, never>,
>(
  declared: MeshKind<Kind, F, W>,
): MeshKind<Kind, F, W> => declared;
