import assert from 'node:assert/strict';
import test from 'node:test';
import { chanceOf } from '../numbers/chance.ts';
import { curveAt, gradientAt } from '../numbers/curve.ts';
import { givenOf, type Around, type Told } from './declareStep.ts';
import { drawn, luminance, type Image } from './image.ts';
import { IMAGE_STEPS } from './imageSteps.ts';
import { lightnessOf } from './pixelCode.ts';

/** More than what is worked on at once, and an odd number. */
const WIDTH = 4099;
const ODD = [0, -0, 1, 0.5, -0.25, 1.75, 1e-40, Infinity, -Infinity, NaN];
/** Numbers in and beyond 0–1, and now and then one that is hard to get right. */
const picture = (seed: number): Image =>
  drawn(WIDTH, 1, (x, y, to, at) => {
    for (let c = 0; c < 4; c += 1) {
      const chance = chanceOf(seed + c, x, y);
      to[at + c] = chance < 0.1 ? ODD[Math.floor(chance * 100)]! : chanceOf(seed + c + 9, x, y) * 1.5 - 0.25;
    }
  });
const [image, other, mask] = [picture(1), picture(2), picture(3)];
const textures: Readonly<Record<string, Image>> = { other, mask };
const around = {
  ...{ size: [WIDTH, 1], scale: 1, wraps: [true, true], top: 0, progress: () => undefined },
  beside: (id: string) => textures[id]!,
} as unknown as Around;

type Pixel = readonly [number, number, number, number];
type Formula = (pixel: Pixel, other: Pixel, mask: Pixel, x: number) => readonly number[];
const held = (x: number): number => Math.min(Math.max(x, 0), 1);
const tone =
  (of: (x: number) => number): Formula =>
  ([r, g, b, a]) => [of(r), of(g), of(b), a];
const light = ([r, g, b]: Pixel): number => luminance(r, g, b);
const pixelOf = ({ data }: Image, at: number): Pixel => [...data.subarray(at, at + 4)] as unknown as Pixel;

/** Holds a step to a formula at every pixel, to the bit; numbers that are none are all the same. */
const holds = (
  name: string,
  formula: Formula,
  numbers: Told['numbers'] = {},
  words: Told['words'] = {},
  top = 0,
): void => {
  const step = IMAGE_STEPS.get(name)!;
  const { data } = step.make(image, givenOf(step, { numbers, words }, around), { ...around, top });
  for (let i = 0; i < data.length; i += 4) {
    const expected = formula(pixelOf(image, i), pixelOf(other, i), pixelOf(mask, i), i / 4).map(Math.fround);
    const made = [...data.subarray(i, i + 4)];
    if (made.every((each, c) => each === expected[c])) continue;
    assert.deepEqual(
      made.map((each) => each + 0),
      expected.map((each) => each + 0),
      `${name} ${JSON.stringify({ ...numbers, ...words })} of ${pixelOf(image, i).join(', ')} at ${i / 4}`,
    );
  }
};

test('a formula for two pixels at a time comes to what the same comes to number by number, at every pixel', () => {
  holds(
    'invert',
    tone((x) => 1 - x),
  );
  holds(
    'contrast',
    tone((x) => (x - 0.4) * 3 + 0.4),
    { amount: [3], middle: [0.4] },
  );
  holds(
    'levels',
    tone((x) => held((x - 0.2) / (0.7 - 0.2))),
    { black: [0.2], white: [0.7] },
  );
  holds(
    'levels',
    tone((x) => (x - 0.9) / (0.1 - 0.9)),
    { black: [0.9], white: [0.1], hold: [0] },
  );
  holds(
    'levels',
    tone((x) => (x >= 0.5 ? 1 : 0)),
    { black: [0.5], white: [0.5], gamma: [3] },
  );
  holds(
    'threshold',
    tone((x) => (x >= 0.6 ? 1 : 0)),
    { edge: [0.6] },
  );
  holds(
    'threshold',
    tone((x) => held((x - 0.6) / 0.3 + 0.5)),
    { edge: [0.6], soft: [0.3] },
  );
  holds(
    'posterise',
    tone((x) => Math.round(held(x) * 6) / 6),
    { steps: [7] },
  );
  const grey = (of: (pixel: Pixel) => number, isOpaque = false): Formula => {
    return (pixel) => [...new Array<number>(3).fill(of(pixel)), isOpaque ? 1 : pixel[3]];
  };
  const channels = { red: 0, green: 1, blue: 2, alpha: 3 } as const;
  holds('grey', grey(light), {}, { by: 'luminance' });
  holds(
    'grey',
    grey(([r, g, b]) => (r + g + b) / 3),
    {},
    { by: 'mean' },
  );
  holds('unpack', grey(light, true), {}, { channel: 'luminance' });
  for (const [name, c] of Object.entries(channels)) {
    holds(
      'grey',
      grey((pixel) => pixel[c], c === 3),
      {},
      { by: name },
    );
    holds(
      'unpack',
      grey((pixel) => pixel[c], true),
      {},
      { channel: name },
    );
  }
  assert.deepEqual(
    lightnessOf(image.data),
    Float32Array.from({ length: WIDTH }, (_, i) => light(pixelOf(image, i * 4))),
  );
});

