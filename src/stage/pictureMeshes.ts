import type { BufferGeometry } from 'three';
import { coarse, type MeshRecipe } from '#core/meshes/makeMesh.ts';
import type { Mesh } from '#core/meshes/mesh.ts';
import { uvArea } from '#core/meshes/uvArea.ts';
import { declarationOf, type InputName } from '#core/program/inputs.ts';
import { inputsRead, type Value } from '#core/program/value.ts';

/** Step pictures are small: a mesh of so many parts each way shows the same values, and is drawn once for every step. */
const FEW = 48;
/** Still fewer, for values that lie straight between the corners whatever the mesh is. */
const FEWEST = 4;
/** How much less of uv may be covered, as a share. */
const SAME = 1e-4;

const STRAIGHT: ReadonlySet<string> = new Set<InputName>(['uv', 'uv2']);

/** Whether a value reads nothing of a point but its place of uv, so that how finely a mesh is divided is nothing to it. */
export const isOfUvAlone = (value: Value): boolean =>
  [...inputsRead([value])].every(
    (name) => STRAIGHT.has(name) || declarationOf(name as InputName).rate !== 'point',
  );

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
  return (value) => meshes.geometryFor(coversAlike && value && isOfUvAlone(value) ? plain : fine);
};
