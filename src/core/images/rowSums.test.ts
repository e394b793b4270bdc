import assert from 'node:assert/strict';
import { test } from 'node:test';
import { chanceOf } from '../numbers/chance.ts';
import { blurredBy, gaussian, widelyBlurred } from './blurred.ts';
import { gaussianBlurred } from './gaussianBlurred.ts';
import { greyPixels, opaqueGrey } from './greyRows.ts';
import { beyond } from './image.ts';
import { weighedAlong } from './weighedAlong.ts';
import { turned, weighedRows } from './weighedRows.ts';
import { WIDTH, HEIGHT, speckled, stepOf, made, at, near } from './images.testing.ts';

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
