import assert from 'node:assert/strict';
import { test } from 'node:test';
import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';
import { zlibSync } from 'fflate';
import sharp, { type Sharp } from 'sharp';
import { chanceOf } from '../numbers/chance.ts';
import { toSrgbByte } from '../numbers/colour.ts';
import { parsePart } from '../document/parsePart.ts';
import { encodePng } from './encodePng.ts';
import { blurredBy, gaussian, widelyBlurred } from './blurred.ts';
import { gaussianBlurred } from './gaussianBlurred.ts';
import { greyPixels, opaqueGrey } from './greyRows.ts';
import { lookAt } from './lookAt.ts';
import { coloursReach, lossIn } from './lossIn.ts';
import { beyond, CHANNELS, drawn, greyOf, isOpaque, planeOf, type Image } from './image.ts';
import { movedTo } from './movedTo.ts';
import { overChannels } from './overChannels.ts';
import { IMAGE_STEPS } from './imageSteps.ts';
import { createMaker, type MadeStep, type Sources } from './makeTexture.ts';
import { powersOfTwo } from './powersOfTwo.ts';
import { digestOf, type Recipe, type RecipeStep } from './recipe.ts';
import { rowsOf } from './rows.ts';
import { seamFigure, seamOf } from './seams.ts';
import { distances } from './distances.ts';
import { weighedAlong } from './weighedAlong.ts';
import { turned, weighedRows } from './weighedRows.ts';

const [WIDTH, HEIGHT] = [48, 32];
const speckled = greyOf(
  WIDTH,
  HEIGHT,
  Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => chanceOf(5, i)),
);
const colours = drawn(WIDTH, HEIGHT, (x, y, to, at) =>
  to.set([chanceOf(1, x, y), chanceOf(2, x, y), chanceOf(3, x, y), 1], at),
);
const stepOf = (
  step: string,
  numbers: RecipeStep['numbers'] = {},
  words: RecipeStep['words'] = {},
): RecipeStep => ({
  ...{ id: `${step} ${JSON.stringify([numbers, words])}`, step, numbers, words },
});
const PICTURE = stepOf('picture', {}, { picture: 'p', holds: 'numbers' });
const recipe = (steps: readonly RecipeStep[], more: Partial<Recipe> = {}): Recipe => ({
  ...{ name: 'T', size: [WIDTH, HEIGHT], repeats: [true, true], steps, ...more },
});
/** Nothing but pictures. */
const bringing = (picture: (sha: string) => Image): Sources => {
  const none = () => {
    throw new Error('There is none.');
  };
  return { picture, surface: none, mesh: none, face: none };
};
/** What steps make of a picture. */
const made = (
  image: Image,
  steps: readonly RecipeStep[],
  others: Readonly<Record<string, Image>> = {},
  more: Partial<Recipe> = {},
): Image => {
  const recipes = new Map([
    ['t', recipe([PICTURE, ...steps], more)],
    ...Object.keys(others).map(
      (name) => [name, recipe([stepOf('picture', {}, { picture: name, holds: 'numbers' })])] as const,
    ),
  ]);
  return createMaker(
    recipes,
    bringing((sha) => others[sha] ?? image),
  ).image('t');
};
const at = ({ width, data }: Image, x: number, y: number, c = 0): number =>
  data[(y * width + x) * CHANNELS + c]!;
const near = (a: number, b: number, within: number, what = ''): void =>
  assert.ok(Math.abs(a - b) <= within, `${what} ${a} is not ${b}`);
/** The same by libvips, from and to bytes. */
const byVips = async (image: Image, how: (one: Sharp) => Sharp): Promise<Buffer> => {
  const bytes = Buffer.from(planeOf(image, 0).map((x) => Math.round(x * 255)));
  const raw = { width: image.width, height: image.height, channels: 1 } as const;
  return how(sharp(bytes, { raw })).toColourspace('b-w').raw().toBuffer();
};

test('a Gaussian blur and a Lanczos resize are what libvips makes of the same picture', async () => {
  const soft = made(speckled, [stepOf('blur', { radius: [2] })], {}, { repeats: [false, false] });
  const vips = await byVips(speckled, (one) =>
    one.blur({ sigma: 2, precision: 'float', minAmplitude: 0.01 }),
  );
  for (let y = 8; y < HEIGHT - 8; y += 1)
    for (let x = 8; x < WIDTH - 8; x += 1)
      near(at(soft, x, y) * 255, vips[y * WIDTH + x]!, 2.5, `blur ${x} ${y}`);
  const small = made(speckled, [stepOf('resize', { size: [24, 16] })], {}, { repeats: [false, false] });
  assert.deepEqual([small.width, small.height], [24, 16]);
  const resized = await byVips(speckled, (one) => one.resize(24, 16, { kernel: 'lanczos3', fit: 'fill' }));
  for (let y = 4; y < 12; y += 1)
    for (let x = 4; x < 20; x += 1)
      near(Math.min(Math.max(at(small, x, y), 0), 1) * 255, resized[y * 24 + x]!, 4, `resize ${x} ${y}`);
  // A box by hand, that comes round.
  const box = made(speckled, [stepOf('blur', { radius: [1] }, { by: 'box' })]);
  let sum = 0;
  for (const dy of [-1, 0, 1])
    for (const dx of [-1, 0, 1]) sum += at(speckled, (dx + WIDTH) % WIDTH, (dy + HEIGHT) % HEIGHT);
  near(at(box, 0, 0), sum / 9, 1e-6, 'box');
});

