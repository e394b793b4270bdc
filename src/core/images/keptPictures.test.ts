import assert from 'node:assert/strict';
import { test } from 'node:test';
import { zlibSync } from 'fflate';
import sharp from 'sharp';
import { chanceOf } from '../numbers/chance.ts';
import { toSrgbByte } from '../numbers/colour.ts';
import { encodePng } from './encodePng.ts';
import { lookAt } from './lookAt.ts';
import { coloursReach, lossIn } from './lossIn.ts';
import { CHANNELS, drawn, greyOf } from './image.ts';
import { rowsOf } from './rows.ts';
import { seamOf } from './seams.ts';
import { speckled, colours, near } from './images.testing.ts';

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
