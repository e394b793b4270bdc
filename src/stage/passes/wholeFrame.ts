import { Mesh, type PerspectiveCamera, Scene, type Vector3 } from 'three';
import { makeMesh } from '#core/meshes/makeMesh.ts';
import type { PropMaterial } from '../scene/propMaterial.ts';
import { toGeometry } from '../scene/geometry.ts';
import { surroundOf } from './backdrop.ts';
import { createBehind } from './behind.ts';
import type { Frame, PassDeclaration } from './pass.ts';

/** How far ahead of the camera the frame lies, as a share more than what is clipped. */
const AHEAD = 1.02;

const layersOf = ({ set, programOf }: Frame): readonly PropMaterial[] =>
  (set.frame ?? []).flatMap((layer) => (layer.off ? [] : (programOf(layer.material) ?? [])));

/**
 * Shaders whose surface is the frame: each is laid over all that is drawn by then, in the author's order, on a card that
 * fills the picture, whose uv is the frame's. Those that ask see what is beneath them.
 */
export const wholeFrame: PassDeclaration = {
  name: 'wholeFrame',
  reads: () => ['scene', 'depth'],
  writes: ['scene'],
  adds: (frame) => frame.components === 0 && layersOf(frame).length > 0,
  create: (renderer) => {
    const behind = createBehind(renderer);
    const geometry = toGeometry(makeMesh({ kind: 'card', size: [1, 1], divisions: [1, 1] }));
    const mesh = new Mesh(geometry);
    mesh.frustumCulled = false;
    mesh.onBeforeRender = (_renderer, _scene, _camera, { boundingBox }, material) => {
      const { uniforms } = material as PropMaterial['surface'];
      (uniforms['boundsLow']!.value as Vector3).copy(boundingBox!.min);
      (uniforms['boundsHigh']!.value as Vector3).copy(boundingBox!.max);
    };
    const alone = new Scene();
    alone.add(mesh);
    return {
      draw: (frame) => {
        const camera = frame.camera as PerspectiveCamera;
        const away = camera.near * AHEAD;
        const high = 2 * away * Math.tan((camera.fov * Math.PI) / 360);
        mesh.position.set(0, 0, -away).applyMatrix4(camera.matrixWorld);
        mesh.quaternion.setFromRotationMatrix(camera.matrixWorld);
        mesh.scale.set(high * camera.aspect, high, 1);
        for (const layer of layersOf(frame)) {
          if (layer.needs.has('sceneColor') || layer.needs.has('sceneDepth'))
            layer.setBehind(behind.copy(frame.target, camera, layer.needs, surroundOf(frame.set)));
          mesh.material = layer.overlay();
          renderer.setRenderTarget(frame.target);
          renderer.render(alone, camera);
        }
      },
      dispose: () => {
        behind.dispose();
        geometry.dispose();
      },
    };
  },
};
