import { Matrix3, Vector3 } from 'three';
import type { MeshRecipe } from '#core/meshes/makeMesh.ts';
import type { Mesh } from '#core/meshes/mesh.ts';
import { worldMatrixOf } from './scene/worldMatrix.ts';
import type { PlacedProp } from './scene/props.ts';

/**
 * How far a prop's mesh reaches below its own place against a way in the world, in metres: raised by so much along it, it
 * touches what it lies on. Below 0 where all of it lies above its place.
 */
export const reachBelow = (
  { node, object, recipe }: Pick<PlacedProp, 'node' | 'object' | 'recipe'>,
  way: Vector3,
  meshFor: (recipe: MeshRecipe) => Mesh,
): number => {
  const matrixWorld = worldMatrixOf(object);
  const away = new Vector3().setFromMatrixPosition(matrixWorld).sub(node.getWorldPosition(new Vector3()));
  // A corner's share of the way is a sum over its own numbers.
  const [x, y, z] = way.clone().applyMatrix3(new Matrix3().setFromMatrix4(matrixWorld).transpose());
  const { positions } = meshFor(recipe);
  let least = Infinity;
  for (let i = 0; i < positions.length; i += 3)
    least = Math.min(least, positions[i]! * x! + positions[i + 1]! * y! + positions[i + 2]! * z!);
  return Number.isFinite(least) ? -least - away.dot(way) : 0;
};
