import { declareStep } from '../declareStep.ts';
import { beyond, CHANNELS, type Image } from '../image.ts';
import { seamFigure } from '../seams.ts';
import { turned } from '../weighedRows.ts';

const flipped = ({ width, height, data }: Image): Image => ({
  ...{ width: height, height: width },
  data: turned(data, width, CHANNELS),
});

type Heal = (image: Image, band: number) => Image;

/** What stands half-way across, which meets itself where the edges are. */
const shifted = (image: Image, x: number, y: number): number =>
  (y * image.width + beyond(x + (image.width >> 1), image.width, true)) * CHANNELS;

/** Goes over to what stands half-way across, from the edges inwards. */
const mixed: Heal = (image, band) => {
  const made = image.data.slice();
  for (let y = 0; y < image.height; y += 1)
    for (let x = 0; x < image.width; x += 1) {
      const away = Math.min(x, image.width - 1 - x);
      if (away >= band) continue;
      const t = 1 - (away + 0.5) / band;
      const weight = t * t * (3 - 2 * t);
      const [to, from] = [(y * image.width + x) * CHANNELS, shifted(image, x, y)];
      for (let c = 0; c < CHANNELS; c += 1)
        made[to + c] = image.data[to + c]! * (1 - weight) + image.data[from + c]! * weight;
    }
  return { ...image, data: made };
};

/** Of each row, the place in the band where both differ least, no further than a pixel from the row's before (a least-cost cut). */
const cutOf = (image: Image, band: number, isLeft: boolean): Int32Array => {
  const { width, height, data } = image;
  const cost = (y: number, k: number): number => {
    const x = isLeft ? k : width - 1 - k;
    const [at, from] = [(y * width + x) * CHANNELS, shifted(image, x, y)];
    let sum = 0;
    for (let c = 0; c < CHANNELS; c += 1) sum += (data[at + c]! - data[from + c]!) ** 2;
    return sum;
  };
  const solve = (start: number | null): { readonly path: Int32Array; readonly cost: number } => {
    const best = new Float64Array(height * band).fill(Infinity);
    for (let k = 0; k < band; k += 1) if (start === null || start === k) best[k] = cost(0, k);
    for (let y = 1; y < height; y += 1)
      for (let k = 0; k < band; k += 1) {
        const before = (y - 1) * band;
        const least = Math.min(
          best[before + k]!,
          k > 0 ? best[before + k - 1]! : Infinity,
          k < band - 1 ? best[before + k + 1]! : Infinity,
        );
        best[y * band + k] = least + cost(y, k);
      }
    const path = new Int32Array(height);
    let k = 0;
    const last = (height - 1) * band;
    // It comes back to where it began, so that it meets itself above and below.
    const ends = start === null ? Array.from({ length: band }, (_, i) => i) : [start - 1, start, start + 1];
    for (const end of ends)
      if (end >= 0 && end < band && best[last + end]! < (best[last + k] ?? Infinity)) k = end;
    if (start !== null && !ends.includes(k)) k = start;
    const sum = best[last + k]!;
    for (let y = height - 1; y >= 0; y -= 1) {
      path[y] = k;
      if (y === 0) break;
      const before = (y - 1) * band;
      for (const near of [k - 1, k, k + 1])
        if (
          near >= 0 &&
          near < band &&
          best[before + near]! < best[before + k]! &&
          Math.abs(near - path[y]!) <= 1
        )
          k = near;
    }
    return { path, cost: sum };
  };
  const free = solve(null).path;
  const round = solve(free[0]!);
  return Number.isFinite(round.cost) ? round.path : free;
};

/** Cut along where it differs least from what stands half-way across, a pixel soft. */
const cut: Heal = (image, band) => {
  const { width, height } = image;
  const [left, right] = [cutOf(image, band, true), cutOf(image, band, false)];
  const made = image.data.slice();
  for (let y = 0; y < height; y += 1)
    for (let x = 0; x < width; x += 1) {
      const inLeft = left[y]! - x;
      const inRight = right[y]! - (width - 1 - x);
      const weight = Math.min(Math.max(Math.max(inLeft, inRight) + 0.5, 0), 1);
      if (!weight) continue;
      const [to, from] = [(y * width + x) * CHANNELS, shifted(image, x, y)];
      for (let c = 0; c < CHANNELS; c += 1)
        made[to + c] = image.data[to + c]! * (1 - weight) + image.data[from + c]! * weight;
    }
  return { ...image, data: made };
};

/** Takes the step between the edges away, evenly over the band on both sides: what is fine stays as it is. */
const spread: Heal = (image, band) => {
  const { width, height } = image;
  const made = image.data.slice();
  for (let y = 0; y < height; y += 1)
    for (let c = 0; c < CHANNELS; c += 1) {
      const at = (x: number): number => (y * width + x) * CHANNELS + c;
      const usual =
        (image.data[at(Math.min(1, width - 1))]! -
          image.data[at(0)]! +
          image.data[at(width - 1)]! -
          image.data[at(Math.max(width - 2, 0))]!) /
        2;
      const step = image.data[at(0)]! - image.data[at(width - 1)]! - usual;
      for (let k = 0; k < Math.min(band, width >> 1); k += 1) {
        const t = 1 - k / band;
        const share = (t * t * (3 - 2 * t) * step) / 2;
        made[at(k)]! -= share;
        made[at(width - 1 - k)]! += share;
      }
    }
  return { ...image, data: made };
};

const WAYS: Readonly<Record<string, Heal>> = { mixed, cut, spread };

export const heal = declareStep({
  name: 'heal',
  summary:
    'Its edges meet: over a band it goes over to what stands half-way across, is cut along where it differs least, or has the step spread.',
  from: 'A. Efros and W. Freeman, Image Quilting, 2001, for the cut',
  arguments: {
    band: {
      kind: 'number',
      start: 48,
      least: 2,
      most: 1024,
      unit: 'px',
      about: 'How far in from the edges.',
    },
    by: {
      ...{ kind: 'choice', start: 'least', options: ['least', 'mixed', 'cut', 'spread'] },
      about: 'The one whose seam is seen least, or one of them.',
    },
  },
  make: (image, given) => {
    const bandOf = (size: number): number =>
      Math.max(Math.min(Math.round(given.pixels('band')), size >> 1), 1);
    const both = (how: Heal): Image => {
      const across = how(image, bandOf(image.width));
      return flipped(how(flipped(across), bandOf(image.height)));
    };
    const by = given.word('by');
    if (by !== 'least') return both(WAYS[by]!);
    const all = Object.entries(WAYS).map(([name, how]) => {
      const made = both(how);
      return { name, made, figure: seamFigure(made) };
    });
    const best = all.reduce((least, each) => (each.figure < least.figure ? each : least));
    return { ...best.made, note: `healed by ${best.name}: its seam is seen least` };
  },
});
