import { declareStep } from '../declareStep.ts';
import { beyond, CHANNELS, drawnRows, type Image } from '../image.ts';
import { movedTo } from '../movedTo.ts';
import { overChannels } from '../overChannels.ts';
import { weighedAlong } from '../weighedAlong.ts';
import { weighedRows, type RowTaps } from '../weighedRows.ts';

/** Lanczos’s window of three lobes (C. Lanczos; G. Turk and S. Gabriel, 1990). */
const lanczos = (x: number): number => {
  const t = Math.abs(x);
  if (t < 1e-9) return 1;
  if (t >= 3) return 0;
  const p = Math.PI * t;
  return (3 * Math.sin(p) * Math.sin(p / 3)) / (p * p);
};

/** Of each new place along an axis, the old places it is made of, and their weights. */
const taps = (from: number, to: number, wraps: boolean): readonly RowTaps[] => {
  const ratio = from / to;
  const wide = Math.max(ratio, 1);
  const reach = Math.ceil(3 * wide);
  return Array.from({ length: to }, (_, i) => {
    const middle = (i + 0.5) * ratio - 0.5;
    const first = Math.floor(middle) - reach + 1;
    const places = new Int32Array(2 * reach);
    const weights = new Float64Array(2 * reach);
    let sum = 0;
    for (let k = 0; k < places.length; k += 1) {
      const weight = lanczos((first + k - middle) / wide);
      places[k] = beyond(first + k, from, wraps);
      weights[k] = weight;
      sum += weight;
    }
    return { places, weights: weights.map((x) => x / sum) };
  });
};

/** A picture of another size, by Lanczos; colour is weighted by alpha. */
export const resampled = (
  image: Image,
  [width, height]: readonly [number, number],
  wraps: readonly [boolean, boolean],
): Image => {
  if (image.width === width && image.height === height) return image;
  const [down, across] = [taps(image.height, height, wraps[1]), taps(image.width, width, wraps[0])];
  return overChannels(
    image,
    (data, channels) =>
      weighedAlong(weighedRows(data, image.width * channels, down), image.width, channels, across),
    [width, height],
  );
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
  make: (image, given) => {
    const [left, top, wide, high] = given.numbers('frame') as [number, number, number, number];
    const x0 = Math.min(Math.max(Math.round(left * image.width), 0), image.width - 1);
    const y0 = Math.min(Math.max(Math.round(top * image.height), 0), image.height - 1);
    const width = Math.min(Math.max(Math.round(wide * image.width), 1), image.width - x0);
    const height = Math.min(Math.max(Math.round(high * image.height), 1), image.height - y0);
    return drawnRows(width, height, (to, start, y) => {
      const from = ((y0 + y) * image.width + x0) * CHANNELS;
      to.set(image.data.subarray(from, from + width * CHANNELS), start);
    });
  },
});

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
      unit: 'px',
      about: 'Width and height.',
    },
  },
  make: (image, given, { scale, wraps }) => {
    const [width, height] = given.numbers('size') as [number, number];
    return resampled(
      image,
      [Math.max(Math.round(width * scale), 1), Math.max(Math.round(height * scale), 1)],
      wraps,
    );
  },
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

export const halfOffset = declareStep({
  name: 'halfOffset',
  summary: 'Moved by half of it both ways, so that its edges meet in the middle.',
  arguments: {
    by: { kind: 'numbers', start: [0.5, 0.5], least: 0, most: 1, about: 'Shares of its width and height.' },
  },
  make: (image, given) => {
    const [dx, dy] = given.numbers('by') as [number, number];
    const { width, height, data } = image;
    const [sx, sy] = [Math.round(dx * width), Math.round(dy * height)];
    const first = beyond(-sx, width, true) * CHANNELS;
    return drawnRows(width, height, (to, start, y) => {
      const from = beyond(y - sy, height, true) * width * CHANNELS;
      const row = data.subarray(from, from + width * CHANNELS);
      to.set(row.subarray(first), start);
      to.set(row.subarray(0, first), start + row.length - first);
    });
  },
});
