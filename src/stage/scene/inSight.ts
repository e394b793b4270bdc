import { Box3, Frustum, Matrix4, Vector3, type PerspectiveCamera } from 'three';
import type { MeshRecipe } from '#core/meshes/makeMesh.ts';
import type { Mesh } from '#core/meshes/mesh.ts';
import { TICK_SECONDS } from '#core/time/tick.ts';
import type { CameraFrame, MaterialNumbers } from './propMaterial.ts';
import type { PlacedProp } from './props.ts';

/**
 * Tells whether a prop whose mesh is moved can be in the picture; the rest is left to three. Where its offset takes it is
 * written down at its object for whoever needs to know, as `movedBox`.
 */
export const createSight = (camera: PerspectiveCamera, meshFor: (recipe: MeshRecipe) => Mesh) => {
  const frustum = new Frustum();
  const projected = new Matrix4();
  return (
    prop: PlacedProp,
    moved: NonNullable<PlacedProp['moved']>,
    numbers: MaterialNumbers | undefined,
    time: number,
    frame: CameraFrame,
  ): boolean => {
    if (!numbers) return true;
    const bounds = moved(meshFor(prop.recipe), prop.object.matrixWorld.elements, {
      parameters: numbers.parameters,
      knobs: numbers.knobs,
      inputs: {
        time: [time],
        timeStep: [TICK_SECONDS],
        cameraPosition: frame.position,
        cameraRight: frame.right,
        cameraUp: frame.up,
        cameraBack: frame.back,
      },
    });
    const box = bounds && new Box3(new Vector3(...bounds.low), new Vector3(...bounds.high));
    prop.object.userData['movedBox'] = box;
    if (!box) return true;
    frustum.setFromProjectionMatrix(
      projected.multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse),
    );
    return frustum.intersectsBox(box);
  };
};
