import { Color, Mesh, Vector3, type Object3D, type PerspectiveCamera, type Scene } from 'three';
import type { Requirement } from '#core/program/inputs.ts';
import type { PropMaterial } from '../scene/propMaterial.ts';
import { createBehind, type Behind } from './behind.ts';
import { surroundOf } from './backdrop.ts';
import { hasKeyShadow } from './keyShadow.ts';
import { drawGroups } from './drawGroups.ts';
import type { Frame, PassDeclaration } from './pass.ts';
import { createSky, showsSky } from './sky.ts';

const materialOf = (object: Object3D): PropMaterial | undefined =>
  object.userData['material'] as PropMaterial | undefined;

const NOTHING = new Color(0, 0, 0);

const isInAnyOrder = ({ programs }: Frame): boolean => {
  for (const [, program] of programs) if (program.surface.transparent || program.asks) return false;
  return true;
};

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
    const sky = createSky(renderer, lights);
    const at = new Vector3();
    return {
      draw: (frame, buffers) => {
        const { target, scene, camera, set } = frame;
        if (!hasKeyShadow(set)) lights.keyShadowSpread.value.w = 0;
        const begin = () => renderer.setRenderTarget(target);
        begin();
        renderer.setClearColor(NOTHING, 0);
        renderer.clear();
        if (showsSky(frame)) sky.draw(target, camera as PerspectiveCamera);
        buffers.scene = target.texture;
        buffers.depth = target.depthTexture;
        // Where no program has turns to keep, what stands there lies in a good order already.
        if (isInAnyOrder(frame)) {
          renderer.sortObjects = false;
          renderer.render(scene, camera);
          renderer.sortObjects = true;
          return;
        }
        const meshes = visibleMeshes(scene);
        const groups = drawGroups(
          meshes.map((mesh) => {
            const material = materialOf(mesh);
            const blends = material?.surface.transparent ?? false;
            const asks = material?.asks ?? null;
            return {
              ...{ item: mesh, blends, asks },
              order: (mesh.userData['drawOrder'] as number | undefined) ?? 0,
              isCopied: mesh.userData['uncopied'] !== true,
              // What neither blends nor asks is drawn in any order.
              away: blends || asks ? mesh.getWorldPosition(at).distanceToSquared(camera.position) : 0,
            };
          }),
        );
        let given: Behind | null = null;
        for (const { items, asks, isStale } of groups) {
          if (asks && (isStale || !given)) {
            given = behind.copy(target, camera as PerspectiveCamera, askedBy(meshes), surroundOf(set));
            begin();
          }
          if (asks) for (const mesh of items) materialOf(mesh)?.setBehind(given);
          if (groups.length > 1) {
            const now = new Set(items);
            for (const mesh of meshes) mesh.visible = now.has(mesh);
          }
          renderer.render(scene, camera);
        }
        for (const mesh of meshes) mesh.visible = true;
      },
      dispose: () => {
        behind.dispose();
        sky.dispose();
      },
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

/** All that any of some surfaces asks for. */
const askedBy = (meshes: readonly Mesh[]): ReadonlySet<Requirement> =>
  new Set(meshes.flatMap((mesh) => [...(materialOf(mesh)?.needs ?? [])]));
