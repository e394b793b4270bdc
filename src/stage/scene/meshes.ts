import type { BufferGeometry } from 'three';
import { makeMesh, type MeshRecipe } from '#core/meshes/makeMesh.ts';
import type { Mesh } from '#core/meshes/mesh.ts';
import { toGeometry } from './geometry.ts';

/** Makes each mesh once, however many props are of it, and lets go of what none is any more. */
export const createMeshes = () => {
  const made = new Map<string, { readonly mesh: Mesh; geometry: BufferGeometry | null }>();
  const find = (recipe: MeshRecipe) => {
    const key = JSON.stringify(recipe);
    const found = made.get(key) ?? { mesh: makeMesh(recipe), geometry: null };
    made.set(key, found);
    return found;
  };
  const letGo = (keep: (key: string) => boolean): void => {
    for (const [key, { geometry }] of made)
      if (!keep(key)) {
        geometry?.dispose();
        made.delete(key);
      }
  };
  return {
    meshFor: (recipe: MeshRecipe): Mesh => find(recipe).mesh,
    geometryFor: (recipe: MeshRecipe): BufferGeometry => {
      const found = find(recipe);
      return (found.geometry ??= toGeometry(found.mesh));
    },
    keepOnly: (recipes: readonly MeshRecipe[]): void => {
      const kept = new Set(recipes.map((each) => JSON.stringify(each)));
      letGo((key) => kept.has(key));
    },
    dispose: (): void => letGo(() => false),
  };
};
export type Meshes = ReturnType<typeof createMeshes>;