test('distances are those to the nearest of all, also around the edges', () => {
  // Dense, thin, and with a single place, so that whole rows have none.
  for (const share of [0.5, 0.98, 0.9995])
    for (const wraps of [[false, false] as const, [true, true] as const])
      for (const most of [Infinity, 4.5]) {
        const mask = Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => +(chanceOf(9, i) > share));
        const places = [...mask.keys()].filter((i) => mask[i]);
        assert.ok(places.length > 0 && (share < 0.99 || places.length < 4), String(places.length));
        const found = distances(mask, { width: WIDTH, height: HEIGHT }, wraps, most);
        for (let y = 0; y < HEIGHT; y += 5)
          for (let x = 0; x < WIDTH; x += 3) {
            let least = Infinity;
            for (const i of places) {
              let [dx, dy] = [Math.abs((i % WIDTH) - x), Math.abs(Math.floor(i / WIDTH) - y)];
              if (wraps[0]) [dx, dy] = [Math.min(dx, WIDTH - dx), Math.min(dy, HEIGHT - dy)];
              least = Math.min(least, Math.hypot(dx, dy));
            }
            const it = found[y * WIDTH + x]!;
            if (least <= most) near(it, least, 1e-4, `${x} ${y}`);
            else assert.ok(it > most, `${x} ${y}: ${it}`);
          }
      }
});

test('sizes that are powers of two are offered about in the shape of one, and none that is too large', () => {
  for (const [size, most, offered] of [
    [[500, 260], 4096, '256×128 512×256 1024×512'],
    [[512, 512], 4096, '256×256 1024×1024'],
    [[1, 1], 4096, '2×2'],
    [[4096, 4096], 4096, '2048×2048'],
    [[5000, 5000], 8192, '2048×2048 4096×4096'],
    [[3, 700], 4096, '2×256 4×512 8×1024'],
  ] as const)
    assert.equal(
      powersOfTwo(size, most)
        .map((each) => each.join('×'))
        .join(' '),
      offered,
      size.join('×'),
    );
});

test('a distance falls off as far as it says on each side, and on both from the edge between them', () => {
  const upper = drawn(8, 24, (_x, y, to, place) => to.set([y < 10 ? 1 : 0, 0, 0, 1], place));
  const reach = 3.8;
  for (const [side, of] of [
    ['outside', (y: number) => (y < 10 ? 1 : 1 - (y - 9) / reach)],
    ['inside', (y: number) => (y < 10 ? (10 - y) / reach : 0)],
    ['both', (y: number) => 0.5 + (9.5 - y) / (2 * reach)],
  ] as const) {
    const step = stepOf('distance', { edge: [0.2], reach: [reach] }, { side });
    const fell = made(upper, [step], {}, { size: [8, 24], repeats: [false, false] });
    for (let y = 0; y < 24; y += 1)
      near(at(fell, 3, y), Math.min(Math.max(of(y), 0), 1), 1e-6, `${side} ${y}`);
  }
});

test('pixels from between others are the same whether all of them are held beside, or asked for one by one', () => {
  for (const wraps of [[false, false] as const, [true, false] as const, [false, true] as const]) {
    const placesOf = (y: number, places: Float64Array): void =>
      places.forEach((_, i) => {
        const chance = chanceOf(31, i, y);
        const range = i % 2 ? HEIGHT : WIDTH;
        places[i] = chance < 0.02 ? [NaN, -0, 0.5, range - 0.5, 1e9][i % 5]! : (chance * 2 - 0.5) * range;
      });
    assert.deepEqual(movedTo(colours, wraps, placesOf), movedTo(colours, wraps, placesOf, 0));
  }
});

test('a normal is at right angles to its height, which way green points too; low places follow their formula', () => {
  const slope = greyOf(
    WIDTH,
    HEIGHT,
    Float32Array.from(
      { length: WIDTH * HEIGHT },
      (_, i) => (i % WIDTH) * 0.02 - Math.floor(i / WIDTH) * 0.01,
    ),
  );
  for (const by of ['sobel', 'scharr'])
    for (const [green, sign] of [
      ['up', 1],
      ['down', -1],
    ] as const) {
      const normal = made(slope, [stepOf('normal', { depth: [8] }, { by, green })]);
      const [x, y, z] = [0, 1, 2].map((c) => at(normal, 20, 16, c) * 2 - 1);
      // Rising by 0.16 to the right and by 0.08 upwards.
      const size = Math.hypot(0.16, 0.08, 1);
      [x, y, z].forEach((value, i) =>
        near(value!, [-0.16, -0.08 * sign, 1][i]! / size, 1e-5, `${by} ${green} ${i}`),
      );
    }
  const low = made(speckled, [
    stepOf('lowPlaces', { filter: [1, 1], sensitivity: [0, 0.1, 0.3], intensity: [2] }),
  ]);
  const mean = (at(speckled, 9, 7) + at(speckled, 11, 7) + at(speckled, 10, 6) + at(speckled, 10, 8)) / 4;
  [0, 0.1, 0.3].forEach((sensitivity, c) =>
    near(at(low, 10, 7, c), Math.max(Math.max(mean - at(speckled, 10, 7), 0) - sensitivity, 0) * 2, 1e-6),
  );
});

