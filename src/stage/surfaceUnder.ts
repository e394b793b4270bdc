import { Vector3, type Ray } from 'three';
import type { Mesh } from '#core/meshes/mesh.ts';
import type { MeshRecipe } from '#core/meshes/makeMesh.ts';
import { tripleAt } from '#core/numbers/vectors.ts';
import { worldMatrixOf } from './scene/worldMatrix.ts';
import type { PlacedProp } from './scene/props.ts';

/** Where a ray meets a surface: in the world, the normal on the ray's side. */
export interface Met {
  readonly id: string;
  readonly point: Vector3;
  readonly normal: Vector3;
}

/** The first triangle of a mesh along a ray in its space, whichever side that is on: where, and its corners, by number too. */
export const firstAlong = (ray: Ray, { positions, indices }: Pick<Mesh, 'positions' | 'indices'>) => {
  const corners = [new Vector3(), new Vector3(), new Vector3()] as const;
  const hit = new Vector3();
  let nearest = Infinity;
  let first = -1;
  for (let t = 0; t < indices.length; t += 3) {
    corners.forEach((corner, k) => corner.fromArray(positions, indices[t + k]! * 3));
    if (!ray.intersectTriangle(...corners, false, hit)) continue;
    const away = hit.distanceToSquared(ray.origin);
    if (away < nearest) [nearest, first] = [away, t];
  }
  if (first < 0) return null;
  corners.forEach((corner, k) => corner.fromArray(positions, indices[first + k]! * 3));
  return ray.intersectTriangle(...corners, false, hit)
    ? { hit, corners, ids: tripleAt(indices, first) }
    : null;
};

/** The nearest surface that a ray in the world meets, of props as their meshes stand; both sides of a triangle count. */
export const surfaceUnder = (
  ray: Ray,
  props: readonly PlacedProp[],
  meshFor: (recipe: MeshRecipe) => Mesh,
): Met | null => {
  let nearest = Infinity;
  let met: Met | null = null;
  for (const { id, object, recipe, hidden } of props) {
    if (hidden) continue;
    const own = ray.clone().applyMatrix4(worldMatrixOf(object).clone().invert());
    const box = object.geometry.boundingBox;
    if (box && !own.intersectsBox(box.clone().expandByScalar(1e-6))) continue;
    const found = firstAlong(own, meshFor(recipe));
    if (!found) continue;
    const point = found.hit.clone().applyMatrix4(object.matrixWorld);
    const away = point.distanceToSquared(ray.origin);
    if (away >= nearest) continue;
    nearest = away;
    const [a, b, c] = found.corners.map((corner) => corner.clone().applyMatrix4(object.matrixWorld));
    const normal = b!.sub(a!).cross(c!.sub(a!)).normalize();
    if (normal.dot(ray.direction) > 0) normal.negate();
    met = { id, point, normal };
  }
  return met;
};
