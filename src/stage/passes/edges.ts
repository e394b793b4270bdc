import { Color, Mesh, type Material, type Object3D } from 'three';
import type { PassDeclaration } from './pass.ts';
import type { PropMaterial } from '../scene/propMaterial.ts';

/** The edges of every triangle, where its material's own vertex stage puts them, over what stands there. */
export const edges: PassDeclaration = {
  name: 'edges',
  reads: () => ['scene', 'depth'],
  writes: ['scene'],
  adds: (frame) => frame.edges,
  create: (renderer) => ({
    draw: ({ target, scene, camera }) => {
      const before = new Map<Mesh, Material | Material[]>();
      scene.traverseVisible((object: Object3D) => {
        const lines = (object.userData['material'] as PropMaterial | undefined)?.edges;
        if (!(object instanceof Mesh) || !lines) return;
        before.set(object, object.material as Material);
        object.material = lines;
      });
      renderer.setRenderTarget(target);
      renderer.setClearColor(new Color(0, 0, 0), 0);
      renderer.render(scene, camera);
      for (const [mesh, material] of before) mesh.material = material;
    },
    dispose: () => undefined,
  }),
};
