import type { BufferGeometry, Mesh as MeshObject } from 'three';
import { OBJLoader } from 'three/addons/loaders/OBJLoader.js';
import { MOST_CORNERS, tooMany } from '#core/meshes/glb.ts';
import { meshOf, type Corners } from './meshOf.ts';
import { MOST_PIECES, type Model, type Piece } from './model.ts';

/** Reads an OBJ: each of its parts is a piece. @throws Error that says what is wrong with it */
export const readObj = (bytes: Uint8Array, main: string, progress: (share: number) => void): Model => {
  let text: string;
  try {
    text = new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    throw new Error(`${main} is not text in UTF-8; save it anew in that encoding.`);
  }
  if (!/^\s*v\s/m.test(text))
    throw new Error(`${main} has no line that begins with “v”: it is no OBJ of a mesh.`);
  const root = new OBJLoader().parse(text);
  progress(0.5);
  const notes: string[] = /^\s*mtllib\s/m.test(text)
    ? ['Materials beside an OBJ are left out; each part has one of its own.']
    : [];
  // The loader makes flat ones where there are none, and says nothing.
  const hasNormals = /^\s*vn\s/m.test(text);
  const pieces: Piece[] = [];
  for (const object of root.children as MeshObject<BufferGeometry>[]) {
    const { geometry } = object;
    const name = object.name || main.replace(/\.\w+$/, '');
    if (!('isMesh' in object)) {
      notes.push(`${name}: lines and points are left out.`);
      continue;
    }
    const floats = (attribute: string): Float32Array | null =>
      geometry.hasAttribute(attribute) ? Float32Array.from(geometry.getAttribute(attribute).array) : null;
    const positions = floats('position')!;
    const count = positions.length / 3;
    if (count > MOST_CORNERS) throw new Error(`${name}: ${tooMany(count)}`);
    const given: Corners = {
      ...{ positions, normals: hasNormals ? floats('normal') : null, uvs: floats('uv'), tangents: null },
      indices: Uint32Array.from({ length: count }, (_, i) => i),
    };
    const mesh = meshOf(given, name, notes);
    pieces.push({ name, mesh, color: [0.8, 0.8, 0.8], metallic: 0, roughness: 0.8, picture: null });
  }
  if (pieces.length > MOST_PIECES)
    throw new Error(`${main} has ${pieces.length} parts; at most ${MOST_PIECES} are taken.`);
  return { pieces, notes };
};
