import { declareStep, type Given, type Size } from '../declareStep.ts';
import { CHANNELS, drawnRows } from '../image.ts';
import { madeRows, wholeBy, type Rows } from '../rows.ts';

/** Columns or rows that a frame takes of so many: from which on, and how many. */
const taken = (start: number, share: number, of: number): readonly [number, number] => {
  const first = Math.min(Math.max(Math.round(start * of), 0), of - 1);
  return [first, Math.min(Math.max(Math.round(share * of), 1), of - first)];
};
const framed = (given: Given, [across, down]: Size) => {
  const [left, top, wide, high] = given.numbers('frame') as [number, number, number, number];
  return [taken(left, wide, across), taken(top, high, down)] as const;
};

const croppedRows = (of: Rows, given: Given): Rows => {
  const [[x0, width], [y0, height]] = framed(given, [of.width, of.height]);
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
  size: (given, _, before) => framed(given, before).map(([, count]) => count) as [number, number],
  rows: croppedRows,
  make: wholeBy(croppedRows),
});
