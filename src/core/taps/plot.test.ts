import assert from 'node:assert/strict';
import { test } from 'node:test';
import { compileShader } from '../compileShader.ts';
import type { Standing } from '../evaluate/points/onMesh.ts';
import { emptyShader } from '../document/shader.ts';
import { makeMesh } from '../meshes/makeMesh.ts';
import { placeAt, type Volume } from '../meshes/volume.ts';
import { plot, plotCsv, type Against } from './plot.ts';

const strand = (id: string, x: string) => ({
  ...{ id, name: id, note: '' },
  steps: [{ id: 'a', operator: 'value', arguments: { x } }],
});
const { shader } = compileShader({
  ...emptyShader(),
  parameters: [
    {
      ...{ id: 'p', name: 'amount', kind: 'float', default: [0.5], min: 0, max: 2 },
      ...{ unit: '', group: '', description: '' },
    },
  ],
  strands: [
    strand('wave', 'sin(time) + amount'),
    strand('both', 'uv'),
    strand('far', 'length(position - vec3(-1.0, 0.0, 0.0))'),
    strand('slope', 'fwidth(uv.x)'),
    strand('behind', 'surfaceDistance'),
  ],
});
/** Two metres square, seen from four in front. */
const CARD: Standing = {
  mesh: makeMesh({ kind: 'card', size: [2, 2], divisions: [4, 4] }),
  placement: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1],
  lens: {
    ...{ position: [0, 0, 4], right: [1, 0, 0], up: [0, 1, 0], back: [0, 0, 1] },
    ...{ fieldOfView: 90, width: 100, height: 100 },
  },
  ...{ time: 0.25, timeStep: 1 / 60 },
};
const at = (against: Against, from: number, to: number, samples = 5, near?: Standing['near']) =>
  plot({
    ...{ program: shader!.program, taps: [1, 2, 3, 4, 5], against, from, to, samples, at: [-1, 0, 0] },
    standing: { ...CARD, ...(near && { near }) },
    given: { parameters: new Map([['amount', [0.5]]]), knobs: shader!.knobs },
  });
const near = (found: ReturnType<typeof at>, line: number, wanted: readonly (readonly number[])[]) => {
  const { values } = found.lines[line] as { readonly values: readonly (readonly number[])[] };
  assert.equal(values.length, wanted.length);
  wanted.forEach((each, i) =>
    each.forEach((x, c) => assert.ok(Math.abs(values[i]![c]! - x) < 1e-5, `${values[i]!.join()} at ${i}`)),
  );
};

test('steps are drawn against time, a parameter, u, v and along a line, by hand-worked numbers', () => {
  const time = at({ kind: 'time' }, 0, 4);
  assert.deepEqual(time.x, [0, 1, 2, 3, 4]);
  near(
    time,
    0,
    [0, 1, 2, 3, 4].map((t) => [Math.sin(t) + 0.5]),
  );
  near(
    at({ kind: 'parameter', name: 'amount' }, -1, 3),
    0,
    [-1, 0, 1, 2, 3].map((a) => [Math.sin(0.25) + a]),
  );
  // At v ½ and u 0 to 1, and at u 0 and v 0 to 1: the pin is at the left edge, half way up.
  near(
    at({ kind: 'u' }, 0, 1),
    1,
    [0, 0.25, 0.5, 0.75, 1].map((u) => [u, 0.5]),
  );
  near(
    at({ kind: 'v' }, 0, 1),
    1,
    [0, 0.25, 0.5, 0.75, 1].map((v) => [0, v]),
  );
  const line = at({ kind: 'line', to: [1, 1, 0] }, 0, Math.sqrt(5));
  near(
    line,
    2,
    [0, 0.25, 0.5, 0.75, 1].map((x) => [x * Math.sqrt(5)]),
  );
  near(
    line,
    1,
    [0, 0.25, 0.5, 0.75, 1].map((x) => [x, 0.5 + x / 2]),
  );
  // Four metres away a pixel is 8 cm, 4 % of the card.
  near(
    time,
    3,
    [0, 1, 2, 3, 4].map(() => [0.04]),
  );
});