test('normals are joined as their formulas say: flat changes nothing, and reoriented is the detail turned with its base', () => {
  const direction = (x: number, y: number): Image => {
    const size = Math.hypot(x, y, 1);
    return drawn(4, 4, (_x, _y, to, place) =>
      to.set([...[x, y, 1].map((n) => (n / size) * 0.5 + 0.5), 1], place),
    );
  };
  const join = (by: string, base: Image, detail: Image, amount = 1) => {
    const image = made(base, [stepOf('combineNormals', { amount: [amount] }, { detail: 'd', by })], {
      d: detail,
    });
    return [0, 1, 2].map((c) => at(image, 1, 1, c) * 2 - 1);
  };
  const [flat, bent] = [direction(0, 0), direction(0.4, -0.3)];
  const own = [0, 1, 2].map((c) => at(bent, 0, 0, c) * 2 - 1);
  for (const by of ['reoriented', 'whiteout', 'basis', 'baseZ', 'add'])
    join(by, bent, flat).forEach((x, i) =>
      near(x, own[i]!, by === 'whiteout' || by === 'baseZ' ? 0.2 : 1e-5, by),
    );
  join('reoriented', flat, bent).forEach((x, i) => near(x, own[i]!, 1e-5, 'over flat'));
  // Turned as z is turned to the base: Rodrigues' formula about their cross product.
  const [a, b] = [own, [0.6, 0, 0.8]];
  const k = [-a[1]!, a[0]!, 0];
  const cos = a[2]!;
  const cross = [k[1]! * b[2]! - 0, 0 - k[0]! * b[2]!, k[0]! * b[1]! - k[1]! * b[0]!];
  const along = (k[0]! * b[0]! + k[1]! * b[1]!) / (1 + cos);
  const expected = b.map((x, i) => x * cos + cross[i]! + k[i]! * along);
  join('reoriented', bent, direction(0.75, 0)).forEach((x, i) => near(x, expected[i]!, 1e-4, 'turned'));
  join('reoriented', flat, bent, -1).forEach((x, i) => near(x, i < 2 ? -own[i]! : own[2]!, 1e-5, 'reversed'));
});

test('what is healed shows no more at its edges than inside, by each way; noise comes round by itself', () => {
  const leaning = drawn(64, 64, (x, y, to, place) => {
    const value = x / 90 + (y / 64) * 0.3 + chanceOf(4, x >> 2, y >> 2) * 0.1;
    to.set([value, value, value, 1], place);
  });
  const before = seamFigure(leaning);
  assert.ok(before > 0.3, `it is seen: ${before}`);
  for (const by of ['mixed', 'cut', 'spread', 'least']) {
    const healed = made(leaning, [stepOf('heal', { band: [16] }, { by })], {}, { size: [64, 64] });
    assert.ok(seamFigure(healed) < before / 5, `${by}: ${seamFigure(healed)}`);
    if (by === 'least') assert.match(healed.note ?? '', /^healed by (mixed|cut|spread)/);
    // What it says of itself is not said of what comes after it.
    const after = made(leaning, [stepOf('heal', {}, { by }), stepOf('sharpen')], {}, { size: [64, 64] });
    assert.equal(after.note, undefined);
    near(at(healed, 32, 32), at(leaning, 32, 32), by === 'spread' ? 1e-6 : 0.35, `${by} in the middle`);
  }
  for (const by of ['gradient', 'value', 'worley', 'borders']) {
    const noise = createMaker(
      new Map([['n', recipe([stepOf('noise', { cells: [5], octaves: [3] }, { by })], { size: [96, 96] })]]),
      bringing(() => speckled),
    ).image('n');
    const { across, inside } = seamOf(noise);
    for (const i of [0, 1])
      assert.ok(across[i]! < inside[i]! * 1.6 && inside[i]! > 0, `${by}: ${across[i]} ${inside[i]}`);
  }
});

