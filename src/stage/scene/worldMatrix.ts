import type { Matrix4, Object3D } from 'three';

/**
 * Where a prop's mesh stands in the world now, whatever was drawn last. It is worked out anew each time: a mesh keeps its
 * place in its node, so that three sees no reason to look at it when only the node, or what carries that, was moved.
 */
export const worldMatrixOf = (object: Object3D): Matrix4 => {
  object.matrixWorldNeedsUpdate = true;
  object.updateWorldMatrix(true, false);
  return object.matrixWorld;
};
