import type { BufferGeometry } from 'three';
import { makeMesh, type MeshRecipe } from '#core/meshes/makeMesh.ts';
import type { Mesh } from '#core/meshes/mesh.ts';
import { toGeometry } from './geometry.ts';

/** Makes each mesh once, however many props are of it. */
export const createMeshes = () => {
  const geometries = new Map<string, BufferGeometry>();
  const meshes = new Map<string, Mesh>();
  const meshFor = (recipe: MeshRecipe): Mesh => {
    const key = JSON.stringify(recipe);
    const mesh = meshes.get(key) ?? makeMesh(recipe);
    meshes.set(key, mesh);
    return mesh;
  };
  const geometryFor = (recipe: MeshRecipe): BufferGeometry => {
    const key = JSON.stringify(recipe);
    let geometry = geometries.get(key);
    if (!geometry) geometries.set(key, (geometry = toGeometry(meshFor(recipe))));
    return geometry;
  };
  const dispose = (): void => {
    for (const geometry of geometries.values()) geometry.dispose();
  };
  return { meshFor, geometryFor, dispose };
};