test('readings of the place are drawn too, where a moved mesh stands at each sample', () => {
  const moved = compileShader({
    ...emptyShader(),
    parameters: [
      {
        ...{ id: 'p', name: 'lift', kind: 'float', default: [0.5], min: 0, max: 2 },
        ...{ unit: '', group: '', description: '' },
      },
    ],
    strands: [strand('height', 'position.y')],
    surface: { ...emptyShader().surface, outputs: { vertexOffset: 'vec3(0.0, lift * time, 0.0)' } },
  }).shader!;
  const drawn = (against: Against, from: number, to: number) =>
    plot({
      ...{ program: moved.program, taps: [1], against, from, to, samples: 3, at: [-1, 0, 0] },
      readings: [
        { kind: 'position' },
        { kind: 'normal' },
        { kind: 'uv' },
        { kind: 'distance', to: [-1, 0, 2] },
      ],
      standing: CARD,
      given: { parameters: new Map([['lift', [0.5]]]), knobs: moved.knobs },
    });
  // It rises by lift · time: by half of the time, and by a quarter of the lift.
  for (const [found, heights] of [
    [drawn({ kind: 'time' }, 0, 4), [0, 1, 2]],
    [drawn({ kind: 'parameter', name: 'lift' }, 0, 2), [0, 0.25, 0.5]],
  ] as const) {
    near(
      found,
      0,
      heights.map((y) => [y]),
    );
    near(
      found,
      1,
      heights.map((y) => [-1, y, 0]),
    );
    near(
      found,
      2,
      heights.map(() => [0, 0, 1]),
    );
    near(
      found,
      3,
      heights.map(() => [0, 0.5]),
    );
    near(
      found,
      4,
      heights.map((y) => [Math.hypot(y, 2)]),
    );
  }
  near(
    drawn({ kind: 'u' }, 0, 1),
    1,
    [-1, 0, 1].map((px) => [px, 0.125, 0]),
  );
});

test('what has no number says so, and is left out of the table', () => {
  const found = at({ kind: 'u' }, 0.5, 1.5, 3);
  assert.match((found.lines[4] as { readonly why: string }).why, /only the picture knows/);
  const rows = plotCsv(found, 'u', ['wave', 'both', 'a, b', 'slope', 'behind']).trim().split('\n');
  assert.equal(rows[0], 'u,wave,both.x,both.y,"a, b",slope');
  assert.equal(rows[2]!.split(',')[2], '1');
  assert.equal(rows[3], '1.5,,,,,');
  assert.throws(() => at({ kind: 'u' }, 2, 3), /No part of this mesh/);
  assert.throws(() => at({ kind: 'parameter', name: 'burn' }, 0, 1), /Nothing in this shader reads burn/);
  assert.throws(() => at({ kind: 'time' }, 1, 1), /smaller number/);
});

test('distances to what stands near are computed of its volumes, wherever it stands and is turned', () => {
  // A ball of half a metre, its distances on a grid, in a box of two.
  const count = 24;
  const place = (i: number): number => placeAt(-1, 1, count, i);
  const ball: Volume = {
    ...{ size: [count, count, count], low: [-1, -1, -1], high: [1, 1, 1], signed: true },
    values: Float32Array.from({ length: count ** 3 }, (_, i) => {
      const [x, y, z] = [i % count, Math.floor(i / count) % count, Math.floor(i / count ** 2)].map(place);
      return Math.hypot(x!, y!, z!) - 0.5;
    }),
  };
  // One to the left at (−2, 0, 0); one a quarter turn about z, at (0.25, 0, 1).
  const near = [
    { volume: ball, toMesh: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 2, 0, 0, 1] },
    { volume: ball, toMesh: [0, -1, 0, 0, 1, 0, 0, 0, 0, 0, 1, 0, 0, 0.25, -1, 1] },
  ];
  const found = at({ kind: 'line', to: [1, 0, 0] }, 0, 2, 9, near).lines[4] as {
    readonly values: readonly (readonly number[])[];
  };
  found.values.forEach(([metres], i) => {
    const x = -1 + i / 4;
    const wanted = Math.min(Math.abs(x + 2), Math.hypot(x - 0.25, 1)) - 0.5;
    assert.ok(Math.abs(metres! - wanted) < 0.01, `${metres} at ${x}, and not ${wanted}`);
  });
  const none = at({ kind: 'line', to: [1, 0, 0] }, 0, 2, 3, []).lines[4] as typeof found;
  assert.deepEqual(none.values, [[10_000], [10_000], [10_000]]);
});
