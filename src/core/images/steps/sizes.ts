import { declareStep, type Given } from '../declareStep.ts';
import { beyond, CHANNELS, drawnRows, type Image } from '../image.ts';
import { movedTo } from '../movedTo.ts';
import { overChannels } from '../overChannels.ts';
import { keptRows, madeRows, roundTaken, rowsOf, type Rows } from '../rows.ts';
import { weighedBothWays, type Taps } from '../weighedBothWays.ts';
import type { RowTaps } from '../weighedRows.ts';

/** Lanczos’s window of three lobes (C. Lanczos; G. Turk and S. Gabriel, 1990). */
const lanczos = (x: number): number => {
  const t = Math.abs(x);
  if (t < 1e-9) return 1;
  if (t >= 3) return 0;
  const p = Math.PI * t;
  return (3 * Math.sin(p) * Math.sin(p / 3)) / (p * p);
};

/** Of each new place along an axis from one on, what it is made of; the first ones may lie beyond the edges. */
const tapsOf = (from: number, to: number, start = 0, end = to): readonly Taps[] => {
  const ratio = from / to;
  const wide = Math.max(ratio, 1);
  const reach = Math.ceil(3 * wide);
  return Array.from({ length: end - start }, (_, i) => {
    const middle = (start + i + 0.5) * ratio - 0.5;
    const first = Math.floor(middle) - reach + 1;
    const weights = new Float64Array(2 * reach);
    let sum = 0;
    for (let k = 0; k < weights.length; k += 1) {
      weights[k] = lanczos((first + k - middle) / wide);
      sum += weights[k]!;
    }
    return { first, weights: weights.map((x) => x / sum) };
  });
};
/** Of each new place of a row, what it is made of, around its ends. */
const acrossTo = (from: number, to: number, wraps: boolean): readonly RowTaps[] =>
  tapsOf(from, to).map(({ first, weights }) => ({
    places: Int32Array.from(weights, (_, k) => beyond(first + k, from, wraps)),
    weights,
  }));

/** A picture of another size, of rows and columns that are each made of old ones. */
const weighed = (
  image: Image,
  down: readonly Taps[],
  rowOf: (place: number) => number,
  across: readonly RowTaps[],
): Image =>
  overChannels(image, (data, channels) => weighedBothWays(data, image.width, channels, down, rowOf, across), [
    across.length,
    down.length,
  ]);

/** A picture of another size, by Lanczos; colour is weighted by alpha. */
export const resampled = (
  image: Image,
  [width, height]: readonly [number, number],
  wraps: readonly [boolean, boolean],
): Image => {
  if (image.width === width && image.height === height) return image;
  const rowOf = (place: number): number => beyond(place, image.height, wraps[1]);
  return weighed(image, tapsOf(image.height, height), rowOf, acrossTo(image.width, width, wraps[0]));
};
/** The same by bands. */
const resampledRows = (
  of: Rows,
  [width, height]: readonly [number, number],
  wraps: readonly [boolean, boolean],
): Rows => {
  if (of.width === width && of.height === height) return of;
  const across = acrossTo(of.width, width, wraps[0]);
  const read = keptRows({ ...of, take: (top, bottom) => roundTaken(of, top, bottom) });
  const rows = madeRows(width, height, (top, bottom) => {
    const taps = tapsOf(of.height, height, top, bottom);
    const { first, weights } = taps.at(-1)!;
    const [least, past] = [taps[0]!.first, first + weights.length];
    // Beyond an edge that does not come round lies what is at the edge.
    const [from, until] = wraps[1] ? [least, past] : [Math.max(least, 0), Math.min(past, of.height)];
    const rowOf = (place: number): number => Math.min(Math.max(place, from), until - 1) - from;
    return weighed(read(from, until), taps, rowOf, across);
  });
  return { ...rows, reach: of.reach };
};
/** The whole of a picture by what makes rows of rows. */
const wholeBy =
  (rows: (of: Rows, given: Given) => Rows) =>
  (image: Image, given: Given): Image => {
    const made = rows(rowsOf(image), given);
    return made.take(0, made.height);
  };

const croppedRows = (of: Rows, given: Given): Rows => {
  const [left, top, wide, high] = given.numbers('frame') as [number, number, number, number];
  const x0 = Math.min(Math.max(Math.round(left * of.width), 0), of.width - 1);
  const y0 = Math.min(Math.max(Math.round(top * of.height), 0), of.height - 1);
  const width = Math.min(Math.max(Math.round(wide * of.width), 1), of.width - x0);
  const height = Math.min(Math.max(Math.round(high * of.height), 1), of.height - y0);
  const rows = madeRows(width, height, (first, last) => {
    const { data } = of.take(y0 + first, y0 + last);
    return drawnRows(width, last - first, (to, start, y) => {
      const from = (y * of.width + x0) * CHANNELS;
      to.set(data.subarray(from, from + width * CHANNELS), start);
    });
  });
  return { ...rows, reach: of.reach };
};

