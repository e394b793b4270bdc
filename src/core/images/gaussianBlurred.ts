import { blurredBy, gaussian } from './blurred.ts';
import { beyond } from './image.ts';
import { weighedAlong } from './weighedAlong.ts';
import { weighedRows, type RowTaps } from './weighedRows.ts';

/**
 * Of a Gaussian before and after fewer rows, its deviation as a share of how far apart they are: what the rows between would
 * have told is by then below exp(−2π² · 0.85²), a millionth.
 */
const BESIDE = 0.85;
/** Where rows end, so many of the fewer ones lie beyond: out there all is as the edge is. */
const MARGIN = 6;

/** How one axis is blurred: to fewer rows, among those, and back. */
interface Axis {
  readonly down: readonly RowTaps[];
  readonly among: readonly RowTaps[];
  readonly up: readonly RowTaps[];
}

/**
 * The bell about places, as it is at others so far apart: out to five deviations, and its weights come to 1.
 * @returns what is made at a place in the middle
 */
const bells = (apart: number, deviation: number, placeOf: (k: number) => number) => {
  const reach = Math.floor((5 * deviation) / apart) + 1;
  // It is the same wherever the middle lies alike between them.
  const known = new Map<number, Float64Array>();
  const weightsAt = (phase: number): Float64Array => {
    const made = new Float64Array(2 * reach + 1);
    let sum = 0;
    for (let k = 0; k < made.length; k += 1) {
      const t = ((k - reach) * apart - phase) / deviation;
      made[k] = Math.abs(t) > 5 ? 0 : Math.exp((-t * t) / 2);
      sum += made[k]!;
    }
    return made.map((x) => x / sum);
  };
  return (middle: number): RowTaps => {
    const nearest = Math.floor(middle / apart);
    const phase = middle - nearest * apart;
    const weights = known.get(phase) ?? weightsAt(phase);
    known.set(phase, weights);
    const places = new Int32Array(weights.length);
    for (let k = 0; k < places.length; k += 1) places[k] = placeOf(nearest + k - reach);
    return { places, weights };
  };
};

/** From here on a Gaussian is done on fewer rows. */
const WIDE = 3.2;
/** How many rows up and down it looks; null where it is done on fewer rows of all. @param deviation in pixels */
export const gaussianReach = (deviation: number): number | null =>
  deviation < WIDE ? gaussian(deviation).length - 1 : null;

/** How many rows become one: a power of two, so that a Gaussian is left for them; where rows wrap, they come out even. */
const stepOf = (size: number, wraps: boolean, deviation: number): number => {
  let step = 1;
  while (deviation >= step * WIDE && size >= 4 * step && (!wraps || size % (2 * step) === 0)) step *= 2;
  return step;
};

const axisOf = (size: number, wraps: boolean, deviation: number): Axis => {
  const step = stepOf(size, wraps, deviation);
  const beside = BESIDE * step;
  const margin = wraps ? 0 : MARGIN;
  const fewer = Math.ceil(size / step) + 2 * margin;
  const left = Math.sqrt(deviation * deviation - 2 * beside * beside) / step;
  const row = (j: number): number => beyond(j, fewer, wraps);
  const down = bells(1, beside, (k) => beyond(k, size, wraps));
  const among = bells(1, left, row);
  const up = bells(step, beside, (k) => row(k + margin));
  return {
    down: Array.from({ length: fewer }, (_, j) => down((j - margin) * step)),
    among: Array.from({ length: fewer }, (_, j) => among(j)),
    up: Array.from({ length: size }, (_, y) => up(y)),
  };
};

/**
 * Pixels of so many numbers, blurred both ways by a Gaussian, number by number. A wide one is done on fewer rows and columns,
 * between two narrow ones that are of it too (variances add): the same to some hundred-thousandths, in about the same time however wide.
 * @param deviation in pixels
 */
export const gaussianBlurred = (
  data: Float32Array,
  channels: 1 | 4,
  { width, height }: { readonly width: number; readonly height: number },
  deviation: number,
  wraps: readonly [boolean, boolean],
): Float32Array => {
  if ([stepOf(width, wraps[0], deviation), stepOf(height, wraps[1], deviation)].includes(1))
    return blurredBy(data, channels, { width }, gaussian(deviation), wraps);
  const [x, y] = [axisOf(width, wraps[0], deviation), axisOf(height, wraps[1], deviation)];
  const low = weighedRows(data, width * channels, y.down);
  const wide = x.among.length;
  const small = weighedAlong(weighedAlong(low, width, channels, x.down), wide, channels, x.among);
  const across = weighedAlong(weighedRows(small, wide * channels, y.among), wide, channels, x.up);
  return weighedRows(across, width * channels, y.up);
};