test('colours are weighed by alpha and found again to the last bit; where nothing is seen they stay, or are black', () => {
  const alphas = [0, 1e-6, 2e-6, 1, 0.3, -0.2, 5e-7, 0.7];
  const width = 4099;
  const data = Float32Array.from({ length: width * 4 }, (_, i) =>
    i % 4 === 3 ? alphas[(i >> 2) % 8]! : chanceOf(2, i) * 3 - 1,
  );
  const kept = data.slice();
  const small = (width - 1) / 2;
  for (const [wide, how] of [
    [width, (x: Float32Array) => x],
    [small, (x: Float32Array) => x.slice(0, small * 4)],
  ] as const) {
    const size = wide === width ? undefined : ([wide, 1] as const);
    const found = overChannels({ width, height: 1, data }, how, size).data;
    assert.equal(found.length, wide * 4);
    found.forEach((x, i) => {
      const [colour, alpha] = [data[i]!, data[i - (i % 4) + 3]!];
      const wanted =
        i % 4 === 3
          ? alpha
          : alpha > 1e-6
            ? Math.fround(Math.fround(colour * alpha) / alpha)
            : wide === width
              ? colour
              : 0;
      assert.ok(x === wanted, `${wide}, ${i}: ${x} is not ${wanted}`);
    });
  }
  assert.deepEqual(data, kept, 'what is given stays as it is');
  // Whether anything is seen through at all, wherever that is.
  for (const at of [0, 4095, 4096, width - 1]) {
    const whole = new Float32Array(width * 4).fill(1);
    assert.ok(isOpaque({ data: whole }));
    whole[at * 4 + 2] = 0.5;
    assert.ok(isOpaque({ data: whole }));
    whole[at * 4 + 3] = 0.999;
    assert.ok(!isOpaque({ data: whole }), String(at));
  }
});

test('a seam is the mean step over an edge, as a share of the range, against the mean step inside', () => {
  for (const [width, height] of [
    [7, 5],
    [1, 4],
    [6, 1],
  ] as const) {
    const image = drawn(width, height, (x, y, to, place) =>
      // Green reaches furthest below 0, and steps most.
      to.set([chanceOf(3, x, y), chanceOf(4, x, y) ** 4 * 9 - 3, x * 0.01, 0.5], place),
    );
    const of = (c: number) => {
      const all = [...image.data].filter((_, i) => i % 4 === c);
      const range = Math.max(...all) - Math.min(...all) || 1;
      const step = (x: number, y: number, i: number, k: number) =>
        Math.abs(all[y * width + x]! - all[k * width + i]!) / range;
      const mean = (list: readonly number[]) =>
        list.length ? list.reduce((a, b) => a + b) / list.length : 0;
      const [xs, ys] = [[...Array(width).keys()], [...Array(height).keys()]];
      return {
        across: [
          mean(ys.map((y) => step(0, y, width - 1, y))),
          mean(xs.map((x) => step(x, 0, x, height - 1))),
        ],
        inside: [
          mean(ys.flatMap((y) => xs.slice(1).map((x) => step(x, y, x - 1, y)))),
          mean(ys.slice(1).flatMap((y) => xs.map((x) => step(x, y, x, y - 1)))),
        ],
      };
    };
    const shown = ({ across, inside }: ReturnType<typeof of>) =>
      Math.max(across[0]! - inside[0]!, across[1]! - inside[1]!);
    const worst = [0, 1, 2].map(of).reduce((a, b) => (shown(b) > shown(a) ? b : a));
    const { across, inside } = seamOf(image);
    [...across, ...inside].forEach((x, i) =>
      near(x, [...worst.across, ...worst.inside][i]!, 1e-9, `${width} × ${height}`),
    );
  }
});

