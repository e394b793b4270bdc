import assert from 'node:assert/strict';
import { test } from 'node:test';
import { createReader } from '../document/read.ts';
import { mesh as meshField } from '../document/mesh.ts';
import { coarse, makeMesh, MESH_KINDS } from './makeMesh.ts';
import type { Mesh } from './mesh.ts';
import { radiusAt } from './vesselProfile.ts';

/** A recipe of each kind, of numbers that its fields allow. */
const recipe = (kind: string) => {
  const { fields } = MESH_KINDS.get(kind)!;
  const given = Object.entries(fields).map(([name, { numbers, whole, otherwise }]) => {
    if (numbers === 1 || Array.isArray(otherwise)) return [name, name === 'folds' ? 4 : (otherwise ?? 1)];
    return [name, (whole ? [24, 16, 8] : [3, 2, 1.5]).slice(0, numbers)];
  });
  const r = createReader();
  const read = meshField.read(
    r,
    { kind, ...Object.fromEntries(given), ...(kind === 'cloth' ? { depth: 0.12 } : {}) },
    'mesh',
    {},
  );
  assert.deepEqual(r.problems, []);
  return read;
};
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
  for (const kind of MESH_KINDS.keys()) {
    const mesh = makeMesh(recipe(kind));
    const count = mesh.positions.length / 3;
    assert.equal(count * 2, mesh.uvs.length);
    const small = makeMesh(coarse(recipe(kind), 4));
    // A board’s divisions are its letters’, which are tested by themselves.
    if (kind !== 'board')
      assert.ok(small.indices.length < mesh.indices.length / 4, `${kind} can be had with few corners`);
    assert.ok(mesh.indices.every((i) => i < count));
    for (let i = 0; i < count; i += 1)
      assert.ok(Math.abs(Math.hypot(...corner(mesh.normals, i)) - 1) < 1e-5, kind);
    assert.deepEqual([...mesh.uvs.slice(0, 2)], [0, 0]);
    assert.deepEqual([...mesh.uvs.slice(-2)], [1, 1]);
    // At a pole or a middle a triangle has two corners in one place, and no face.
    for (const { face, normal } of triangles(mesh))
      assert.ok(dot(face, normal) > 0 || Math.hypot(...face) < 1e-9, `${kind} faces away`);
  }
});

