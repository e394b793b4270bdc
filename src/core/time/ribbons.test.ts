import assert from 'node:assert/strict';
import { test } from 'node:test';
import type { FlourishLayer } from '../document/flourishes.ts';
import { ramp } from '../edits/flourishEdits.ts';
import { drawnLayers } from './drawnLayers.ts';
import type { RehearsalInput } from './inputs.ts';
import { layersAt } from './layersAt.ts';
import { alongStrip, stripOf, rawTrail } from './ribbons.ts';
import { layer, flourish, setOf, parametersOf, rehearse, near, sprites } from './flourishes.testing.ts';

test('a ribbon runs evenly between its ends by its tangents; where they meet, break or are gone there is none', () => {
  const ends = (to: object, more: object = {}) =>
    layer('ribbon', 'r', {
      life: 9,
      ribbon: { from: { at: [0, 0, 0], way: [0, 0, 0] }, to, segments: 8, width: 1, ...more },
    });
  const strip = (own: FlourishLayer) => {
    const set = setOf([flourish('f', [own])]);
    const [now] = layersAt({ set, parametersOf }, 'f', 0.5);
    const [drawn] = drawnLayers(set.flourishes!, [now!]);
    return drawn!.drawn.kind === 'ribbon' ? drawn!.drawn.band : null;
  };
  const straight = strip(ends({ of: 'rod', at: [0, 0, 0], way: [0, 0, 0] }, { widths: ramp(0, 2) }))!;
  straight.points.forEach(([x, y, z], i) => {
    near(x, (3 * i) / 8, 1e-9);
    assert.deepEqual([y, z], [0, 0]);
    near(straight.widths[i], i / 4, 1e-9);
  });
  const bent = strip(
    layer('ribbon', 'r', {
      life: 9,
      ribbon: {
        ...{ from: { at: [0, 0, 0], way: [2, 4, 0] }, to: { at: [2, 0, 0], way: [2, -4, 0] } },
        ...{ segments: 64, width: 1 },
      },
    }),
  )!;
  // Halfway a Hermite cubic stands at (a + b)/2 + (out − into)/8.
  near(bent.points[32]![0], 1, 1e-6);
  near(bent.points[32]![1], 1, 1e-3);
  const gaps = bent.points.slice(1).map((p, i) => Math.hypot(...p.map((x, c) => x - bent.points[i]![c]!)));
  assert.ok(Math.max(...gaps) / Math.min(...gaps) < 1.01, 'even, however it bends');

  assert.equal(strip(ends({ at: [0, 0, 0], way: [0, 0, 0] }))!.points.length, 0);
  assert.equal(strip(ends({ of: 'gone', at: [0, 0, 0], way: [0, 0, 0] }))!.points.length, 0);
  // 3 m of a reach of 4: a quarter of it is left, which is where it begins to dim; of 3.2 it is nearly out.
  assert.equal(strip(ends({ of: 'rod', at: [0, 0, 0], way: [0, 0, 0] }, { reach: 4 }))!.colors[3], 1);
  near(strip(ends({ of: 'rod', at: [0, 0, 0], way: [0, 0, 0] }, { reach: 3.2 }))!.colors[3], 0.25, 1e-9);
  assert.equal(strip(ends({ of: 'rod', at: [0, 0, 0], way: [0, 0, 0] }, { reach: 2 }))!.colors[3], 0);
});