test('two pictures are mixed by each way as number by number, also by a mask', () => {
  const joins: Readonly<Record<string, (a: number, b: number) => number>> = {
    mix: (_, b) => b,
    add: (a, b) => a + b,
    subtract: (a, b) => a - b,
    multiply: (a, b) => a * b,
    lightest: Math.max,
    darkest: Math.min,
    screen: (a, b) => 1 - (1 - a) * (1 - b),
    difference: (a, b) => Math.abs(a - b),
  };
  for (const [by, join] of Object.entries(joins))
    for (const isMasked of [false, true])
      holds(
        'mix',
        (a, b, m) => {
          const share = 0.3 * (isMasked ? light(m) : 1);
          const of = (c: 0 | 1 | 2 | 3): number => a[c] * (1 - share) + join(a[c], b[c]) * share;
          return [of(0), of(1), of(2), by === 'mix' ? of(3) : a[3]];
        },
        { amount: [0.3] },
        { by, other: 'other', ...(isMasked && { mask: 'mask' }) },
      );
});

test('any number of another picture is packed into any of a pixel, and the rest stays', () => {
  const names = ['red', 'green', 'blue', 'alpha'] as const;
  for (const [c, into] of names.entries())
    for (const from of [...names, 'luminance'] as const) {
      const of = (pixel: Pixel): number =>
        from === 'luminance' ? light(pixel) : pixel[names.indexOf(from)]!;
      holds('pack', (a, b) => a.with(c, of(b)), {}, { into, from, other: 'other' });
    }
});

test('curves and gradients of one key to many are at every number what they are at one, also where keys meet', () => {
  for (let count = 1; count <= 11; count += 1) {
    const places = Array.from({ length: count }, (_, i) => chanceOf(count, i) * 0.8 + 0.1).sort(
      (a, b) => a - b,
    );
    // Two at one place: a step.
    if (count > 3) places[2] = places[1]!;
    const keys = places.flatMap((x, i) => [x, ...[1, 2, 3].map((k) => chanceOf(count, i, k) * 2 - 0.5)]);
    holds(
      'curves',
      tone((x) => curveAt(keys, x)),
      { curve: keys },
    );
    holds('gradientMap', (pixel) => [...gradientAt(keys, light(pixel)), pixel[3]], { gradient: keys });
  }
});

test('a dither is Bayer’s order of eight by eight, wherever its rows begin', () => {
  /** Of a place, by the bits of its row and of both together, the lowest first and each the more (B. Bayer, 1973). */
  const order = (x: number, y: number): number => {
    let made = 0;
    for (let bit = 0; bit < 3; bit += 1) {
      const [row, both] = [(y >> bit) & 1, ((x ^ y) >> bit) & 1];
      made = made * 4 + both * 2 + row;
    }
    return made;
  };
  for (let y = 0; y < 9; y += 1) {
    const formula: Formula = ([r, g, b, a], _, __, x) => {
      const shift = (order(x, y) + 0.5) / 64 - 0.5;
      return [...[r, g, b].map((v) => held(Math.round(held(v) * 3 + shift) / 3)), a];
    };
    holds('dither', formula, { steps: [4] }, {}, y);
  }
});
