import type { Given, Standing } from '../evaluate/points/onMesh.ts';

/** A shader on a prop: a material's numbers, and what it stands on. */
export interface Worn {
  /** The material's id and name; null where the shader stands at its defaults on the square of uv. */
  readonly material: { readonly id: string; readonly name: string } | null;
  readonly prop: { readonly id: string; readonly name: string } | null;
  readonly standing: Standing;
  readonly given: Given;
}
