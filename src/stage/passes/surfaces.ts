import { Color, Mesh, type Object3D, type PerspectiveCamera, type Scene } from 'three';
import type { PropMaterial } from '../scene/propMaterial.ts';
import { createBehind, type Behind } from './behind.ts';
import { surroundOf } from './backdrop.ts';
import { hasKeyShadow } from './keyShadow.ts';
import { drawGroups } from './drawGroups.ts';
import type { PassDeclaration } from './pass.ts';

const materialOf = (object: Object3D): PropMaterial | undefined =>
  object.userData['material'] as PropMaterial | undefined;

/**
 * Everything that stands on the stage: what does not blend, then from far to near what does and what asks for what is
 * behind it. Each that asks is given a copy of the frame as it is by then: so one such surface is seen through another.
 */
export const surfaces: PassDeclaration = {
  name: 'surfaces',
  reads: ({ set, components }) => (components === 0 && hasKeyShadow(set) ? ['keyShadow'] : []),
  writes: ['scene', 'depth'],
  create: (renderer, lights) => {
    const behind = createBehind(renderer);
    return {
      draw: ({ target, scene, camera, set }, buffers) => {
        if (!hasKeyShadow(set)) lights.keyShadowSpread.value.w = 0;
        const begin = () => renderer.setRenderTarget(target);
        begin();
        renderer.setClearColor(new Color(0, 0, 0), 0);
        renderer.clear();
        const meshes = visibleMeshes(scene);
        const groups = drawGroups(
          meshes.map((mesh) => ({
            item: mesh,
            blends: materialOf(mesh)?.surface.transparent ?? false,
            asks: materialOf(mesh)?.needs.has('sceneColor')
              ? 'color'
              : materialOf(mesh)?.needs.has('sceneDepth')
                ? 'depth'
                : null,
            order: (mesh.userData['drawOrder'] as number | undefined) ?? 0,
            isCopied: mesh.userData['uncopied'] !== true,
            away: mesh.getWorldPosition(mesh.position.clone()).distanceToSquared(camera.position),
          })),
        );
        let given: Behind | null = null;
        for (const { items, asks, isStale } of groups) {
          if (asks && (isStale || !given)) {
            given = behind.copy(
              target,
              camera as PerspectiveCamera,
              groups.some((each) => each.asks === 'color'),
              surroundOf(set),
            );
            begin();
          }
          if (asks) for (const mesh of items) materialOf(mesh)?.setBehind(given);
          for (const mesh of meshes) mesh.visible = items.includes(mesh);
          renderer.render(scene, camera);
        }
        for (const mesh of meshes) mesh.visible = true;
        buffers.scene = target.texture;
        buffers.depth = target.depthTexture;
      },
      dispose: behind.dispose,
    };
  },
};

const visibleMeshes = (scene: Scene): Mesh[] => {
  const found: Mesh[] = [];
  scene.traverseVisible((object) => {
    if (object instanceof Mesh) found.push(object);
  });
  return found;
};