export const crop = declareStep({
  name: 'crop',
  summary: 'A frame of it.',
  arguments: {
    frame: {
      ...{ kind: 'numbers', start: [0, 0, 1, 1], least: 0, most: 1 },
      about: 'Left, top, width and height, as shares of it.',
    },
  },
  rows: croppedRows,
  make: wholeBy(croppedRows),
});

const sizeIn = (given: Given, scale: number): readonly [number, number] =>
  given.numbers('size').map((side) => Math.max(Math.round(side * scale), 1)) as [number, number];

export const resize = declareStep({
  name: 'resize',
  summary: 'Another size, sharp as it can be.',
  from: 'G. Turk and S. Gabriel, Filters for Common Resampling Tasks, 1990',
  arguments: {
    size: {
      kind: 'numbers',
      start: [512, 512],
      least: 1,
      most: 8192,
      whole: true,
      unit: 'px',
      isSize: true,
      about: 'Width and height.',
    },
  },
  rows: (of, given, { scale, wraps }) => resampledRows(of, sizeIn(given, scale), wraps),
  make: (image, given, { scale, wraps }) => resampled(image, sizeIn(given, scale), wraps),
});

/** The map that takes the corners of a square to four points (P. Heckbert, 1989): nine numbers, row after row. */
const toCorners = (corners: readonly number[]): readonly number[] => {
  const [x0, y0, x1, y1, x2, y2, x3, y3] = corners as [
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  const [dx1, dx2, sx] = [x1 - x2, x3 - x2, x0 - x1 + x2 - x3];
  const [dy1, dy2, sy] = [y1 - y2, y3 - y2, y0 - y1 + y2 - y3];
  const size = dx1 * dy2 - dx2 * dy1;
  if (Math.abs(size) < 1e-9)
    throw new Error('The four corners lie on a line; there is nothing between them.');
  const g = (sx * dy2 - dx2 * sy) / size;
  const h = (dx1 * sy - sx * dy1) / size;
  return [x1 - x0 + g * x1, x3 - x0 + h * x3, x0, y1 - y0 + g * y1, y3 - y0 + h * y3, y0, g, h, 1];
};

export const straighten = declareStep({
  name: 'straighten',
  summary: 'What lies between four corners, as if seen from straight before it.',
  from: 'P. Heckbert, Fundamentals of Texture Mapping and Image Warping, 1989',
  arguments: {
    corners: {
      ...{ kind: 'numbers', start: [0, 0, 1, 0, 1, 1, 0, 1], least: -1, most: 2 },
      about: 'x and y of the upper left, upper right, lower right and lower left one, as shares of it.',
    },
  },
  make: (image, given) => {
    const m = toCorners(given.numbers('corners'));
    const { width, height } = image;
    return movedTo(image, [false, false], (y, places) => {
      const v = (y + 0.5) / height;
      for (let x = 0; x < width; x += 1) {
        const u = (x + 0.5) / width;
        const w = m[6]! * u + m[7]! * v + 1;
        places[x * 2] = ((m[0]! * u + m[1]! * v + m[2]!) / w) * width;
        places[x * 2 + 1] = ((m[3]! * u + m[4]! * v + m[5]!) / w) * height;
      }
    });
  },
});

const offsetRows = (of: Rows, given: Given): Rows => {
  const [dx, dy] = given.numbers('by') as [number, number];
  const { width, height } = of;
  const [sx, sy] = [Math.round(dx * width), Math.round(dy * height)];
  const first = beyond(-sx, width, true) * CHANNELS;
  const rows = madeRows(width, height, (top, bottom) => {
    const { data } = roundTaken(of, top - sy, bottom - sy);
    return drawnRows(width, bottom - top, (to, start, y) => {
      const row = data.subarray(y * width * CHANNELS, (y + 1) * width * CHANNELS);
      to.set(row.subarray(first), start);
      to.set(row.subarray(0, first), start + row.length - first);
    });
  });
  return { ...rows, reach: of.reach };
};

export const halfOffset = declareStep({
  name: 'halfOffset',
  summary: 'Moved by half of it both ways, so that its edges meet in the middle.',
  arguments: {
    by: { kind: 'numbers', start: [0.5, 0.5], least: 0, most: 1, about: 'Shares of its width and height.' },
  },
  rows: offsetRows,
  make: wholeBy(offsetRows),
});
