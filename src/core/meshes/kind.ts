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

/** What a mesh of a kind is made from: its fields’ numbers, and the SHA-256 of a picture where it has one. */
export type RecipeOf<Kind extends string, F extends Fields> = {
  readonly kind: Kind;
  readonly picture?: string;
} & {
  readonly [name in keyof F]: F[name] extends Field<1>
    ? number
    : F[name] extends Field<2>
      ? readonly [number, number]
      : readonly [number, number, number];
};

/** Everything there is to say of a kind of mesh: documents, their schema, the stage and its pictures read it. */
export interface MeshKind<Kind extends string = string, F extends Fields = Fields> {
  readonly kind: Kind;
  readonly summary: string;
  readonly fields: F;
  /** True where it is made from a picture’s heights too. */
  readonly picture?: true;
  /** The same recipe always gives the same mesh. */
  readonly make: (recipe: RecipeOf<Kind, F>) => Mesh;
}

export const meshKind = <const Kind extends string, F extends Fields>(
  declared: MeshKind<Kind, F>,
): MeshKind<Kind, F> => declared;
