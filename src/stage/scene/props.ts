import { Mesh as MeshObject, type Scene, type Vector3 } from 'three';
import { prepareMovedBounds } from '#core/analyse/movedBounds.ts';
import type { StageDocument } from '#core/document/project.ts';
import type { MeshRecipe } from '#core/meshes/makeMesh.ts';
import type { Meshes } from './meshes.ts';
import type { PropMaterial } from './propMaterial.ts';

type Prop = StageDocument['props'][number];

export interface PlacedProp {
  readonly id: string;
  readonly material: string;
  readonly object: MeshObject;
  readonly recipe: MeshRecipe;
  readonly hidden: boolean;
  readonly locked: boolean;
  /** Finds where its offset takes it, for what its shader is now. */
  readonly moved: ReturnType<typeof prepareMovedBounds> | null;
}
interface Kept extends PlacedProp {
  readonly authored: Prop;
  readonly drawnBy: PropMaterial;
}

const RADIANS = Math.PI / 180;

/** Keeps what stands on the stage in step with its document, prop by prop: an edit touches what it names. */
export const createProps = (scene: Scene, meshes: Meshes) => {
  let placed: readonly Kept[] = [];

  const place = (authored: Prop, drawnBy: PropMaterial, before: Kept | undefined): Kept => {
    const object = before?.object ?? new MeshObject();
    if (before?.authored.mesh !== authored.mesh) object.geometry = meshes.geometryFor(authored.mesh);
    object.position.fromArray([...authored.position]);
    const [x, y, z] = authored.rotation;
    object.rotation.set(x * RADIANS, y * RADIANS, z * RADIANS);
    object.scale.fromArray([...(authored.scale ?? [1, 1, 1])]);
    object.userData['uncopied'] = authored.uncopied ?? false;
    let moved = before?.moved ?? null;
    if (before?.drawnBy !== drawnBy) {
      object.material = drawnBy.surface;
      object.userData['material'] = drawnBy;
      const offset = drawnBy.shader.program.outputs['vertexOffset'];
      // What an offset moves is looked for where it is, not where it was.
      object.frustumCulled = !offset;
      moved = offset ? prepareMovedBounds(offset) : null;
      object.onBeforeRender = (_renderer, _scene, _camera, geometry, material) => {
        const { uniforms } = material as PropMaterial['surface'];
        (uniforms['boundsLow']!.value as Vector3).copy(geometry.boundingBox!.min);
        (uniforms['boundsHigh']!.value as Vector3).copy(geometry.boundingBox!.max);
        (material as PropMaterial['surface']).uniformsNeedUpdate = true;
      };
    }
    if (!before) scene.add(object);
    return {
      ...{ id: authored.id, material: authored.material, object, recipe: authored.mesh },
      ...{ moved, authored, drawnBy, hidden: authored.hidden ?? false, locked: authored.locked ?? false },
    };
  };

  return {
    all: (): readonly PlacedProp[] => placed,
    /** Puts the document's props on the stage: those whose material has a program. */
    sync: (props: readonly Prop[], programOf: (material: string) => PropMaterial | undefined): void => {
      const before = new Map(placed.map((each) => [each.id, each]));
      placed = props.flatMap((authored) => {
        const drawnBy = programOf(authored.material);
        if (!drawnBy) return [];
        const known = before.get(authored.id);
        before.delete(authored.id);
        return known && known.authored === authored && known.drawnBy === drawnBy
          ? [known]
          : [place(authored, drawnBy, known)];
      });
      for (const { object } of before.values()) scene.remove(object);
    },
  };
};