test('tones: levels, curves, thresholds and the rest are what they say, and every step keeps what is told of it', () => {
  const one = (step: RecipeStep, x: number, c = 0): number => {
    const flat = drawn(2, 2, (_x, _y, to, place) => to.set([x, x / 2, x / 4, 1], place));
    return at(made(flat, [step], {}, { size: [2, 2] }), 0, 0, c);
  };
  for (const [step, x, y] of [
    [stepOf('levels', { black: [0.25], white: [0.75] }), 0.5, 0.5],
    [stepOf('levels', { black: [0.25], white: [0.75], gamma: [2] }), 0.375, 0.5],
    [stepOf('levels', { black: [0.5], white: [0.5] }), 0.6, 1],
    [stepOf('levels', { black: [0], white: [0.5], hold: [0] }), 0.75, 1.5],
    [stepOf('invert'), 0.3, 0.7],
    [stepOf('contrast', { amount: [2] }), 0.75, 1],
    [stepOf('threshold', { edge: [0.5] }), 0.5, 1],
    [stepOf('threshold', { edge: [0.5], soft: [0.2] }), 0.45, 0.25],
    [stepOf('posterise', { steps: [3] }), 0.6, 0.5],
    [stepOf('curves', { curve: [0, 1, -1, -1, 1, 0, -1, -1] }), 0.25, 0.75],
    [stepOf('grey', {}, { by: 'mean' }), 0.8, (0.8 + 0.4 + 0.2) / 3],
    [stepOf('grey', {}, { by: 'luminance' }), 1, 0.2126 + 0.7152 / 2 + 0.0722 / 4],
    [stepOf('unpack', {}, { channel: 'blue' }), 0.8, 0.2],
  ] as const)
    near(one(step, x), y, 1e-6, JSON.stringify(step));
  // A mean of what is dithered is what it was.
  const grey = drawn(64, 64, (_x, _y, to, place) => to.set([0.3, 0.3, 0.3, 1], place));
  const dots = planeOf(made(grey, [stepOf('dither')], {}, { size: [64, 64] }), 0);
  near(dots.reduce((sum, x) => sum + x, 0) / dots.length, 0.3, 1 / 64, 'dither');
  const packed = made(speckled, [stepOf('pack', {}, { into: 'blue', other: 'o', from: 'green' })], {
    o: colours,
  });
  assert.deepEqual([at(packed, 3, 4, 2), at(packed, 3, 4, 0)], [at(colours, 3, 4, 1), at(speckled, 3, 4)]);
  const mixed = made(speckled, [stepOf('mix', { amount: [0.5] }, { other: 'o', by: 'multiply' })], {
    o: colours,
  });
  near(at(mixed, 3, 4), at(speckled, 3, 4) * (0.5 + at(colours, 3, 4) / 2), 1e-6, 'multiply');
  // Opaque less opaque is opaque still, and no more than that where both are added.
  for (const [by, x] of [
    ['subtract', at(speckled, 3, 4) - at(colours, 3, 4)],
    ['add', at(speckled, 3, 4) + at(colours, 3, 4)],
    ['difference', Math.abs(at(speckled, 3, 4) - at(colours, 3, 4))],
  ] as const) {
    const joined = made(speckled, [stepOf('mix', { amount: [1] }, { other: 'o', by })], { o: colours });
    near(at(joined, 3, 4), x, 1e-6, by);
    assert.equal(at(joined, 3, 4, 3), 1, by);
  }
  const clear = drawn(WIDTH, HEIGHT, (_x, _y, to, place) => to.set([0, 0, 0, 0], place));
  near(
    at(made(speckled, [stepOf('mix', { amount: [0.25] }, { other: 'o' })], { o: clear }), 3, 4, 3),
    0.75,
    1e-6,
  );
  const still = drawn(WIDTH, HEIGHT, (_x, _y, to, place) => to.set([0.5, 0.5, 0.5, 1], place));
  assert.deepEqual(made(colours, [stepOf('warp', {}, { by: 'o' })], { o: still }).data, colours.data);
  const grown = made(speckled, [stepOf('spread', { radius: [1] })]);
  near(
    at(grown, 10, 10),
    Math.max(
      ...[
        [0, 0],
        [1, 0],
        [-1, 0],
        [0, 1],
        [0, -1],
      ].map(([x, y]) => at(speckled, 10 + x!, 10 + y!)),
    ),
    0,
  );
  const half = made(made(colours, [stepOf('halfOffset')]), [stepOf('halfOffset')]);
  assert.deepEqual(half.data, colours.data);
  const straight = made(colours, [stepOf('straighten')], {}, { repeats: [false, false] });
  straight.data.forEach((x, i) => near(x, colours.data[i]!, 1e-5, 'straight'));
  const frame = made(colours, [stepOf('crop', { frame: [0.25, 0.5, 0.5, 0.25] })]);
  assert.deepEqual([frame.width, frame.height, at(frame, 0, 0)], [24, 8, at(colours, 12, 16)]);
  const even = planeOf(made(speckled, [stepOf('evenOut', { radius: [4] })]), 0);
  near(
    even.reduce((sum, x) => sum + x, 0) / even.length,
    planeOf(speckled, 0).reduce((sum, x) => sum + x, 0) / even.length,
    1e-4,
  );
});

test('what cannot be made is said at its step, and what was before it is kept', () => {
  const recipes = new Map([
    ['a', recipe([stepOf('texture', {}, { texture: 'b' })], { name: 'A' })],
    ['b', recipe([stepOf('texture', {}, { texture: 'a' })], { name: 'B' })],
    [
      'c',
      recipe([
        stepOf('invert'),
        stepOf('noise'),
        stepOf('noise', { seed: [2] }),
        stepOf('mix', {}, { other: 'gone' }),
      ]),
    ],
    ['d', recipe([stepOf('picture')])],
    ['e', recipe([PICTURE, stepOf('straighten', { corners: [0, 0, 1, 0, 0.5, 0, 0.2, 0] })])],
  ]);
  const maker = createMaker(
    recipes,
    bringing(() => speckled),
  );
  const said = (id: string) => maker.steps(id).map(({ mistake }) => mistake);
  assert.match(said('a')[0]!, /It would be made of itself: A → B → A/);
  const wrong = said('c');
  assert.match(wrong[0]!, /there is none before it: begin with noise, ramp/);
  assert.equal(wrong[1], null);
  assert.match(wrong[2]!, /noise begins a texture/);
  assert.match(wrong[3]!, /was deleted/);
  assert.deepEqual(maker.steps('c')[3]!.image, maker.steps('c')[1]!.image);
  assert.match(said('d')[0]!, /No picture is chosen yet/);
  assert.match(said('e')[1]!, /lie on a line/);
  assert.throws(() => maker.image('c'), /T cannot be made: invert changes a picture/);
  // What reads another follows it; the same recipe is told by the same digest.
  const follows = new Map([
    ['x', recipe([stepOf('texture', {}, { texture: 'y' })])],
    ['y', recipe([stepOf('noise')])],
  ]);
  const changed = new Map(follows).set('y', recipe([stepOf('noise', { seed: [3] })]));
  assert.equal(digestOf('x', follows), digestOf('x', new Map(follows)));
  assert.notEqual(digestOf('x', follows), digestOf('x', changed));
});

