import assert from 'node:assert/strict';
import { test } from 'node:test';
import { makeMesh } from '../makeMesh.ts';
import { joined, type Mesh } from '../mesh.ts';
import { chanceOf } from '../../numbers/chance.ts';
import { cross, dot, minus, tripleAt, type Triple } from '../../numbers/vectors.ts';
import { meshMap, waysAround, type MapAsk, type MeshMapKind } from './meshMap.ts';
import { createSeenAlong } from './seenAlong.ts';

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
  allNear(each(ball, ask('thickness', { reach: 0.25, rays: 64 })), 1, 0.08);
  allNear(each(ball, ask('occlusion', { reach: 10, rays: 64 })), 1, 1e-6);
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

test('lines meet what they meet with every triangle tried, slivers and those along the grid too', () => {
  const at = (k: number) => chanceOf(11, k, 0) * 2 - 1;
  const [count, lines] = [150, 120];
  const positions = Float32Array.from({ length: count * 9 }, (_, k) => {
    const [t, corner, axis] = [Math.floor(k / 9), Math.floor(k / 3) % 3, k % 3];
    // Some long and thin, some upright along both axes, some wherever their corners lie.
    if (t % 3 === 0) return at(t * 9 + axis) + (corner === 1 ? axis + 0.2 : corner * 0.004);
    return t % 3 === 1 ? Math.round(at(k) * 4) / 4 : at(k);
  });
  const places = Float64Array.from({ length: lines * 3 }, (_, k) => at(k + 5000));
  const from = {
    places,
    triangles: new Int32Array(lines).fill(-1),
  };
  const seenAlong = createSeenAlong({
    positions,
    indices: Uint32Array.from({ length: count * 3 }, (_, i) => i),
  });
  const corner = (t: number, c: number) => tripleAt(positions, t * 9 + c * 3);
  let met = 0;
  // Every other line looks against the way.
  const sides = Float64Array.from({ length: lines }, (_, i) => (i % 2 ? -0.5 : 2));
  for (const along of [...waysAround(6), [0, 0, 1], [1, 0, 0], [0, -1, 0]] as Triple[]) {
    const to = new Float64Array(lines);
    seenAlong(along, { ...from, sides, beyond: 1e-4 }, to);
    to.forEach((found, i) => {
      const way = along.map((x) => x * Math.sign(sides[i]!)) as unknown as Triple;
      const place = tripleAt(places, i * 3);
      let nearest = Infinity;
      // T. Möller and B. Trumbore, 1997.
      for (let t = 0; t < count; t += 1) {
        const [one, two] = [minus(corner(t, 1), corner(t, 0)), minus(corner(t, 2), corner(t, 0))];
        const side = cross(way, two);
        const [apart, by] = [minus(place, corner(t, 0)), dot(one, side)];
        const over = cross(apart, one);
        const [b, c, away] = [dot(apart, side) / by, dot(way, over) / by, dot(two, over) / by];
        if (Math.abs(by) > 1e-14 && b >= 0 && c >= 0 && b + c <= 1 && away > 1e-4)
          nearest = Math.min(nearest, away);
      }
      assert.ok(
        found === nearest || Math.abs(found - nearest) < 1e-7,
        `${way.join()}, ${i}: ${found}, not ${nearest}`,
      );
      if (found < Infinity) met += 1;
    });
  }
  assert.ok(met > 400 && met < lines * 9, String(met));
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
