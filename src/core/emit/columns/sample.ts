import type { Column, Numbers } from './column.ts';
import type { Picture } from './points.ts';

const wrapped = (i: number, size: number, wrap: Picture['wrap']): number =>
  wrap === 'repeat' ? ((i % size) + size) % size : Math.min(Math.max(i, 0), size - 1);

/** Samples a picture as WebGL does at its sharpest level: texel centres at half-integers, linear or nearest. */
export const samplePicture = (picture: Picture, uv: Column, out: Numbers, n: number): void => {
  const { width, height, rgba, wrap } = picture;
  const step = uv.uniform ? 0 : 1;
  const half = picture.filter === 'linear' ? 0.5 : 0;
  for (let i = 0; i < n; i += 1) {
    const x = uv.data[i * step]! * width - half;
    const y = uv.data[uv.stride + i * step]! * height - half;
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
      out[c * n + i] = below * (1 - fy) + above * fy;
    }
  }
};
