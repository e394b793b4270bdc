import { Matrix4, Quaternion, Vector3 } from 'three';
import type { Triple } from '#core/numbers/vectors.ts';

/** A place without its size: distances are baked of the mesh as large as it stands, and stay as they are when it moves. */
export const rigid = (world: Matrix4): { readonly place: Matrix4; readonly size: Vector3 } => {
  const [at, way, size] = [new Vector3(), new Quaternion(), new Vector3()];
  world.decompose(at, way, size);
  return { place: new Matrix4().compose(at, way, new Vector3(1, 1, 1)), size };
};

/** The scale a volume is baked at: five digits, so that the rounding of a turned prop's matrix does not order another. */
export const bakedScale = (world: Matrix4): Triple =>
  rigid(world)
    .size.toArray()
    .map((x) => Number(x.toPrecision(5))) as unknown as Triple;
