import { Quaternion, Vector3, type PerspectiveCamera } from 'three';
import type { OrbitControls } from 'three/addons/controls/OrbitControls.js';
import type { StageDocument } from '#core/document/project.ts';
import type { CameraFrame } from './scene/propMaterial.ts';
import type { Seen } from './stage.ts';

/** Where the set is seen from: told, and put. */
export const createEye = (camera: PerspectiveCamera, controls: OrbitControls, invalidate: () => void) => {
  const axis = new Vector3();
  const [at, turned] = [new Vector3(), new Quaternion()];
  let last: CameraFrame | null = null;
  const look = ({ position, target }: Seen): void => {
    camera.position.fromArray([...position]);
    controls.target.fromArray([...target]);
    controls.update();
    invalidate();
  };
  return {
    look,
    /** As a document says, with its lens. */
    place: ({ position, target, fieldOfView }: StageDocument['camera']): void => {
      camera.fov = fieldOfView;
      camera.updateProjectionMatrix();
      look({ position, target });
    },
    seen: (): Seen => ({ position: camera.position.toArray(), target: controls.target.toArray() }),
    /** The same one as long as the camera stands still. */
    frame: (): CameraFrame => {
      if (last && at.equals(camera.position) && turned.equals(camera.quaternion)) return last;
      at.copy(camera.position);
      turned.copy(camera.quaternion);
      camera.updateMatrixWorld();
      const column = (i: number) => axis.setFromMatrixColumn(camera.matrixWorld, i).toArray();
      last = { position: at.toArray(), right: column(0), up: column(1), back: column(2) };
      return last;
    },
  };
};
