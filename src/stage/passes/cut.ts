import { Color } from 'three';
import type { PassDeclaration } from './pass.ts';

/** A plane of distances through the set, among what stands on the stage. */
export const cut: PassDeclaration = {
  name: 'cut',
  reads: () => ['scene', 'depth'],
  writes: ['scene'],
  adds: (frame) => frame.cut !== null,
  create: (renderer) => ({
    draw: ({ target, cut: plane, camera }) => {
      if (!plane) return;
      renderer.setRenderTarget(target);
      renderer.setClearColor(new Color(0, 0, 0), 0);
      renderer.render(plane, camera);
    },
    dispose: () => undefined,
  }),
};
