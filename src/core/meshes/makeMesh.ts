import { arc } from './kinds/arc.ts';
import { board } from './kinds/board.ts';
import { box } from './kinds/box.ts';
import { card } from './kinds/card.ts';
import { cloth } from './kinds/cloth.ts';
import { cylinder } from './kinds/cylinder.ts';
import { dome } from './kinds/dome.ts';
import { figure } from './kinds/figure.ts';
import { floor } from './kinds/floor.ts';
import { liquid } from './kinds/liquid.ts';
import { plane } from './kinds/plane.ts';
import { relief } from './kinds/relief.ts';
import { ribbon } from './kinds/ribbon.ts';
import { sphere } from './kinds/sphere.ts';
import { vessel } from './kinds/vessel.ts';
import { faceHere } from '../letters/arrived.ts';
import type { MeshKind, RecipeOf } from './kind.ts';
import { areHeightsHere } from './heights.ts';
import { hasArrived, importedMesh, type ImportedRecipe } from './imported.ts';
import type { Mesh } from './mesh.ts';

const KINDS = [
  cloth,
  plane,
  floor,
  card,
  box,
  sphere,
  dome,
  arc,
  cylinder,
  vessel,
  liquid,
  ribbon,
  board,
  relief,
  figure,
] as const;

type RecipeOfKind<K> = K extends MeshKind<infer Kind, infer F, infer W> ? RecipeOf<Kind, F, W> : never;
/** What a mesh is made from, by its kind. */
export type MadeRecipe = RecipeOfKind<(typeof KINDS)[number]>;
/** What a prop's mesh is: made from numbers, or brought from a file. */
export type MeshRecipe = MadeRecipe | ImportedRecipe;

/** Every kind of mesh there is: a file each, and a name here. */
export const MESH_KINDS: ReadonlyMap<string, MeshKind> = new Map(
  KINDS.map((each) => [each.kind, each as unknown as MeshKind]),
);

/** Makes a prop's mesh from its recipe; the same recipe always gives the same mesh. */
export const makeMesh = (recipe: MeshRecipe): Mesh =>
  recipe.kind === 'imported' ? importedMesh(recipe) : MESH_KINDS.get(recipe.kind)!.make(recipe as never);

/** What a mesh is made from besides its numbers: by the SHA-256 of its bytes, or by a face’s name. */
export interface Brought {
  readonly what: 'mesh' | 'heights' | 'letters';
  readonly blob: string;
  readonly isHere: boolean;
}

/** What has to be brought before a mesh is what its recipe says, and whether it is here. */
export const broughtFor = (recipe: MeshRecipe): Brought | null => {
  if (recipe.kind === 'imported') return { what: 'mesh', blob: recipe.blob, isHere: hasArrived(recipe) };
  if (recipe.kind === 'board')
    return { what: 'letters', blob: recipe.face, isHere: faceHere(recipe.face) !== undefined };
  const { picture } = recipe;
  return picture === undefined ? null : { what: 'heights', blob: picture, isHere: areHeightsHere(picture) };
};

/** The same mesh with few corners, for a small picture. */
export const coarse = (recipe: MeshRecipe, most: number): MeshRecipe => {
  if (recipe.kind === 'imported') return recipe;
  const fewer = Object.entries(MESH_KINDS.get(recipe.kind)!.fields)
    .filter(([, field]) => field.whole)
    .map(([name]) => {
      const given = (recipe as unknown as Readonly<Record<string, number | readonly number[]>>)[name]!;
      return [name, typeof given === 'number' ? Math.min(given, most) : given.map((n) => Math.min(n, most))];
    });
  return { ...recipe, ...Object.fromEntries(fewer) } as MeshRecipe;
};
