import type { Column, Numbers } from './column.ts';
import type { Picture } from './points.ts';

const wrapped = (i: number, size: number, wrap: Picture['wrap']): number =>
  wrap === 'repeat' ? ((i % size) + size) % size : Math.min(Math.max(i, 0), size - 1);

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
): void => {
  const { width, height, rgba, wrap } = picture;
  const half = picture.filter === 'linear' ? 0.5 : 0;
  const x = u * width - half;
  const y = v * height - half;
  const x0 = Math.floor(x);
  const y0 = Math.floor(y);
  const fx = half ? x - x0 : 0;
  const fy = half ? y - y0 : 0;
  const left = wrapped(x0, width, wrap);
  const right = wrapped(x0 + 1, width, wrap);
  const low = wrapped(y0, height, wrap) * width;
  const high = wrapped(y0 + 1, height, wrap) * width;
  for (let c = 0; c < 4; c += 1) {
    const below = rgba[(low + left) * 4 + c]! * (1 - fx) + rgba[(low + right) * 4 + c]! * fx;
    const above = rgba[(high + left) * 4 + c]! * (1 - fx) + rgba[(high + right) * 4 + c]! * fx;
    out[at + c * apart] = below * (1 - fy) + above * fy;
  }
};

export const samplePicture = (picture: Picture, uv: Column, out: Numbers, n: number): void => {
  const step = uv.uniform ? 0 : 1;
  for (let i = 0; i < n; i += 1)
    sampleAt(picture, uv.data[i * step]!, uv.data[uv.stride + i * step]!, out, i, n);
};
