import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { sketchShader } from '../document/sketch.ts';
import { evaluate } from '../evaluate/columns/evaluate.ts';
import { programOf } from '../compileShader.ts';
import { at, close } from './atOnePoint.testing.ts';

// ---- the field's formulas, written down once more by hand

const { floor, hypot, max, min, sqrt } = Math;
const scaled = (a: readonly number[], k: number) => a.map((x) => x * k);
const unit = (a: readonly number[]) => scaled(a, 1 / hypot(...a));

// ---- noise

/** pcg3d by hand (Jarzynski and Olano, 2020). */
const pcg3d = (x: number, y: number, z: number): number[] => {
  let [a, b, c] = [x, y, z].map((each) => (Math.imul(each, 1664525) + 1013904223) >>> 0) as [
    number,
    number,
    number,
  ];
  const churn = () => {
    a = (a + Math.imul(b, c)) >>> 0;
    b = (b + Math.imul(c, a)) >>> 0;
    c = (c + Math.imul(a, b)) >>> 0;
  };
  churn();
  [a, b, c] = [a, b, c].map((each) => (each ^ (each >>> 16)) >>> 0) as [number, number, number];
  churn();
  return [a, b, c].map((each) => (each >>> 8) * 2 ** -24);
};

test('gradient noise is what Perlin’s is by hand: unit gradients, quintic between them, from −1 to 1', () => {
  const ease = (t: number) => t * t * t * (t * (t * 6 - 15) + 10);
  const byHand = (x: number, y: number, seed: number) => {
    const [i, j] = [floor(x), floor(y)];
    const corner = (a: number, b: number) => {
      const [gx, gy] = unit(
        pcg3d(i + a, j + b, seed)
          .slice(0, 2)
          .map((h) => h * 2 - 1),
      );
      return gx! * (x - i - a) + gy! * (y - j - b);
    };
    const mix = (p: number, q: number, t: number) => p + (q - p) * t;
    const [u, w] = [ease(x - i), ease(y - j)];
    return mix(mix(corner(0, 0), corner(1, 0), u), mix(corner(0, 1), corner(1, 1), u), w) * sqrt(2);
  };
  for (const [x, y, seed] of [
    [0.5, 0.5, 3],
    [2.25, 7.75, 11],
    [5.1, 0.4, 2],
  ] as const)
    close(at(`gradientNoise(vec2(${x}, ${y}), ${seed})`), [byHand(x, y, seed)], `at ${x}, ${y}`);
});

test('noises that run from −1 to 1 come near both ends and never pass them', () => {
  const count = 40_000;
  for (const name of ['gradientNoise', 'gradientNoise3', 'simplexNoise', 'simplexNoise3']) {
    const shader = sketchShader({
      made: [['value', { x: `${name}(${name.endsWith('3') ? 'position' : 'uv'}, 5)` }]],
    });
    // Spread evenly in space by the plastic number’s powers.
    const at = Float32Array.from({ length: count * 3 }, (_, k) => {
      const step = [0.8191725134, 0.6710436067, 0.5497004779][Math.floor(k / count)]!;
      return (((k % count) * step) % 1) * 900;
    });
    const [column] = evaluate([programOf(shader).program!.taps[0]!.value], {
      ...{ count, inputs: { uv: at.subarray(0, count * 2), position: at } },
      ...{ parameters: new Map(), knobs: new Map([['made-0.x', [0]]]) },
    });
    const data = Array.from(column!.data);
    const [least, most] = [data.reduce((x, y) => min(x, y)), data.reduce((x, y) => max(x, y))];
    assert.ok(most > 0.85 && most <= 1 && least < -0.85 && least >= -1, `${name}: ${least} to ${most}`);
  }
});

test('noise stands on the published hash', () => {
  for (const [x, y, seed] of [
    [0, 0, 0],
    [3, 7, 5],
    [11, 2, 1184],
  ] as const) {
    close(at(`valueNoise(vec2(${x}, ${y}), ${seed})`), [pcg3d(x, y, seed)[0]!], 'a lattice point');
    close(at(`random(${x}, ${y})`), [pcg3d(x, y, 0)[0]!], 'random');
  }
});

const RANGES: Readonly<Record<string, readonly [number, number]>> = {
  ...{ valueNoise: [0, 1], valueNoise3: [0, 1], gradientNoise: [-1, 1], gradientNoise3: [-1, 1] },
  ...{ simplexNoise: [-1, 1], simplexNoise3: [-1, 1], fractal: [-1, 1], fractal3: [-1, 1] },
  ...{ worley: [0, 1.5], worley3: [0, 1.8] },
};
const place = (name: string, x: number, y: number, z: number) =>
  name.endsWith('3') ? `vec3(${x}, ${y}, ${z})` : `vec2(${x}, ${y})`;
const spot = fc.tuple(...[1, 2, 3].map(() => fc.integer({ min: -6000, max: 6000 }).map((n) => n / 1000)));

test('noises stay in range, change with their seed, and are the same again', () => {
  for (const [name, [low, high]] of Object.entries(RANGES)) {
    const seen = new Set<number>();
    const at0 = (seed: number, x: number, y: number, z: number) =>
      at(
        `${name}(${place(name, x, y, z)}, ${name.startsWith('fractal') ? `4, 2.0, 0.5, ${seed}` : seed})`,
      )[0]!;
    fc.assert(
      fc.property(spot, ([x, y, z]) => {
        const once = at0(3, x!, y!, z!);
        seen.add(once);
        assert.ok(once >= low - 1e-6 && once <= high + 1e-6, `${name} gives ${once}`);
        assert.equal(at0(3, x!, y!, z!), once);
      }),
      { numRuns: 12, seed: 7 },
    );
    assert.ok(seen.size > 6, `${name} hardly changes`);
    assert.notEqual(at0(3, 0.37, 0.81, 0.2), at0(4, 0.37, 0.81, 0.2));
  }
});

test('a period makes every noise tile, in the plane and in space', () => {
  for (const name of Object.keys(RANGES))
    for (const [x, y, z] of [
      [0.3, 0.6, 0.1],
      [3.7, 1.2, 2.9],
    ] as const)
      for (const period of [1, 3, 4, 5]) {
        const given = name.startsWith('fractal') ? `3, 2.0, 0.5, 2, ${period}` : `2, ${period}`;
        const here = at(`${name}(${place(name, x, y, z)}, ${given})`);
        for (const [dx, dy, dz] of [
          [period, 0, 0],
          [0, period, 0],
          [-2 * period, period, period],
        ] as const)
          close(
            at(`${name}(${place(name, x + dx, y + dy, z + dz)}, ${given})`).map((n) => n),
            here.map((n) => n),
            `${name} at ${x}, ${y} and ${dx}, ${dy} on`,
          );
      }
});

test('cellular results belong together, by each metric', () => {
  for (const metric of ['straight', 'blocks', 'square'])
    for (const dimension of ['worley', 'worley3']) {
      const read = (result: string) =>
        at(`${dimension}(${place(dimension, 2.3, 4.1, 0.7)}, 5, 0, 1.0, ${result}, ${metric})`)[0]!;
      const [nearest, second, edge] = [read('nearest'), read('second'), read('edge')];
      assert.ok(nearest <= second);
      assert.ok(Math.abs(edge - (second - nearest)) < 1e-5);
    }
  // One cell has one number: two places in it agree, another cell's differ.
  const cell = (x: number) => at(`worley(vec2(${x}, 0.5), 5, 0, 0.0, cell)`)[0]!;
  assert.equal(cell(0.3), cell(0.6));
  assert.notEqual(cell(0.3), cell(1.4));
});
