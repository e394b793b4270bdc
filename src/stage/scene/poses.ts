import type { BufferAttribute, BufferGeometry } from 'three';
import { atRest } from '#core/meshes/imported.ts';
import type { StageDocument } from '#core/document/project.ts';
import type { MeshRecipe } from '#core/meshes/makeMesh.ts';
import { toGeometry } from './geometry.ts';
import type { Meshes } from './meshes.ts';

/** What clips move has a geometry of its own for each prop, whose corners are written anew; the rest of it stays. */
export const createPoses = (meshes: Meshes) => {
  const kept = new Map<
    string,
    { readonly of: string; readonly geometry: BufferGeometry; shown: MeshRecipe | null }
  >();
  const letGo = (id: string): void => {
    kept.get(id)?.geometry.dispose();
    kept.delete(id);
  };
  return {
    geometryFor: (id: string, recipe: MeshRecipe): BufferGeometry => {
      const rest = meshes.meshFor(atRest(recipe));
      const of = JSON.stringify(atRest(recipe));
      // What has not arrived is drawn by what stands in for it, which nothing moves.
      if (!rest.skin) return meshes.geometryFor(atRest(recipe));
      let own = kept.get(id);
      if (own?.of !== of) {
        letGo(id);
        own = { of, geometry: toGeometry({ ...rest, positions: rest.positions.slice() }), shown: null };
        kept.set(id, own);
      }
      const { geometry } = own!;
      if (own!.shown === recipe) return geometry;
      own!.shown = recipe;
      const { positions, normals, tangents } = meshes.meshFor(recipe);
      const write = (name: string, numbers: Float32Array | undefined): void => {
        const attribute = geometry.getAttribute(name) as BufferAttribute;
        if (!numbers) return;
        attribute.array = numbers;
        attribute.needsUpdate = true;
      };
      write('position', positions);
      write('a_normal', normals);
      write('a_tangent', tangents);
      geometry.computeBoundingBox();
      geometry.computeBoundingSphere();
      return geometry;
    },
    keepOnly: (props: StageDocument['props']): void => {
      for (const id of [...kept.keys()]) if (!props.some((each) => each.id === id)) letGo(id);
    },
  };
};
