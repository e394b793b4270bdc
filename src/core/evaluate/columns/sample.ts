import { offsetOf, type Value } from '../../program/value.ts';
import type { Column, Numbers } from '../../program/kernels/column.ts';
import { levelAt, levelsOf, type Level } from './levels.ts';
import type { Picture } from '../points/points.ts';

const wrapped = (i: number, size: number, wrap: Picture['wrap']): number =>
  wrap === 'repeat' ? ((i % size) + size) % size : Math.min(Math.max(i, 0), size - 1);

/** Where a picture is read: its settings, and the level that holds the texels. */
const sampleLevel = (
  { wrap, wrapDown = wrap, filter }: Picture,
  { width, height, rgba }: Level,
  [u, v]: readonly [number, number],
  [besideX, besideY]: readonly number[],
  out: Numbers,
  at: number,
  apart: number,
): void => {
  const half = filter === 'linear' ? 0.5 : 0;
  const x = u * width - half;
  const y = v * height - half;
  const x0 = Math.floor(x);
  const y0 = Math.floor(y);
  const fx = half ? x - x0 : 0;
  const fy = half ? y - y0 : 0;
  const left = wrapped(x0 + besideX!, width, wrap);
  const right = wrapped(x0 + 1 + besideX!, width, wrap);
  const low = wrapped(y0 + besideY!, height, wrapDown) * width;
  const high = wrapped(y0 + 1 + besideY!, height, wrapDown) * width;
  for (let c = 0; c < 4; c += 1) {
    const below = rgba[(low + left) * 4 + c]! * (1 - fx) + rgba[(low + right) * 4 + c]! * fx;
    const above = rgba[(high + left) * 4 + c]! * (1 - fx) + rgba[(high + right) * 4 + c]! * fx;
    out[at + c * apart] = below * (1 - fy) + above * fy;
  }
};

const NOWHERE: readonly number[] = [0, 0];

/**
 * Samples a picture as WebGL does at its sharpest level: texel centres at half-integers, linear or nearest. Writes the
 * four channels to `out`, the first at `at`, `apart` from one another.
 */
export const sampleAt = (
  picture: Picture,
  u: number,
  v: number,
  out: Numbers,
  at: number,
  apart: number,
): void => sampleLevel(picture, picture, [u, v], NOWHERE, out, at, apart);

const nearer = new Float32Array(4);
const farther = new Float32Array(4);

/** Samples at a level of detail: the nearest level, or between two where the picture is filtered (GLES 3.0, 3.8.10). */
const sampleDetail = (
  picture: Picture,
  uv: readonly [number, number],
  detail: number,
  beside: readonly number[],
  out: Numbers,
  at: number,
  apart: number,
): void => {
  if (!(detail > 0)) return sampleLevel(picture, picture, uv, beside, out, at, apart);
  const levels = levelsOf(picture);
  const { low, high, between } = levelAt(detail, levels.length, picture.filter);
  if (!between) return sampleLevel(picture, levels[low]!, uv, beside, out, at, apart);
  sampleLevel(picture, levels[low]!, uv, beside, nearer, 0, 1);
  sampleLevel(picture, levels[high]!, uv, beside, farther, 0, 1);
  for (let c = 0; c < 4; c += 1) out[at + c * apart] = nearer[c]! * (1 - between) + farther[c]! * between;
};

/** How detailed a read is, from how far a step of a pixel goes on the picture, in texels. */
const detailOf = ({ width, height }: Picture, dx: readonly number[], dy: readonly number[]): number =>
  Math.log2(
    Math.max(Math.hypot(dx[0]! * width, dx[1]! * height), Math.hypot(dy[0]! * width, dy[1]! * height)),
  );

/** Samples a volume as WebGL does: the picture before the place and the one behind it, and between them. */
const sampleVolume = (
  volume: Picture,
  [u, v, w]: readonly [number, number, number],
  out: Numbers,
  at: number,
  apart: number,
): void => {
  const { width, height, rgba, wrap, filter, depth = 1 } = volume;
  const slice = (i: number): Level => {
    const from = wrapped(i, depth, wrap) * width * height * 4;
    return { width, height, rgba: rgba.subarray(from, from + width * height * 4) };
  };
  const z = w * depth - (filter === 'linear' ? 0.5 : 0);
  const first = Math.floor(z);
  const between = filter === 'linear' ? z - first : 0;
  if (!between) return sampleLevel(volume, slice(first), [u, v], NOWHERE, out, at, apart);
  sampleLevel(volume, slice(first), [u, v], NOWHERE, nearer, 0, 1);
  sampleLevel(volume, slice(first + 1), [u, v], NOWHERE, farther, 0, 1);
  for (let c = 0; c < 4; c += 1) out[at + c * apart] = nearer[c]! * (1 - between) + farther[c]! * between;
};

/**
 * Answers one operation that asks a texture, at n points. What a graphics card takes from the slopes of uv, the level
 * of detail, is the finest here; a bias moves it from there.
 */
export const askPicture = (
  picture: Picture,
  value: Value,
  inputs: readonly Column[],
  out: Numbers,
  n: number,
): void => {
  const read = (input: number, c: number, i: number): number => {
    const { data, stride, uniform } = inputs[input]!;
    return data[c * stride + (uniform ? 0 : i)]!;
  };
  const pair = (input: number, i: number) => [read(input, 0, i), read(input, 1, i)] as const;
  const beside = offsetOf(value) ?? NOWHERE;
  const isVolume = value.inputs[0]!.type === 'sampler3D';
  for (let i = 0; i < n; i += 1)
    switch (value.op) {
      case 'textureWidth':
      case 'textureHeight': {
        const size = value.op === 'textureWidth' ? picture.width : picture.height;
        out[i] = Math.max(Math.floor(size / 2 ** Math.max(read(0, 0, i), 0)), 1);
        break;
      }
      case 'texelFetch': {
        const levels = levelsOf(picture);
        const { width, height, rgba } = levels[Math.min(Math.max(read(2, 0, i), 0), levels.length - 1)]!;
        const x = Math.min(Math.max(read(0, 0, i), 0), width - 1);
        const y = Math.min(Math.max(read(1, 0, i), 0), height - 1);
        for (let c = 0; c < 4; c += 1) out[c * n + i] = rgba[(y * width + x) * 4 + c]!;
        break;
      }
      default: {
        if (isVolume) {
          sampleVolume(picture, [read(0, 0, i), read(0, 1, i), read(0, 2, i)], out, i, n);
          break;
        }
        const detail =
          value.op === 'textureGrad'
            ? detailOf(picture, pair(1, i), pair(2, i))
            : inputs.length > 1
              ? read(1, 0, i)
              : 0;
        sampleDetail(picture, pair(0, i), detail, beside, out, i, n);
      }
    }
};