test('a long recipe holds no more pictures than a short one, and what is remembered is told in pixels', () => {
  setFlagsFromString('--expose-gc');
  const collect = runInNewContext('gc') as () => void;
  const side = 256;
  const picture = side * side * CHANNELS * 4;
  const recipes = new Map([
    [
      't',
      recipe([stepOf('noise'), ...Array.from({ length: 12 }, () => stepOf('invert'))], {
        size: [side, side],
      }),
    ],
  ]);
  collect();
  const before = process.memoryUsage().arrayBuffers;
  let most = 0;
  const progress = () => {
    // What the first one finds is let go of by the second.
    collect();
    collect();
    most = Math.max(most, process.memoryUsage().arrayBuffers - before);
  };
  createMaker(recipes, { ...bringing(() => speckled), progress }, { most: 0 }).image('t');
  assert.ok(most < 3 * picture, `${(most / picture).toFixed(1)} pictures were held`);
  const known = new Map<string, MadeStep>();
  createMaker(
    recipes,
    bringing(() => speckled),
    { most: 5 * side * side, known },
  ).steps('t');
  assert.equal(known.size, 5);
});

test('what is shown of a picture is its bytes, its spread and how far it reaches, also where that is without end', () => {
  const odd = greyOf(4, 1, [0.5, NaN, Infinity, -2]);
  for (const image of [
    speckled,
    colours,
    odd,
    { ...odd, data: odd.data.map((x, i) => (i % 4 === 1 ? 0.25 : x)) },
    { ...colours, data: colours.data.map((x, i) => (i % 12 === 3 ? chanceOf(9, i) * 1.2 - 0.1 : x)) },
    { ...speckled, data: speckled.data.map((x, i) => (i % 4 === 3 ? 0 : x)) },
  ])
    for (const holds of ['numbers', 'color'] as const) {
      const { pixels, histogram, low, high, broken } = lookAt(image, holds);
      assert.deepEqual({ low, high, broken }, coloursReach(image));
      const held = image.data.map((x) => (x > 0 ? Math.min(x, 1) : 0));
      const wanted = held.map((x, i) =>
        holds === 'color' && i % 4 < 3 ? toSrgbByte(x) : Math.round(x * 255),
      );
      assert.deepEqual(Array.from(pixels), Array.from(wanted));
      const count = held.length / 4;
      assert.equal(histogram.length, held.some((x, i) => i % 4 === 3 && x < 1) ? 4 : 3);
      histogram.forEach((bars, c) =>
        bars.forEach((share, bar) => {
          let within = 0;
          for (let i = c; i < held.length; i += 4)
            within += Math.min(Math.floor(held[i]! * 64), 63) === bar ? 1 : 0;
          near(share, within / count, 1e-12);
        }),
      );
    }
});

test('a PNG holds the very numbers, of one channel to four, of 8 and 16 bits, the same bytes every time', async () => {
  const veiled = drawn(5, 3, (x, y, to, place) => to.set([x / 4, y / 2, 0.25, 1 - x / 8], place));
  for (const [image, channels] of [
    [speckled, 1],
    [colours, 3],
    [veiled, 4],
  ] as const)
    for (const bits of [8, 16] as const) {
      const png = encodePng(rowsOf(image), { holds: 'numbers', bits }, zlibSync);
      assert.deepEqual(encodePng(rowsOf(image), { holds: 'numbers', bits }, zlibSync), png);
      const read = sharp(png).toColourspace(
        channels === 1 ? (bits === 8 ? 'b-w' : 'grey16') : bits === 8 ? 'srgb' : 'rgb16',
      );
      const { data, info } = await read
        .raw({ depth: bits === 8 ? 'uchar' : 'ushort' })
        .toBuffer({ resolveWithObject: true });
      assert.equal(info.channels, channels);
      const numbers = bits === 8 ? data : new Uint16Array(data.buffer, data.byteOffset, data.length / 2);
      const most = bits === 8 ? 255 : 65535;
      numbers.forEach((x, i) => {
        const pixel = Math.floor(i / channels);
        assert.equal(x, Math.round(image.data[pixel * CHANNELS + (i % channels)]! * most));
      });
    }
  // Colour is written by sRGB's curve: a linear fifth is 124.
  const fifth = drawn(1, 1, (_x, _y, to, place) => to.set([0.2, 0.2, 0.2, 1], place));
  assert.equal(
    (
      await sharp(encodePng(rowsOf(fifth), { holds: 'color', bits: 8 }, zlibSync))
        .raw()
        .toBuffer()
    )[0],
    124,
  );
});

