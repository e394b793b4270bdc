import { BufferAttribute, BufferGeometry } from 'three';
import type { Mesh } from '#core/meshes/mesh.ts';
import { tangentsOf } from '#core/meshes/tangents.ts';

/** A mesh with everything our sources may read of it: a second uv like the first, and white, where it has none. */
export const toGeometry = (mesh: Mesh): BufferGeometry => {
  const geometry = new BufferGeometry();
  const positions = new BufferAttribute(mesh.positions, 3);
  const uvs = new BufferAttribute(mesh.uvs, 2);
  const { tangents, stretches } = tangentsOf(mesh);
  const own = mesh.tangents ?? tangents;
  // three wants `position` to know the bounds; our sources read the a_ names.
  geometry.setAttribute('position', positions);
  geometry.setAttribute('a_position', positions);
  geometry.setAttribute('a_normal', new BufferAttribute(mesh.normals, 3));
  geometry.setAttribute('a_uv', uvs);
  geometry.setAttribute('a_uv2', uvs);
  geometry.setAttribute('a_tangent', new BufferAttribute(own, 4));
  geometry.setAttribute('a_stretch', new BufferAttribute(stretches, 2));
  const white = new Uint8Array((mesh.positions.length / 3) * 4).fill(255);
  geometry.setAttribute('a_color', new BufferAttribute(white, 4, true));
  geometry.setIndex(new BufferAttribute(mesh.indices, 1));
  geometry.computeBoundingBox();
  geometry.computeBoundingSphere();
  return geometry;
};
