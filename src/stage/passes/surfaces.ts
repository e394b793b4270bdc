import { Color } from 'three';
import type { PassDeclaration } from './pass.ts';

/** Everything that stands on the stage, what blends after what does not. */
export const surfaces: PassDeclaration = {
  name: 'surfaces',
  reads: () => [],
  writes: ['scene', 'depth'],
  create: (renderer) => ({
    draw: ({ target, scene, camera }, buffers) => {
      renderer.setRenderTarget(target);
      renderer.setClearColor(new Color(0, 0, 0), 0);
      renderer.clear();
      renderer.render(scene, camera);
      buffers.scene = target.texture;
      buffers.depth = target.depthTexture;
    },
    dispose: () => undefined,
  }),
};