test('rows are summed as a loop sums them, however wide, and masks spread as every place looked at spreads them', () => {
  for (const length of [1, 17, 1024, 1031]) {
    const data = Float32Array.from({ length: length * 5 }, (_, i) => chanceOf(3, i) - 0.4);
    const taps = [
      { places: [4, 0, 2], weights: [0.5, -0.25, 1.5] },
      { places: [1], weights: [2] },
    ];
    const summed = weighedRows(data, length, taps);
    taps.forEach(({ places, weights }, y) => {
      for (let x = 0; x < length; x += 1) {
        const wanted = places.reduce((sum, place, k) => sum + data[place * length + x]! * weights[k]!, 0);
        near(summed[y * length + x]!, wanted, 1e-6, `${length}: ${x}`);
      }
    });
    assert.deepEqual(turned(turned(data, length, 1), 5, 1), data);
    // Along rows, of one number a pixel and of four, where rows come to no multiple of four.
    const along = [0, 1, 2].map((k) => ({
      places: [0, length - 1 - k, length >> 1].map((x) => Math.max(x, 0)),
      weights: [k, -0.25, 1.5],
    }));
    for (const channels of [1, 4] as const) {
      const pixels = Float32Array.from({ length: length * channels * 7 }, (_, i) => chanceOf(5, i) - 0.4);
      weighedAlong(pixels, length, channels, along).forEach((x, i) => {
        const [y, k, c] = [Math.floor(i / channels / 3), Math.floor(i / channels) % 3, i % channels];
        const at = (place: number) => pixels[(y * length + place) * channels + c]!;
        const { places, weights } = along[k]!;
        near(
          x,
          places.reduce((sum, place, n) => sum + at(place) * weights[n]!, 0),
          1e-6,
          `along ${length}: ${i}`,
        );
      });
    }
  }
  for (const [radius, repeats, by] of [
    [5, [true, true], 'dilate'],
    [7.5, [true, false], 'erode'],
    [40, [false, false], 'dilate'],
  ] as const) {
    const grown = made(speckled, [stepOf('spread', { radius: [radius] }, { by })], {}, { repeats });
    const pick = by === 'dilate' ? Math.max : Math.min;
    for (let i = 0; i < 60; i += 1) {
      const [x, y] = [(i * 29) % WIDTH, (i * 17) % HEIGHT];
      let wanted = at(speckled, x, y);
      for (let dy = -40; dy <= 40; dy += 1)
        for (let dx = -40; dx <= 40; dx += 1)
          if (dx * dx + dy * dy <= radius * radius)
            wanted = pick(
              wanted,
              at(speckled, beyond(x + dx, WIDTH, repeats[0]), beyond(y + dy, HEIGHT, repeats[1])),
            );
      near(at(grown, x, y), wanted, 0, `${by} ${radius}`);
    }
  }
});

test('blurs of one number and of four are what sums over every place beside are, at the edges too', () => {
  /** Each number of a line as what `how` makes of those around it. */
  const lines = (
    data: Float32Array,
    width: number,
    channels: number,
    how: (at: (k: number) => number) => number,
    down: boolean,
    wraps: boolean,
  ) => {
    const height = data.length / width / channels;
    return data.map((_, i) => {
      const [c, x, y] = [i % channels, Math.floor(i / channels) % width, Math.floor(i / channels / width)];
      return how((k) =>
        down
          ? data[(beyond(y + k, height, wraps) * width + x) * channels + c]!
          : data[(y * width + beyond(x + k, width, wraps)) * channels + c]!,
      );
    });
  };
  /** Blurred by weights of the middle and one side. */
  const bothWays = (
    data: Float32Array,
    width: number,
    channels: number,
    weights: Float64Array,
    wraps: readonly [boolean, boolean],
  ) => {
    const sum = (at: (k: number) => number): number =>
      weights.reduce((all, w, k) => all + w * (k ? at(k) + at(-k) : at(0)), 0);
    return lines(lines(data, width, channels, sum, true, wraps[1]), width, channels, sum, false, wraps[0]);
  };
  for (const channels of [1, 4] as const)
    for (const [width, height, wraps] of [
      [1, 1, [true, true]],
      [5, 23, [true, false]],
      [37, 6, [false, true]],
    ] as const) {
      const data = Float32Array.from({ length: width * height * channels }, (_, i) => chanceOf(11, i) - 0.3);
      const weights = gaussian(2.5);
      const size = { width, height };
      const wanted = bothWays(data, width, channels, weights, wraps);
      blurredBy(data, channels, size, weights, wraps).forEach((x, i) =>
        near(x, wanted[i]!, 2e-6, `${width}: ${i}`),
      );
      // A deviation of 3 is a box of three to each side, three times.
      const box = (at: (k: number) => number): number =>
        [-3, -2, -1, 0, 1, 2, 3].reduce((sum, k) => sum + at(k), 0) / 7;
      const means = [false, false, false, true, true, true].reduce(
        (from, down) => lines(from, width, channels, box, down, wraps[down ? 1 : 0]),
        data,
      );
      widelyBlurred(data, channels, size, 3.2, wraps).forEach((x, i) =>
        near(x, means[i]!, 2e-6, `${width}: ${i}`),
      );
    }
  // What is done on fewer rows and columns is the bell of the formula too, out to where it is nothing, at every place.
  for (const [width, height, wraps, deviation] of [
    [32, 24, [true, true], 4],
    [64, 32, [true, true], 9],
    [45, 38, [false, false], 3.3],
    [71, 40, [false, true], 7],
    [33, 50, [true, false], 5],
  ] as const)
    for (const channels of [1, 4] as const) {
      const data = Float32Array.from({ length: width * height * channels }, (_, i) =>
        chanceOf(5, i) > 0.5 ? 1 : -0.2,
      );
      const bell = Float64Array.from({ length: Math.ceil(7 * deviation) }, (_, k) =>
        Math.exp((-k * k) / (2 * deviation * deviation)),
      );
      const sum = bell.reduce((all, w, k) => all + (k ? 2 * w : w), 0);
      const weights = bell.map((w) => w / sum);
      const wanted = bothWays(data, width, channels, weights, wraps);
      gaussianBlurred(data, channels, { width, height }, deviation, wraps).forEach((x, i) =>
        near(x, wanted[i]!, 5e-5, `${width} by ${deviation}: ${i}`),
      );
    }
});

