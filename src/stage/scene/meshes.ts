import type { BufferGeometry } from 'three';
import { broughtFor, makeMesh, type Brought, type MeshRecipe } from '#core/meshes/makeMesh.ts';
import type { Mesh } from '#core/meshes/mesh.ts';
import { readGlb } from '#core/meshes/glb.ts';
import { arriveHeights, readHeights } from '#core/meshes/heights.ts';
import { arrive } from '#core/meshes/imported.ts';
import { toGeometry } from './geometry.ts';

/** Brings what a mesh is made from, so that it is here from then on. @throws Error that says why not */
export type Bring = (what: Brought['what'], blob: string) => Promise<void>;

const bringBlob: Bring = async (what, blob) => {
  if (what === 'letters') return void (await import('#core/letters/faces.ts')).faceNamed(blob);
  const answer = await fetch(`/api/blobs/${blob}${what === 'heights' ? '/heights' : ''}`);
  if (!answer.ok) throw new Error('it is not kept here any more');
  const bytes = await answer.arrayBuffer();
  if (what === 'heights') arriveHeights(blob, readHeights(bytes));
  else arrive(blob, readGlb(new Uint8Array(bytes)));
};

/**
 * Makes each mesh once, however many props are of it, and lets go of what none is any more. What was imported is
 * brought, and stands in for itself until it has arrived.
 */
export const createMeshes = (
  events: { readonly onArrived: () => void; readonly onMissing: (why: string) => void },
  bring: Bring = bringBlob,
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
    const wanted = broughtFor(recipe);
    if (wanted && !wanted.isHere && !missing.has(wanted.blob) && !coming.has(wanted.blob))
      coming.set(wanted.blob, fetchFor(recipe, wanted));
    return found;
  };
  const fetchFor = async (recipe: MeshRecipe, { what, blob }: Brought): Promise<void> => {
    try {
      await bring(what, blob);
      for (const [key, found] of made) {
        if (broughtFor(found.recipe)?.blob !== blob) continue;
        found.geometry?.dispose();
        made.delete(key);
      }
      coming.delete(blob);
      events.onArrived();
    } catch (error) {
      // Not asked for again and again; another visit may find it.
      coming.delete(blob);
      missing.add(blob);
      const which =
        recipe.kind === 'imported'
          ? `The mesh of ${recipe.file}`
          : `The ${what === 'letters' ? 'letters' : 'picture'} of a ${recipe.kind}`;
      events.onMissing(`${which} could not be brought: ${(error as Error).message}.`);
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
