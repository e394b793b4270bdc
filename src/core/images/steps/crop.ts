import { declareStep, type Given } from '../declareStep.ts';
import { CHANNELS, drawnRows } from '../image.ts';
import { madeRows, wholeBy, type Rows } from '../rows.ts';

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
