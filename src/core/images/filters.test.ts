import assert from 'node:assert/strict';
import { test } from 'node:test';
import { chanceOf } from '../numbers/chance.ts';
import { drawn, greyOf, isOpaque, type Image } from './image.ts';
import { movedTo } from './movedTo.ts';
import { overChannels } from './overChannels.ts';
import { createMaker } from './makeTexture.ts';
import { seamFigure, seamOf } from './seams.ts';
import { distances } from './distances.ts';
import {
  WIDTH,
  HEIGHT,
  speckled,
  colours,
  stepOf,
  recipe,
  bringing,
  made,
  at,
  near,
  byVips,
} from './images.testing.ts';

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
