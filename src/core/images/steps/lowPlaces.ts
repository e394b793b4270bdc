import { declareStep } from '../declareStep.ts';
import { beyond, CHANNELS, drawnRows } from '../image.ts';
import {
  always,
  greatest,
  lightnessOf,
  minus,
  over,
  pixelFormula,
  plus,
  times,
  type Pair,
} from '../pixelCode.ts';

/** How far it is to something, in whole pixels and a share of the next. */
interface Way {
  readonly whole: number;
  readonly share: number;
}

const wayOf = (by: number): Way => ({ whole: Math.floor(by), share: by - Math.floor(by) });

/** A row, each of whose numbers is the one so far beside it: around the edges, or the edge itself beyond them. */
const shiftedBy = (row: Float32Array, by: number, wraps: boolean): Float32Array => {
  if (!wraps) return Float32Array.from(row, (_, x) => row[beyond(x + by, row.length, false)]!);
  const first = beyond(by, row.length, true);
  const made = new Float32Array(row.length);
  made.set(row.subarray(first));
  made.set(row.subarray(0, first), row.length - first);
  return made;
};

/** Of each neighbour the two between which it lies, and where it is itself; the shares of those, three sensitivities, and a factor. */
const lower = pixelFormula({ planes: 9, told: 8 }, ({ planes, told, keep }) => {
  const around = [0, 1, 2, 3].map((k) =>
    plus(times(planes[2 * k]!, minus(always(1), told[k]!)), times(planes[2 * k + 1]!, told[k]!)),
  );
  const mean = over(around.reduce(plus), always(4));
  const by = keep(greatest(minus(mean, planes[8]!), always(0)));
  const of = (k: number): Pair => times(greatest(minus(by, told[4 + k]!), always(0)), told[7]!);
  return { r: of(0), g: of(1), b: of(2), a: always(1) };
});

export const lowPlaces = declareStep({
  name: 'lowPlaces',
  summary: 'Where it is lower than around it, by three sensitivities into red, green and blue.',
  arguments: {
    filter: {
      kind: 'numbers',
      start: [24, 24],
      least: 0.25,
      most: 512,
      unit: 'px',
      about: 'How far the four neighbours are.',
    },
    sensitivity: {
      kind: 'numbers',
      start: [0.04, 0.015, 0.004],
      least: 0,
      most: 1,
      about: 'What is not counted.',
    },
    intensity: { kind: 'number', start: 12, least: 0, most: 256, about: 'What is left is multiplied by.' },
  },
  make: (image, given, { scale, wraps }) => {
    const [fx, fy] = given.numbers('filter') as [number, number];
    const sensitivity = given.numbers('sensitivity');
    const intensity = given.number('intensity');
    const { width, height } = image;
    const plane = lightnessOf(image.data);
    const row = (y: number): Float32Array => {
      const at = beyond(y, height, wraps[1]) * width;
      return plane.subarray(at, at + width);
    };
    const [x, y] = [fx * scale, fy * scale];
    const ways = [-x, x, -y, y].map(wayOf);
    const told = [...ways.map(({ share }) => share), ...sensitivity, intensity];
    return drawnRows(width, height, (to, start, place) => {
      const here = row(place);
      const planes = ways.flatMap(({ whole }, k) =>
        [whole, whole + 1].map((by) => (k < 2 ? shiftedBy(here, by, wraps[0]) : row(place + by))),
      );
      lower({ planes: [...planes, here], told }, to.subarray(start, start + width * CHANNELS));
    });
  },
});