test('what a moving point leaves behind is smooth and even, however it moved; raw it is as it went', () => {
  const ribbon = { from: { at: [0, 0, 0], way: [0, 0, 0] }, segments: 24, width: 1, lasts: 9 } as const;
  // Round a circle, now fast and now slow.
  const traced = Array.from({ length: 13 }, (_, i) => {
    const turn = (i + 0.4 * Math.sin(i * 2)) * 0.25;
    return [Math.cos(turn), Math.sin(turn), 0, i / 60];
  });
  const smooth = stripOf(ribbon, traced.flat(), 0.2);
  // Straight between them it would leave the circle by 0.022 where they lie farthest apart.
  for (const point of smooth.points) near(Math.hypot(...point), 1, 0.013);
  const gaps = smooth.points
    .slice(1)
    .map((p, i) => Math.hypot(...p.map((x, c) => x - smooth.points[i]![c]!)));
  assert.ok(Math.max(...gaps) / Math.min(...gaps) < 1.05, `${Math.max(...gaps) / Math.min(...gaps)}`);
  const raw = stripOf({ ...ribbon, raw: true }, traced.flat(), 0.2);
  assert.deepEqual(
    raw.points,
    traced.map((each) => each.slice(0, 3)),
  );
  near(raw.ages[0], 0.2);
  assert.deepEqual(rawTrail(ribbon, traced.flat()), raw.points);
  assert.equal(alongStrip(smooth, 5).length, 5);
  // A point that stood still leaves nothing, and no number that is none.
  assert.equal(stripOf(ribbon, [1, 1, 1, 0], 1).points.length, 0);
  assert.equal(stripOf(ribbon, [1, 1, 1, 0, 1, 1, 1, 0.1], 1).points.length, 0);

  const trailing = rehearse(
    setOf([
      flourish(
        'f',
        [
          layer('ribbon', 'r', {
            life: 9,
            ribbon: { ...ribbon, from: { of: 'pointer', at: [0, 0, 0], way: [0, 0, 0] }, lasts: 0.05 },
          }),
        ],
        {
          starts: [{ by: 'begin' }],
        },
      ),
    ]),
  );
  const hitAt = (x: number): RehearsalInput => ({
    kind: 'pointer',
    hit: { prop: 'rod', point: [x, 0, 0], normal: [0, 1, 0], uv: [0, 0], distance: 1 },
  });
  let last = trailing.on([hitAt(0)]);
  for (let i = 1; i < 10; i += 1) last = trailing.on([hitAt(i)]);
  assert.deepEqual(
    last[0]!.shape.filter((_, i) => i % 4 === 0),
    [6, 7, 8, 9],
    'no older than three ticks',
  );
});

test('sprites sit on a ribbon at even lengths, smaller along the way, and go out with it', () => {
  const set = setOf([
    flourish('f', [
      layer('ribbon', 'r', {
        ribbon: {
          ...{ from: { at: [0, 0, 0], way: [0, 0, 0] }, to: { of: 'rod', at: [0, 0, 0], way: [0, 0, 0] } },
          ...{ segments: 12, width: 1 },
        },
      }),
      layer('sprites', 's', {
        sprites: sprites({ count: 4, size: 1, sizes: undefined, byOrder: ramp(1, 0.4), along: 'r' }),
      }),
    ]),
  ]);
  const drawn = drawnLayers(set.flourishes!, layersAt({ set, parametersOf }, 'f', 0.1));
  const own = drawn[1]!.drawn.kind === 'sprites' ? drawn[1]!.drawn.sprites : null;
  own!.points.forEach((point, i) => {
    near(point[0], i, 1e-9);
    near(own!.sizes[i], 1 - 0.2 * i, 1e-9);
  });
});

test('a ribbon that is hidden still carries what sits on it', () => {
  const set = setOf([
    flourish('f', [
      layer('ribbon', 'r', { off: true }),
      layer('ribbon', 'alone', { off: true }),
      layer('sprites', 's', { sprites: sprites({ count: 3, along: 'r' }) }),
    ]),
  ]);
  const now = layersAt({ set, parametersOf }, 'f', 0.1);
  assert.deepEqual(
    now.map((each) => each.layer),
    ['r', 's'],
  );
  const [drawn, ...others] = drawnLayers(set.flourishes!, now);
  assert.deepEqual([drawn!.key, others.length], ['s 0', 0]);
  assert.equal(drawn!.drawn.kind === 'sprites' && drawn!.drawn.sprites.points.length, 3);
});
