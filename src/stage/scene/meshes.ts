import type { BufferGeometry } from 'three';
import { makeMesh, type MeshRecipe } from '#core/meshes/makeMesh.ts';
import type { Mesh } from '#core/meshes/mesh.ts';
import { readGlb } from '#core/meshes/glb.ts';
import { arrive, hasArrived, type ImportedRecipe } from '#core/meshes/imported.ts';
import { toGeometry } from './geometry.ts';

/** Brings the mesh of a blob; the same as the server keeps it. */
export type BringMesh = (blob: string) => Promise<Mesh>;

const bringMesh: BringMesh = async (blob) => {
  const answer = await fetch(`/api/blobs/${blob}`);
  if (!answer.ok) throw new Error('it is not kept here any more');
  return readGlb(new Uint8Array(await answer.arrayBuffer()));
};

/**
 * Makes each mesh once, however many props are of it, and lets go of what none is any more. What was imported is
 * brought, and stands in for itself until it has arrived.
 */
export const createMeshes = (
  events: { readonly onArrived: () => void; readonly onMissing: (why: string) => void },
  bring = bringMesh,
) => {
  const coming = new Map<string, Promise<void>>();
  const missing = new Set<string>();
  const made = new Map<
    string,
    { readonly recipe: MeshRecipe; readonly mesh: Mesh; geometry: BufferGeometry | null }
  >();
  const find = (recipe: MeshRecipe) => {
    const key = JSON.stringify(recipe);
    const found = made.get(key) ?? { recipe, mesh: makeMesh(recipe), geometry: null };
    made.set(key, found);
    const isWanted = recipe.kind === 'imported' && !hasArrived(recipe) && !missing.has(recipe.blob);
    if (isWanted && !coming.has(recipe.blob)) coming.set(recipe.blob, fetchMesh(recipe));
    return found;
  };
  const fetchMesh = async (recipe: ImportedRecipe): Promise<void> => {
    try {
      arrive(recipe.blob, await bring(recipe.blob));
      for (const [key, found] of made) {
        if (found.recipe.kind !== 'imported' || found.recipe.blob !== recipe.blob) continue;
        found.geometry?.dispose();
        made.delete(key);
      }
      coming.delete(recipe.blob);
      events.onArrived();
    } catch (error) {
      // Not asked for again and again; another visit may find it.
      coming.delete(recipe.blob);
      missing.add(recipe.blob);
      events.onMissing(`The mesh of ${recipe.file} could not be brought: ${(error as Error).message}.`);
    }
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
    isComing: (): boolean => coming.size > 0,
    /** Resolves once nothing is on its way. */
    settled: async (): Promise<void> => {
      while (coming.size) await Promise.all(coming.values());
    },
    keepOnly: (recipes: readonly MeshRecipe[]): void => {
      const kept = new Set(recipes.map((each) => JSON.stringify(each)));
      letGo((key) => kept.has(key));
    },
    dispose: (): void => letGo(() => false),
  };
};
export type Meshes = ReturnType<typeof createMeshes>;