test('grey is told from colour at every pixel, and is one number and four again', () => {
  for (const count of [1, 5, 4096, (1 << 14) + 3]) {
    const values = Float32Array.from({ length: count }, (_, i) => chanceOf(3, i) - 0.2);
    const pixels = greyPixels(values);
    values.forEach((value, i) => {
      if (pixels[i * 4] !== value || pixels[i * 4 + 1] !== value || pixels[i * 4 + 2] !== value)
        assert.fail(`${count}: ${i} is not ${value}`);
      assert.equal(pixels[i * 4 + 3], 1);
    });
    assert.deepEqual(opaqueGrey(pixels), values);
    for (const place of [0, count >> 1, count - 1])
      for (const channel of [0, 1, 2, 3]) {
        const other = pixels.slice();
        other[place * 4 + channel]! += 0.25;
        assert.equal(opaqueGrey(other), null, `${count}: ${place} ${channel}`);
      }
  }
});

test('what a way of keeping numbers loses is said: beyond its ends, and what is no number', () => {
  const picture = (...values: number[]) => greyOf(values.length, 1, values);
  for (const [values, bits, said] of [
    [[0, 1], 8, null],
    // Less than half a step of eight bits beyond is nothing; of sixteen it is much.
    [[-0.001, 1.0015], 8, null],
    [[-0.001, 1.0015], 16, /from −0\.001 to 1\.00: in 16 bits what lies outside 0–1/],
    [[0.5, 3], 8, /from 0\.50 to 3\.00: in 8 bits/],
    [[-7, 65504], 32, null],
    [[0, 65505], 32, /to 65505: .*beyond ±65504 is held there/],
    [[0, NaN], 32, /^3 of its numbers are infinite or none at all .*: they are kept as they are/],
    [[2, NaN, Infinity], 8, /from 2\.00 to 2\.00: in 8 bits.* 6 of its numbers .* kept as 0 or 1/],
  ] as const) {
    const loss = lossIn(coloursReach(picture(...values)), bits);
    if (said === null) assert.equal(loss, null, `${values} ${bits}`);
    else assert.match(loss ?? '', said, `${values} ${bits}`);
  }
});

test('a texture’s document is refused where it says what no step takes', () => {
  const body = { format: 'wicked-veil/texture', version: 1, size: [64, 64], steps: [] as object[] };
  const why = (change: object) =>
    parsePart('texture', { ...body, ...change }).problems.map(({ path, message }) => `${path} ${message}`)[0];
  assert.equal(why({}), undefined);
  const step = (more: object) => ({ steps: [{ id: 's', step: 'noise', ...more }] });
  for (const [change, said] of [
    [{ size: [0, 64] }, /size\[0\] A texture is 1 to 8192/],
    [{ size: [8192, 8192] }, /more than 16 million/],
    [{ size: [1e6, 1e6] }, /1 to 8192/],
    [step({ step: 'glow' }), /There is no image step “glow”/],
    [step({ numbers: { cells: [1e6] } }), /cells This should lie between 1 and 512/],
    [step({ numbers: { cells: [1, 2] } }), /cells This has 1 numbers; there are 2/],
    [step({ numbers: { hue: [1] } }), /no such argument/],
    [step({ words: { by: 'plaid' } }), /should be one of gradient, value/],
    [step({ step: 'text', words: { words: 'x'.repeat(201) } }), /200/],
    [{ steps: [...step({}).steps, ...step({}).steps] }, /Two steps have the id/],
  ] as const)
    assert.match(why(change) ?? 'taken', said);
  assert.equal(IMAGE_STEPS.size, 34);
});
