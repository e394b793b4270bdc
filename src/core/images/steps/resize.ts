import { declareStep, type Given, type Size } from '../declareStep.ts';
import { sizeOf } from '../image.ts';
import { resampled, resampledRows } from '../resampled.ts';

const sizeIn = (given: Given, scale: number): Size =>
  sizeOf(given.numbers('size') as [number, number], scale);

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
  size: (given) => sizeIn(given, 1),
  rows: (of, given, { scale, wraps }) => resampledRows(of, sizeIn(given, scale), wraps),
  make: (image, given, { scale, wraps }) => resampled(image, sizeIn(given, scale), wraps),
});
