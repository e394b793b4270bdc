import assert from 'node:assert/strict';
import { test } from 'node:test';
import type { Triple } from '../numbers/vectors.ts';
import { walkOn, WALKER, type Cast, type Walker } from './walk.ts';

interface Box {
  readonly low: Triple;
  readonly high: Triple;
}
/** Rays against boxes, by their slabs. */
const among =
  (...boxes: readonly Box[]): Cast =>
  (from, way) => {
    let nearest: ReturnType<Cast> = null;
    for (const { low, high } of boxes) {
      let [near, far] = [-Infinity, Infinity];
      let normal: Triple = [0, 0, 0];
      for (let c = 0; c < 3; c += 1) {
        const inverse = 1 / way[c]!;
        const [a, b] = [(low[c]! - from[c]!) * inverse, (high[c]! - from[c]!) * inverse];
        if (way[c] === 0 && (from[c]! < low[c]! || from[c]! > high[c]!)) near = Infinity;
        if (way[c] === 0) continue;
        if (Math.min(a, b) > near) {
          near = Math.min(a, b);
          normal = [0, 1, 2].map((k) => (k === c ? -Math.sign(way[c]!) : 0)) as unknown as Triple;
        }
        far = Math.min(far, Math.max(a, b));
      }
      if (near <= far && near >= 0 && near < (nearest?.distance ?? Infinity))
        nearest = { distance: near, normal };
    }
    return nearest;
  };
const floor: Box = { low: [-10, -1, -10], high: [10, 0, 10] };
const walk = (cast: Cast, from: Triple, wish: Triple, ticks: number): Walker => {
  let walker: Walker = { feet: from, falls: 0 };
  for (let i = 0; i < ticks; i += 1) walker = walkOn(walker, wish, 1 / 60, cast);
  return walker;
};
const near = (a: readonly number[], b: readonly number[], within = 1e-6): void =>
  a.forEach((x, i) => assert.ok(Math.abs(x - b[i]!) <= within, `${a.join()} is not ${b.join()}`));

test('it goes as far as it wishes, and stops a radius before a wall', () => {
  near(walk(among(floor), [0, 0, 0], [1.5, 0, 0], 60).feet, [1.5, 0, 0]);
  const wall: Box = { low: [1, 0, -10], high: [1.2, 3, 10] };
  near(walk(among(floor, wall), [0, 0, 0], [1.5, 0, 0], 120).feet, [1 - WALKER.radius, 0, 0]);
  // Slantwise it goes on along it.
  near(walk(among(floor, wall), [0, 0, 0], [1.5, 0, 0.5], 120).feet, [1 - WALKER.radius, 0, 1], 0.02);
  // In a corner it stands.
  const other: Box = { low: [-10, 0, 1], high: [10, 3, 1.2] };
  near(walk(among(floor, wall, other), [0, 0, 0], [1, 0, 1], 300).feet, [0.75, 0, 0.75], 1e-6);
});

test('it steps up what is low, not what is high, and comes down again', () => {
  const step: Box = { low: [1, 0, -10], high: [3, 0.3, 10] };
  near(walk(among(floor, step), [0, 0, 0], [1, 0, 0], 120).feet, [2, 0.3, 0]);
  near(walk(among(floor, step), [0, 0, 0], [1, 0, 0], 300).feet, [5, 0, 0]);
  const crate: Box = { low: [1, 0, -10], high: [3, 0.6, 10] };
  near(walk(among(floor, crate), [0, 0, 0], [1, 0, 0], 120).feet, [0.75, 0, 0]);
});

test('it falls where there is no floor to a lower one, and never out of the world', () => {
  const pit: Box = { low: [-10, -6, -10], high: [10, -5, 10] };
  const ledge: Box = { low: [-10, -1, -10], high: [1, 0, 10] };
  const falling = walk(among(pit, ledge), [0, 0, 0], [1, 0, 0], 75);
  assert.ok(falling.falls > 0 && falling.feet[1] < 0);
  near(walk(among(pit, ledge), [0, 0, 0], [1, 0, 0], 240).feet, [4, -5, 0], 1e-6);
  const edge = walk(among(floor), [9.5, 0, 0], [1, 0, 0], 240);
  assert.ok(edge.feet[0] <= 10 && edge.feet[1] === 0);
  near(walk(among(), [0, 2, 0], [1, 0, 0], 60).feet, [0, 2, 0]);
});
