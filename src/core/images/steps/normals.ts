import { declareStep } from '../declareStep.ts';
import { beyond, CHANNELS, luminance } from '../image.ts';

type Three = [number, number, number];
/** Made as long as 1; what has no length stays. */
const unit = (v: Three): Three => {
  const size = Math.sqrt(v[0] * v[0] + v[1] * v[1] + v[2] * v[2]) || 1;
  v[0] /= size;
  v[1] /= size;
  v[2] /= size;
  return v;
};

export const normal = declareStep({
  name: 'normal',
  summary: 'Directions from a height: its slopes by Sobel’s or Scharr’s weights, packed into 0–1.',
  from: 'I. Sobel 1968; H. Scharr 2000',
  arguments: {
    depth: { kind: 'number', start: 4, least: -256, most: 256, unit: 'px', about: 'How high 1 is.' },
    by: {
      kind: 'choice',
      start: 'scharr',
      options: ['scharr', 'sobel'],
      about: 'How the neighbours are weighed.',
    },
    green: { kind: 'choice', start: 'up', options: ['up', 'down'], about: 'Which way y points.' },
  },
  reach: () => 1,
  make: ({ width, height, data }, given, { wraps }) => {
    const depth = given.pixels('depth');
    const [side, middle] = given.word('by') === 'scharr' ? [3 / 32, 10 / 32] : [1 / 8, 2 / 8];
    const sign = given.word('green') === 'up' ? 1 : -1;
    const h = new Float32Array(width * height);
    for (let i = 0; i < h.length; i += 1)
      h[i] = luminance(data[i * CHANNELS]!, data[i * CHANNELS + 1]!, data[i * CHANNELS + 2]!);
    const columns = [-1, 1].map((by) =>
      Int32Array.from({ length: width }, (_, x) => beyond(x + by, width, wraps[0])),
    );
    const [left, right] = columns as [Int32Array, Int32Array];
    const to = new Float32Array(data.length);
    for (let y = 0, place = 0; y < height; y += 1) {
      const up = beyond(y - 1, height, wraps[1]) * width;
      const row = y * width;
      const down = beyond(y + 1, height, wraps[1]) * width;
      for (let x = 0; x < width; x += 1, place += CHANNELS) {
        const [l, r] = [left[x]!, right[x]!];
        const [a, b, c, d] = [h[up + l]!, h[up + r]!, h[down + l]!, h[down + r]!];
        const across = side * (b + d - a - c) + middle * (h[row + r]! - h[row + l]!);
        const downwards = side * (c + d - a - b) + middle * (h[down + x]! - h[up + x]!);
        // Rows run downwards, and y upwards.
        const [nx, ny] = [-across * depth, downwards * depth * sign];
        const size = Math.sqrt(nx * nx + ny * ny + 1);
        to[place] = (nx / size) * 0.5 + 0.5;
        to[place + 1] = (ny / size) * 0.5 + 0.5;
        to[place + 2] = 0.5 / size + 0.5;
        to[place + 3] = 1;
      }
    }
    return { width, height, data: to };
  },
});

/** Writes three numbers. */
const put = (to: Three, x: number, y: number, z: number): void => {
  to[0] = x;
  to[1] = y;
  to[2] = z;
};
/** Ways of joining a detail’s normal to a base’s, both as unit vectors; S. Hill and C. Barré-Brisebois, Blending in Detail, 2012. */
const WAYS: Readonly<Record<string, (base: Three, detail: Three, to: Three) => void>> = {
  mix: (a, b, to) => put(to, (a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2),
  add: (a, b, to) => put(to, a[0] + b[0], a[1] + b[1], a[2] + b[2] - 1),
  // The detail in the frame that the base spans: from z to it, the shorter way.
  basis: (a, b, to) => {
    const t = unit([a[2], 0, -a[0]]);
    const s: Three = [a[1] * t[2] - a[2] * t[1], a[2] * t[0] - a[0] * t[2], a[0] * t[1] - a[1] * t[0]];
    const along = (c: 0 | 1 | 2): number => t[c] * b[0] + s[c] * b[1] + a[c] * b[2];
    put(to, along(0), along(1), along(2));
  },
  reoriented: (a, b, to) => {
    const [t0, t1, t2] = [a[0], a[1], a[2] + 1];
    const [u0, u1, u2] = [-b[0], -b[1], b[2]];
    const along = (t0 * u0 + t1 * u1 + t2 * u2) / t2;
    put(to, t0 * along - u0, t1 * along - u1, t2 * along - u2);
  },
  whiteout: (a, b, to) => put(to, a[0] + b[0], a[1] + b[1], a[2] * b[2]),
  baseZ: (a, b, to) => put(to, a[0] + b[0], a[1] + b[1], a[2]),
  flatZ: (a, b, to) => put(to, a[0] + b[0], a[1] + b[1], 1),
};

export const combineNormals = declareStep({
  name: 'combineNormals',
  summary: 'Another texture’s directions laid over these.',
  from: 'S. Hill and C. Barré-Brisebois, Blending in Detail, 2012',
  arguments: {
    detail: { kind: 'texture', about: 'The finer directions.' },
    by: {
      ...{
        kind: 'choice',
        start: 'reoriented',
        options: ['reoriented', 'whiteout', 'basis', 'baseZ', 'flatZ', 'add', 'mix'],
      },
      about: 'How both are joined.',
    },
    amount: {
      kind: 'number',
      start: 1,
      least: -4,
      most: 4,
      about: 'Of the detail; below 0 it is turned in.',
    },
  },
  reach: () => 0,
  make: (image, given, { beside }) => {
    const other = beside(given.word('detail'), image);
    const join = WAYS[given.word('by')]!;
    const amount = given.number('amount');
    const most = Math.min(Math.abs(amount), 1);
    const { data } = image;
    const made = data.slice();
    const base: Three = [0, 0, 0];
    const detail: Three = [0, 0, 0];
    const n: Three = [0, 0, 0];
    for (let at = 0; at < data.length; at += CHANNELS) {
      put(base, data[at]! * 2 - 1, data[at + 1]! * 2 - 1, data[at + 2]! * 2 - 1);
      put(detail, other.data[at]! * 2 - 1, other.data[at + 1]! * 2 - 1, other.data[at + 2]! * 2 - 1);
      unit(detail);
      put(detail, detail[0] * amount, detail[1] * amount, 1 + (detail[2] - 1) * most);
      join(unit(base), unit(detail), n);
      unit(n);
      made[at] = n[0] * 0.5 + 0.5;
      made[at + 1] = n[1] * 0.5 + 0.5;
      made[at + 2] = n[2] * 0.5 + 0.5;
    }
    return { ...image, data: made };
  },
});
