import { Vector3 } from 'three';
import { MOST_CORNERS, tooMany } from '#core/meshes/glb.ts';
import type { Mesh } from '#core/meshes/mesh.ts';
import { splitForBaker } from './bakerTangents.ts';
import { skinned, type Carried } from './readMoving.ts';

/** A triangle whose sides span less than this, in square metres, has no face. */
const NO_FACE = 1e-16;

/** What a file gave of a mesh. */
export interface Corners {
  readonly positions: Float32Array;
  readonly normals: Float32Array | null;
  readonly uvs: Float32Array | null;
  readonly tangents: Float32Array | null;
  readonly indices: Uint32Array;
  /** What carries each corner, of a model that is moved. */
  readonly carried?: Carried | undefined;
}

/** Normals from the triangles around each corner, weighted by their areas. */
const normalsOf = (positions: Float32Array, indices: Uint32Array): Float32Array => {
  const normals = new Float32Array(positions.length);
  const [a, b, c] = [new Vector3(), new Vector3(), new Vector3()];
  for (let t = 0; t < indices.length; t += 3) {
    const [i, j, k] = [indices[t]! * 3, indices[t + 1]! * 3, indices[t + 2]! * 3];
    a.fromArray(positions, i);
    b.fromArray(positions, j).sub(a);
    c.fromArray(positions, k).sub(a);
    b.cross(c);
    for (const at of [i, j, k]) for (let x = 0; x < 3; x += 1) normals[at + x]! += b.getComponent(x);
  }
  for (let i = 0; i < normals.length; i += 3) {
    const size = Math.hypot(normals[i]!, normals[i + 1]!, normals[i + 2]!);
    if (size > 0) for (let x = 0; x < 3; x += 1) normals[i + x]! /= size;
    else normals[i + 1] = 1;
  }
  return normals;
};

/** A mesh of what a file gave: triangles that are none left out, what is missing made up and told. @throws Error */
export const meshOf = (given: Corners, name: string, notes: string[]): Mesh => {
  const { positions, uvs, tangents } = given;
  const count = positions.length / 3;
  if (count > MOST_CORNERS) throw new Error(`${name}: ${tooMany(count)}`);
  if (!given.indices.every((i) => i < count))
    throw new Error(`${name} has a triangle whose corner is not there.`);
  const isNumber = (i: number) =>
    Number.isFinite(positions[i * 3]! + positions[i * 3 + 1]! + positions[i * 3 + 2]!);
  const [a, b, c] = [new Vector3(), new Vector3(), new Vector3()];
  const kept: number[] = [];
  for (let t = 0; t + 2 < given.indices.length; t += 3) {
    const corners = [given.indices[t]!, given.indices[t + 1]!, given.indices[t + 2]!] as const;
    if (!corners.every(isNumber)) continue;
    a.fromArray(positions, corners[0] * 3);
    b.fromArray(positions, corners[1] * 3).sub(a);
    c.fromArray(positions, corners[2] * 3).sub(a);
    if (b.cross(c).lengthSq() > NO_FACE) kept.push(...corners);
  }
  const left = Math.floor(given.indices.length / 3) - kept.length / 3;
  if (left) notes.push(`${name}: ${left} triangle${left === 1 ? '' : 's'} without a face left out.`);
  if (!kept.length) throw new Error(`${name} has no triangle with a face.`);
  const indices = Uint32Array.from(kept);
  const finite = (numbers: Float32Array): Float32Array => numbers.map((x) => (Number.isFinite(x) ? x : 0));
  const clean = finite(positions);
  if (!given.normals) notes.push(`${name} has no normals; they follow from its triangles.`);
  if (!uvs) notes.push(`${name} has no uv; it is (0, 0) everywhere.`);
  const mesh: Mesh = {
    ...{ positions: clean, indices },
    normals: given.normals ? finite(given.normals) : normalsOf(clean, indices),
    uvs: uvs ? finite(uvs) : new Float32Array(count * 2),
  };
  const whole = (made: Mesh, from: readonly number[] | null): Mesh =>
    given.carried ? skinned(made, given.carried, from) : made;
  if (tangents) return whole({ ...mesh, tangents: finite(tangents) }, null);
  if (!uvs) return whole(mesh, null);
  const split = splitForBaker(mesh);
  const corners = split.mesh.positions.length / 3;
  if (corners > MOST_CORNERS) throw new Error(`${name}: ${tooMany(corners)}`);
  return whole(split.mesh, split.from);
};
