import { Matrix4, Quaternion, Vector3, type Object3D, type PerspectiveCamera } from 'three';

const [at, size, eye] = [new Vector3(), new Vector3(), new Vector3()];
const [way, none] = [new Quaternion(), new Quaternion()];
const world = new Matrix4();
const UP = new Vector3(0, 1, 0);

/**
 * Turns a mesh in its node as the camera stands, so that its own x and y lie along the picture's; or, upright, about
 * the world's upright axis towards where the camera is. Its size stays along its own axes.
 */
export const faceCamera = (
  how: 'camera' | 'upright',
  node: Object3D,
  mesh: Object3D,
  camera: PerspectiveCamera,
): void => {
  node.updateWorldMatrix(true, false);
  node.matrixWorld.decompose(at, none, size);
  camera.getWorldPosition(eye);
  if (how === 'camera') camera.getWorldQuaternion(way);
  else way.setFromAxisAngle(UP, Math.atan2(eye.x - at.x, eye.z - at.z));
  world.compose(at, way, size);
  mesh.matrix.copy(node.matrixWorld).invert().multiply(world);
  mesh.matrixAutoUpdate = false;
  mesh.matrixWorldNeedsUpdate = true;
};
