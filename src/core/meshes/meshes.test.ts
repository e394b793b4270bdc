import assert from 'node:assert/strict';
import { test } from 'node:test';
import { makeMesh, MESH_KINDS, type Mesh, type MeshRecipe } from './makeMesh.ts';

const recipe = (kind: MeshRecipe['kind']): MeshRecipe => ({
  ...{ kind, size: [3, 2], divisions: [24, 16], folds: 4, depth: 0.12 },
});
const corner = (numbers: Float32Array, i: number): [number, number, number] => [
  numbers[i * 3]!,
  numbers[i * 3 + 1]!,
  numbers[i * 3 + 2]!,
];
const minus = (a: readonly number[], b: readonly number[]) => a.map((x, i) => x - b[i]!);
const cross = ([a, b, c]: readonly number[], [d, e, f]: readonly number[]) => [
  b! * f! - c! * e!,
  c! * d! - a! * f!,
  a! * e! - b! * d!,
];
const dot = (a: readonly number[], b: readonly number[]) => a.reduce((sum, x, i) => sum + x * b[i]!, 0);

const triangles = function* ({ positions, normals, indices }: Mesh) {
  for (let i = 0; i < indices.length; i += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => corner(positions, indices[i + k]!));
    yield { face: cross(minus(b!, a!), minus(c!, a!)), normal: corner(normals, indices[i]!) };
  }
};

test('every kind of mesh: unit normals, uv from corner to corner, fronts counter-clockwise', () => {
  for (const kind of MESH_KINDS) {
    const mesh = makeMesh(recipe(kind));
    const count = mesh.positions.length / 3;
    assert.equal(count, 25 * 17);
    assert.equal(mesh.indices.length, 24 * 16 * 6);
    assert.ok(mesh.indices.every((i) => i < count));
    for (let i = 0; i < count; i += 1)
      assert.ok(Math.abs(Math.hypot(...corner(mesh.normals, i)) - 1) < 1e-5, kind);
    assert.deepEqual([...mesh.uvs.slice(0, 2)], [0, 0]);
    assert.deepEqual([...mesh.uvs.slice(-2)], [1, 1]);
    for (const { face, normal } of triangles(mesh)) assert.ok(dot(face, normal) > 0, `${kind} faces away`);
  }
});

test('a floor lies flat about its middle; a plane stands on its lower edge', () => {
  const floor = makeMesh(recipe('floor')).positions;
  const plane = makeMesh(recipe('plane')).positions;
  assert.deepEqual(corner(floor, 0), [-1.5, 0, 1]);
  assert.deepEqual(corner(floor, 25 * 17 - 1), [1.5, 0, -1]);
  assert.deepEqual(corner(plane, 0), [-1.5, 0, 0]);
  assert.deepEqual(corner(plane, 25 * 17 - 1), [1.5, 2, 0]);
});

test('cloth folds within its depth, looser at the hem, and the same every time', () => {
  const { positions } = makeMesh(recipe('cloth'));
  const deepest = (row: number) =>
    Math.max(...Array.from({ length: 25 }, (_, i) => Math.abs(positions[(row * 25 + i) * 3 + 2]!)));
  assert.ok(deepest(0) > deepest(16));
  assert.ok(deepest(0) <= 0.12 * 1.35 + 1e-6);
  assert.deepEqual(makeMesh(recipe('cloth')).positions, positions);
});
