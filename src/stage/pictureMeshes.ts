import type { BufferGeometry } from 'three';
import { inputsRead } from '#core/evaluate/points/inputNumbers.ts';
import { coarse, type MeshRecipe } from '#core/meshes/makeMesh.ts';
import type { Mesh } from '#core/meshes/mesh.ts';
import { uvArea } from '#core/meshes/uvArea.ts';
import { declarationOf, type InputName } from '#core/program/inputs.ts';
import type { Value } from '#core/program/value.ts';

/** Step pictures are small: a mesh of so many parts each way shows the same values, and is drawn once for every step. */
const FEW = 48;
/** Still fewer, for values that lie straight between the corners whatever the mesh is. */
const FEWEST = 4;
/** How much less of uv may be covered, as a share. */
const SAME = 1e-4;

const STRAIGHT: ReadonlySet<InputName> = new Set<InputName>(['uv', 'uv2']);

const known = new WeakMap<Value, boolean>();
/** Whether a value reads nothing of a point but its place of uv, so that how finely a mesh is divided is nothing to it. */
export const isOfUvAlone = (value: Value): boolean => {
  const found =
    known.get(value) ??
    inputsRead([value]).every((name) => STRAIGHT.has(name) || declarationOf(name).rate !== 'point');
  known.set(value, found);
  return found;
};

/** The meshes that step pictures of a prop are drawn on. */
export const pictureRecipes = (recipe: MeshRecipe): readonly [fine: MeshRecipe, plain: MeshRecipe] => [
  coarse(recipe, FEW),
  coarse(recipe, FEWEST),
];

/** Chooses what a value is drawn on, laid out by uv: as few triangles as say the same. */
export const createPictureMeshes = (
  meshes: {
    readonly meshFor: (recipe: MeshRecipe) => Mesh;
    readonly geometryFor: (recipe: MeshRecipe) => BufferGeometry;
  },
  recipe: MeshRecipe,
): ((value: Value | null) => BufferGeometry) => {
  const [fine, plain] = pictureRecipes(recipe);
  const coversAlike = uvArea(meshes.meshFor(plain)) >= uvArea(meshes.meshFor(fine)) * (1 - SAME);
  const [onFine, onPlain] = [meshes.geometryFor(fine), meshes.geometryFor(plain)];
  return (value) => (coversAlike && value && isOfUvAlone(value) ? onPlain : onFine);
};
