import assert from 'node:assert/strict';
import { test } from 'node:test';
import type { Prop } from '../document/project.ts';
import type { SetDrive } from '../document/drives.ts';
import { createDriveFeed, springOn, waveAt } from './feedDrives.ts';
import { between, propsNow, type World } from './world.ts';

const DT = 1 / 60;
const lamp: Prop = {
  ...{ id: 'lamp', name: 'Lamp', mesh: { kind: 'plane', size: [1, 1], divisions: [1, 1] } },
  ...{ material: 'm', position: [1, 2, 3], rotation: [0, 0, 90], scale: [2, 2, 2] },
} as Prop;
const flame: Prop = { ...lamp, id: 'flame', name: 'Flame', position: [0.5, 0, 0], parent: 'lamp' };
const world = (more: Partial<World> = {}): World => ({
  ...{ props: [lamp, flame], pointer: null, walker: null, ...more },
});
const rule = (more: Partial<SetDrive>): SetDrive => ({
  ...{ id: 'r', material: 'm', parameter: 'p', by: 'place' },
  ...more,
});
const near = (a: number | undefined, b: number, within = 1e-9): void =>
  assert.ok(Math.abs(a! - b) <= within, `${a} is not ${b}`);

test('a place follows what stands on what, the pointer and the walker, and nothing where they are nowhere', () => {
  const { feed } = createDriveFeed();
  // Turned by a quarter about z and twice as large, half a metre along x is a metre up.
  feed(rule({ of: 'flame', offset: [0, 0, 1] }), world(), 0, DT)!.forEach((x, i) => near(x, [1, 3, 4][i]!));
  assert.equal(feed(rule({ of: 'pointer' }), world(), 0, DT), null);
  const hit = { prop: 'lamp', point: [5, 6, 7], normal: [0, 1, 0], uv: [0, 0], distance: 2 } as const;
  assert.deepEqual(feed(rule({ of: 'pointer' }), world({ pointer: hit }), 0, DT), [5, 6, 7]);
  assert.equal(between(world(), 'lamp', 'walker'), null);
});

test('a distance falls off between its ends, nearness is in or out, a wave keeps its range', () => {
  const { feed } = createDriveFeed();
  const away = (x: number): World => world({ walker: { position: [1, 2, 3 + x], direction: [0, 0, -1] } });
  const falls = rule({ by: 'distance', of: 'walker', to: 'lamp', from: [1, 3], range: [10, 20] });
  for (const [x, y] of [
    [0.5, 10],
    [1.5, 12.5],
    [2, 15],
    [9, 20],
  ] as const)
    near(feed(falls, away(x), 0, DT)?.[0], y);
  const inside = rule({ by: 'near', of: 'walker', to: 'lamp', within: 2, range: [0, 5] });
  assert.deepEqual(
    [1.9, 2.1].map((x) => feed(inside, away(x), 0, DT)),
    [[5], [0]],
  );
  // A box in the lamp’s own space, which is turned by a quarter about z and twice as large: 1 × 2 × 1 is 4 m along x there.
  const boxed = rule({ ...inside, box: [1, 2, 1], within: 0 });
  const at = (x: number, y: number, z: number) =>
    feed(boxed, world({ walker: { position: [x, y, z], direction: [0, 0, -1] } }), 0, DT)![0];
  assert.deepEqual([at(2.99, 2.99, 3.99), at(3.01, 2, 3), at(1, 3.01, 3), at(1, 2, 4.01)], [5, 0, 0, 0]);
  const grown = { ...boxed, within: 0.5 };
  const beside = (x: number, y: number) =>
    feed(grown, world({ walker: { position: [x, y, 3], direction: [0, 0, -1] } }), 0, DT)![0];
  // Off its corner it is as far as the way to the corner.
  assert.deepEqual([beside(3.3, 3.39), beside(3.3, 3.41)], [5, 0]);
  // A sine begins at its least; a quarter of its period on it is half-way.
  const wave = rule({ by: 'wave', period: 2, range: [-1, 3] });
  for (const [tick, y] of [
    [0, -1],
    [30, 1],
    [60, 3],
    [120, -1],
  ] as const)
    near(feed(wave, world(), tick, DT)?.[0], y);
  assert.deepEqual(
    (['triangle', 'square', 'saw'] as const).map((shape) => [0.25, 0.75].map((t) => waveAt(shape, t))),
    [
      [0.5, 0.5],
      [1, 0],
      [0.25, 0.75],
    ],
  );
});

test('a spring swings as its formula says, for any damping, and never beyond its limit', () => {
  // x(t) = cos(ωt)·e^(−ct/2) for little damping; a step of a sixtieth is off by a few hundredths after a second.
  const [stiffness, damping] = [40, 1];
  let spring = { x: 1, v: 0 };
  for (let i = 0; i < 60; i += 1) spring = springOn(spring, DT, 0, { stiffness, damping, limit: 9 });
  const w = Math.sqrt(stiffness - damping ** 2 / 4);
  near(spring.x, Math.exp(-damping / 2) * (Math.cos(w) + (damping / 2 / w) * Math.sin(w)), 0.06);
  for (const stiff of [0.01, 60, 10_000])
    for (const damp of [0, 3, 1000]) {
      let one = { x: 0.5, v: 0 };
      for (let i = 0; i < 6000; i += 1)
        one = springOn(one, DT, 0, { stiffness: stiff, damping: damp, limit: 1 });
      assert.ok(Math.abs(one.x) <= 1 && Number.isFinite(one.v), `${stiff} ${damp}`);
    }
  // A steady pull is met where stiffness · x is it.
  let pulled = { x: 0, v: 0 };
  for (let i = 0; i < 3000; i += 1) pulled = springOn(pulled, DT, 2, { stiffness: 50, damping: 8, limit: 1 });
  near(pulled.x, -2 / 50, 1e-9);
});

test('a spring on a prop is pulled by its motion and, above its origin, by its turning; at rest it settles', () => {
  const hung = (turning: number, moved: (t: number) => object): number[] => {
    const { feed } = createDriveFeed();
    const drive = rule({ by: 'spring', of: 'lamp', stiffness: 60, damping: 4, axis: [1, 0, 0], turning });
    return Array.from({ length: 240 }, (_, i) => {
      const props = propsNow([lamp], new Map([['lamp', moved(i * DT)]]));
      return feed(drive, world({ props }), i, DT)![0]!;
    });
  };
  const steady = hung(0, (t) => ({ position: [t * 3, 0, 0] }));
  near(Math.max(...steady.map(Math.abs)), 0, 1e-9);
  const jerked = hung(0, (t) => ({ position: [t < 1 ? t ** 2 : 2 * t - 1, 0, 0] }));
  // While it speeds up by 2 m/s², it leans the other way; then it settles.
  near(jerked[58], -2 / 60, 0.01);
  near(jerked[239], 0, 0.003);
  const turned = (t: number) => ({ rotation: [0, 0, 90 + 20 * Math.sin(t * 4)] });
  near(Math.max(...hung(0, turned).map(Math.abs)), 0, 1e-9);
  assert.ok(Math.max(...hung(-0.5, turned).map(Math.abs)) > 0.001);
});
