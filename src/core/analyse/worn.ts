import { lackOf } from '../taps/lackOf.ts';
import type { Value } from '../program/value.ts';
import type { Given, Standing } from '../evaluate/points/onMesh.ts';

/** A shader on a prop: a material's numbers, and what it stands on. */
export interface Worn {
  /** The material's id and name; null where the shader stands at its defaults on the square of uv. */
  readonly material: { readonly id: string; readonly name: string } | null;
  readonly prop: { readonly id: string; readonly name: string } | null;
  readonly standing: Standing;
  readonly given: Given;
}

/** What the columns lack of what a value reads, as a sentence; distances to what is near are known where every prop is told of it. */
export const lackWhere = (worn: readonly Worn[], value: Value): string | null =>
  lackOf(
    value,
    worn.every(({ standing }) => standing.near !== undefined),
  );
