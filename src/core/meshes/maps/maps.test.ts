import assert from 'node:assert/strict';
import { test } from 'node:test';
import { makeMesh } from '../makeMesh.ts';
import { joined, type Mesh } from '../mesh.ts';
import { meshMap, type MapAsk, type MeshMapKind } from './meshMap.ts';

const RADIUS = 0.5;
const ball = makeMesh({ kind: 'sphere', radius: RADIUS, divisions: [96, 64] });
const ask = (map: MeshMapKind, more: Partial<MapAsk> = {}): MapAsk => ({
  ...{ map, width: 32, height: 32, rays: 256, reach: 1, padding: 0, ...more },
});
/** A flat piece from a corner along two sides, its uv from `left` to `right`. */
const piece = (corner: number[], u: number[], v: number[], normal: number[], uv: [number, number]): Mesh => {
  const at = (i: number, k: number) => corner.map((x, c) => x + u[c]! * i + v[c]! * k);
  const corners = [
    [0, 0],
    [1, 0],
    [1, 1],
    [0, 1],
  ] as const;
  return {
    positions: Float32Array.from(corners.flatMap(([i, k]) => at(i, k))),
    normals: Float32Array.from(corners.flatMap(() => normal)),
    uvs: Float32Array.from(corners.flatMap(([i, k]) => [uv[0] + (uv[1] - uv[0]) * i, k])),
    indices: Uint32Array.from([0, 1, 2, 0, 2, 3]),
  };
};
const each = (mesh: Mesh, told: MapAsk, c = 0): number[] => {
  const { values, layout } = meshMap(mesh, told);
  return [...layout.triangles].flatMap((t, i) => (t < 0 ? [] : [values[i * 3 + c]!]));
};
const allNear = (values: readonly number[], wanted: number, within: number): void => {
  assert.ok(values.length > 100);
  for (const x of values) assert.ok(Math.abs(x - wanted) <= within, `${x} is not ${wanted}`);
};

test('a ball is 4r/3 thick on the mean, bends by 1/r, and nothing hides it', () => {
  // A chord at an angle is 2r·cos long; weighed by the cosine over half a sphere their mean is 4r/3.
  allNear(each(ball, ask('thickness')), (4 / 3) * RADIUS, 0.01);
  allNear(each(ball, ask('thickness', { reach: 0.25 })), 1, 0.08);
  allNear(each(ball, ask('occlusion', { reach: 10 })), 1, 1e-6);
  allNear(each(ball, ask('curvature', { reach: RADIUS / 2 })), 0.75, 0.01);
  const tube = makeMesh({ kind: 'cylinder', radius: 0.2, taper: 1, height: 2, divisions: [64, 32] });
  // Bent one way alone, by half of 1/r; its middle, away from its lids’ edges.
  const { values } = meshMap(tube, ask('curvature', { reach: 0.2, height: 64 }));
  const middle = [...Array(32).keys()].map((x) => values[(32 * 32 + x) * 3]!);
  for (const x of middle) assert.ok(Math.abs(x - 0.75) < 0.02, String(x));
  // Where it is and which way it faces belong together: on a ball both are the same way from its middle.
  const [place, way] = (['position', 'normal'] as const).map((map) => meshMap(ball, ask(map)).values);
  place!.forEach((x, i) => assert.ok(Math.abs(x - way![i]!) < 0.01, `${i}: ${x} is not ${way![i]}`));
});

test('at the foot of a wall half of the light is hidden, and the open way leans from it', () => {
  const floor = piece([0.02, 0, -0.05], [0.1, 0, 0], [0, 0, 0.1], [0, 1, 0], [0, 0.5]);
  const wall = piece([0, 0, -20], [0, 20, 0], [0, 0, 40], [1, 0, 0], [0.5, 1]);
  const corner = joined([floor, wall]);
  const { values, layout } = meshMap(corner, ask('occlusion', { reach: 1e6, rays: 512 }));
  const open = meshMap(corner, ask('bentNormal', { reach: 1e6, rays: 512 })).values;
  let seen = 0;
  layout.triangles.forEach((t, i) => {
    if (t < 0 || t > 1) return;
    seen += 1;
    assert.ok(Math.abs(values[i * 3]! - 0.5) < 0.01, String(values[i * 3]));
    // Over a quarter of a sphere the mean of the ways, weighed by the cosine, is (2/3, π/3).
    const [x, y] = [open[i * 3]! * 2 - 1, open[i * 3 + 1]! * 2 - 1];
    assert.ok(Math.abs(Math.atan2(x, y) - Math.atan2(2 / 3, Math.PI / 3)) < 0.02, `${x} ${y}`);
  });
  assert.ok(seen > 200);
  // What is out of reach hides nothing.
  allNear(each(corner, ask('occlusion', { reach: 1e-4 })), 1, 1e-6);
});

test('islands are filled beyond their edges, overlaps are counted, and what cannot be laid out is refused', () => {
  const quarter = piece([0, 0, 0], [1, 0, 0], [0, 1, 0], [0, 0, 1], [0, 0.5]);
  const bare = meshMap(quarter, ask('normal'));
  assert.equal(
    bare.isFilled.reduce((sum, x) => sum + x, 0),
    16 * 32,
  );
  const padded = meshMap(quarter, ask('normal', { padding: 3 }));
  assert.equal(
    padded.isFilled.reduce((sum, x) => sum + x, 0),
    19 * 32,
  );
  assert.equal(padded.values[(5 * 32 + 18) * 3 + 2], 1);
  assert.equal(padded.values[(5 * 32 + 19) * 3 + 2], 0);
  assert.equal(bare.layout.overlapping, 0);
  const twice = meshMap(joined([quarter, quarter]), ask('normal')).layout;
  assert.equal(twice.covered, 16 * 32);
  assert.ok(twice.overlapping > 400, String(twice.overlapping));
  const without = { ...quarter, uvs: new Float32Array(8) };
  assert.throws(() => meshMap(without, ask('normal')), /has no uv to lay a map out by/);
  const broken = { ...quarter, positions: quarter.positions.map((x, i) => (i ? x : NaN)) };
  assert.throws(() => meshMap(broken, ask('thickness')), /no number/);
});