test('round meshes have the area that geometry says', () => {
  const area = (given: Parameters<typeof makeMesh>[0]): number =>
    [...triangles(makeMesh(given))].reduce((sum, { face }) => sum + Math.hypot(...face) / 2, 0);
  const divisions = [96, 48] as const;
  const near = (found: number, wanted: number, what: string) =>
    assert.ok(Math.abs(found / wanted - 1) < 2e-3, `${what}: ${found}, not ${wanted}`);
  const turn = 2 * Math.PI;
  near(area({ kind: 'sphere', radius: 1.5, divisions }), 2 * turn * 1.5 ** 2, 'a sphere');
  near(
    area({ kind: 'dome', radius: 2, sweep: 180, from: 0, to: 30, divisions }),
    (turn / 2) * 4 * 0.5,
    'a dome’s zone',
  );
  near(area({ kind: 'arc', radius: 2, inner: 0.5, sweep: 90, divisions }), (turn / 8) * (4 - 1), 'an arc');
  const slant = Math.hypot(2, 0.5);
  near(
    area({ kind: 'cylinder', radius: 1, taper: 0.5, height: 2, divisions }),
    (turn / 2) * (1.5 * slant + 1 + 0.25),
    'a narrowed cylinder with its ends',
  );
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

test('a box stands on its base, closed, each face with the square of uv to itself', () => {
  const { positions, uvs, normals, indices } = makeMesh({
    ...{ kind: 'box', size: [3, 2, 1], divisions: [3, 2, 1], pivot: [0.5, 0, 0.5] },
  });
  // Two triangles a quad; the faces are 3×2, 1×2 and 3×1 quads, each twice.
  assert.equal(indices.length / 6, 2 * (6 + 2 + 3));
  for (let axis = 0; axis < 3; axis += 1) {
    const along = Array.from(positions).filter((_, i) => i % 3 === axis);
    assert.deepEqual(
      [Math.min(...along), Math.max(...along)],
      [
        [-1.5, 1.5],
        [0, 2],
        [-0.5, 0.5],
      ][axis],
    );
  }
  // The middle of its front at zero.
  const held = makeMesh({ kind: 'box', size: [3, 2, 1], divisions: [1, 1, 1], pivot: [0.5, 0.5, 1] });
  assert.deepEqual(
    [0, 1, 2].map((axis) => Math.max(...held.positions.filter((_, i) => i % 3 === axis))),
    [...[1.5, 1, 0]],
  );
  const faces = new Set(Array.from({ length: normals.length / 3 }, (_, i) => corner(normals, i).join()));
  assert.equal(faces.size, 6);
  assert.equal(Math.max(...uvs) - Math.min(...uvs), 1);
});

test('a vessel is as wide as it is told where it is told, never wider, and its liquid keeps a gap inside', () => {
  const profile = {
    ...{ height: 1.2, foot: 0.2, belly: 0.42, bellyAt: 0.3, neck: 0.1, neckAt: 0.8, lip: 0.16 },
    divisions: [64, 48] as const,
  };
  const radius = radiusAt(profile);
  assert.deepEqual(
    [0, 0.3, 0.8, 1].map((share) => Math.round(radius(share) * 1e9) / 1e9),
    [0.2, 0.42, 0.1, 0.16],
  );
  const all = Array.from({ length: 200 }, (_, i) => radius(i / 199));
  assert.ok(Math.max(...all) <= 0.42 + 1e-12 && Math.min(...all) >= 0.1 - 1e-12);
  const line = Array.from({ length: 4001 }, (_, i) => [radius(i / 4000), (i / 4000) * 1.2] as const);
  for (const gap of [0.01, 0.03]) {
    const { positions } = makeMesh({ kind: 'liquid', gap, ...profile });
    for (let i = 0; i < positions.length; i += 3) {
      const [r, y] = [Math.hypot(positions[i]!, positions[i + 2]!), positions[i + 1]!];
      // Of the wall, what lies level with it, and twice the gap above and below: nothing else is nearer than that.
      const level = [y - 2 * gap, y + 2 * gap].map((h) => Math.round((h / 1.2) * 4000));
      const beside = line.slice(Math.max(level[0]!, 0), level[1]! + 1);
      const wall = Math.min(...beside.map(([x, h]) => Math.hypot(x - r, h - y)));
      assert.ok(r < radius(y / 1.2) && wall > gap * 0.9, `${wall} m from the wall at ${y} m, not ${gap}`);
      assert.ok(y >= gap * 0.999);
    }
  }
});

test('a ribbon goes from end to end by its tangents, as wide as it is; a card lies about its middle', () => {
  const divisions = [40, 2] as const;
  const given = {
    kind: 'ribbon',
    width: 0.5,
    to: [2, 1, -1],
    leaves: [0, 3, 0],
    arrives: [0, 0, -3],
  } as const;
  const { positions } = makeMesh({ ...given, divisions });
  const middle = (i: number) => corner(positions, 41 + i);
  assert.deepEqual(middle(0), [0, 0, 0]);
  assert.deepEqual(middle(40), [2, 1, -1]);
  const first = minus(middle(1), middle(0));
  assert.ok(first[1]! / Math.hypot(...first) > 0.95, 'it sets out upwards');
  for (let i = 0; i <= 40; i += 1)
    assert.ok(Math.abs(Math.hypot(...minus(corner(positions, 82 + i), corner(positions, i))) - 0.5) < 1e-5);
  const card = makeMesh({ kind: 'card', size: [3, 2], divisions: [1, 1] }).positions;
  assert.deepEqual(
    [corner(card, 0), corner(card, 3)],
    [
      [-1.5, -1, 0],
      [1.5, 1, 0],
    ],
  );
});

test('a recipe is read by the fields of its kind, and told where it is wrong', () => {
  const problems = (mesh: object) => {
    const r = createReader();
    meshField.read(r, mesh, 'mesh', {});
    return r.problems.map(({ path, message }) => `${path}: ${message}`);
  };
  const box = { kind: 'box', size: [1, 1, 1], divisions: [1, 1, 1] };
  assert.deepEqual(problems(box), []);
  assert.match(problems({ ...box, size: [1, 1] })[0]!, /mesh\.size: A list of 3 numbers/);
  assert.match(
    problems({ ...box, size: [1, 0, 1] })[0]!,
    /mesh\.size\[1\]: This should lie between 0\.001 and 1000/,
  );
  assert.match(
    problems({ ...box, kind: 'bax' })[0]!,
    /mesh\.kind: One of cloth, plane, floor, card, box, sphere/,
  );
  assert.match(problems({ ...box, widht: 2 })[0]!, /mesh\.widht: There is no field/);
});
