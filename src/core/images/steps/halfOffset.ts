import { declareStep, type Given } from '../declareStep.ts';
import { beyond, CHANNELS, drawnRows } from '../image.ts';
import { madeRows, roundTaken, wholeBy, type Rows } from '../rows.ts';

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
