import { Matrix4, Quaternion, Vector3 } from 'three';
import type { Triangles } from './distancesOnGrid.ts';

/** A place without its size: distances are baked of the mesh as large as it stands, and stay as they are when it moves. */
export const rigid = (world: Matrix4): { readonly place: Matrix4; readonly size: Vector3 } => {
  const [at, way, size] = [new Vector3(), new Quaternion(), new Vector3()];
  world.decompose(at, way, size);
  return { place: new Matrix4().compose(at, way, new Vector3(1, 1, 1)), size };
};

/** A mesh's numbers, as large as it stands in the world. */
export const grown = ({ positions, indices }: Triangles, world: Matrix4): Triangles => {
  const size = rigid(world).size.toArray();
  return { positions: positions.map((x, i) => x * size[i % 3]!), indices: indices.slice() };
};
