import { declareStep } from '../declareStep.ts';
import { CHANNELS, type Image } from '../image.ts';
import { seamFigure } from '../seams.ts';

/** One way through a picture: places along it from edge to edge, in as many lines; how far apart both lie, in numbers. */
interface Way {
  readonly long: number;
  readonly lines: number;
  readonly pace: number;
  readonly between: number;
}
const waysOf = ({ width, height }: Image): readonly Way[] => [
  { long: width, lines: height, pace: CHANNELS, between: width * CHANNELS },
  { long: height, lines: width, pace: width * CHANNELS, between: CHANNELS },
];
/** Writes over a copy of the numbers. */
type Heal = (data: Float32Array, made: Float32Array, way: Way, band: number) => void;

/** What stands half-way along, which meets itself where the edges are. */
const shifted = ({ long, pace }: Way, k: number): number => ((k + (long >> 1)) % long) * pace;

/** Goes over to what stands half-way along, from the edges inwards. */
const mixed: Heal = (data, made, way, band) => {
  const { long, lines, pace, between } = way;
  for (let k = 0; k < long; k += 1) {
    const away = Math.min(k, long - 1 - k);
    if (away >= band) continue;
    const t = 1 - (away + 0.5) / band;
    const weight = t * t * (3 - 2 * t);
    const [to, from] = [k * pace, shifted(way, k)];
    for (let line = 0; line < lines; line += 1)
      for (let c = line * between; c < line * between + CHANNELS; c += 1)
        made[to + c] = data[to + c]! * (1 - weight) + data[from + c]! * weight;
  }
};

/** Of each line, the place in the band where both differ least, no further than a pixel from the line's before (a least-cost cut). */
const cutOf = (data: Float32Array, way: Way, band: number, isFirst: boolean): Int32Array => {
  const { long, lines, between } = way;
  const costs = new Float64Array(lines * band);
  for (let k = 0; k < band; k += 1) {
    const place = isFirst ? k : long - 1 - k;
    const [at, from] = [place * way.pace, shifted(way, place)];
    for (let line = 0; line < lines; line += 1) {
      let sum = 0;
      for (let c = line * between; c < line * between + CHANNELS; c += 1)
        sum += (data[at + c]! - data[from + c]!) ** 2;
      costs[line * band + k] = sum;
    }
  }
  const solve = (start: number | null): { readonly path: Int32Array; readonly cost: number } => {
    const best = new Float64Array(lines * band).fill(Infinity);
    for (let k = 0; k < band; k += 1) if (start === null || start === k) best[k] = costs[k]!;
    for (let y = 1; y < lines; y += 1)
      for (let k = 0; k < band; k += 1) {
        const before = (y - 1) * band;
        const least = Math.min(
          best[before + k]!,
          k > 0 ? best[before + k - 1]! : Infinity,
          k < band - 1 ? best[before + k + 1]! : Infinity,
        );
        best[y * band + k] = least + costs[y * band + k]!;
      }
    const path = new Int32Array(lines);
    let k = 0;
    const last = (lines - 1) * band;
    // It comes back to where it began, so that it meets itself above and below.
    const ends = start === null ? Array.from({ length: band }, (_, i) => i) : [start - 1, start, start + 1];
    for (const end of ends)
      if (end >= 0 && end < band && best[last + end]! < (best[last + k] ?? Infinity)) k = end;
    if (start !== null && !ends.includes(k)) k = start;
    const sum = best[last + k]!;
    for (let y = lines - 1; y >= 0; y -= 1) {
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

/** Cut along where it differs least from what stands half-way along, a pixel soft. */
const cut: Heal = (data, made, way, band) => {
  const { long, lines, pace, between } = way;
  const [first, last] = [cutOf(data, way, band, true), cutOf(data, way, band, false)];
  for (let line = 0; line < lines; line += 1)
    for (let k = 0; k < long; k += 1) {
      // No cut lies further in than the band.
      if (k === band && long - band > k) k = long - band;
      const beside = Math.max(first[line]! - k, last[line]! - (long - 1 - k));
      const weight = Math.min(Math.max(beside + 0.5, 0), 1);
      if (!weight) continue;
      const [to, from] = [line * between + k * pace, line * between + shifted(way, k)];
      for (let c = 0; c < CHANNELS; c += 1)
        made[to + c] = data[to + c]! * (1 - weight) + data[from + c]! * weight;
    }
};

/** Takes the step between the edges away, evenly over the band on both sides: what is fine stays as it is. */
const spread: Heal = (data, made, { long, lines, pace, between }, band) => {
  for (let line = 0; line < lines; line += 1)
    for (let c = line * between; c < line * between + CHANNELS; c += 1) {
      const at = (k: number): number => c + k * pace;
      const usual =
        (data[at(Math.min(1, long - 1))]! -
          data[at(0)]! +
          data[at(long - 1)]! -
          data[at(Math.max(long - 2, 0))]!) /
        2;
      const step = data[at(0)]! - data[at(long - 1)]! - usual;
      for (let k = 0; k < Math.min(band, long >> 1); k += 1) {
        const t = 1 - k / band;
        const share = (t * t * (3 - 2 * t) * step) / 2;
        made[at(k)]! -= share;
        made[at(long - 1 - k)]! += share;
      }
    }
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
    const [across, along] = waysOf(image) as [Way, Way];
    const bandOf = ({ long }: Way): number =>
      Math.max(Math.min(Math.round(given.pixels('band')), long >> 1), 1);
    /** Copies what the ways write to: so much along all edges. */
    const copyEdges = (from: Float32Array, to: Float32Array): void => {
      const row = across.long * CHANNELS;
      const [wide, high] = [bandOf(across) * CHANNELS, bandOf(along)];
      const copy = (start: number, end: number): void => to.set(from.subarray(start, end), start);
      for (let y = 0; y < along.long; y += 1) {
        const [start, end] = [y * row, (y + 1) * row];
        if (y < high || y >= along.long - high) copy(start, end);
        else {
          copy(start, start + wide);
          copy(end - wide, end);
        }
      }
    };
    // A picture is large, and new room for it takes time: what is there is used again, and what is the same left as it is.
    const between = image.data.slice();
    const both = (how: Heal, made: Float32Array): Image => {
      copyEdges(image.data, between);
      how(image.data, between, across, bandOf(across));
      copyEdges(between, made);
      how(between, made, along, bandOf(along));
      return { ...image, data: made };
    };
    const room = (): Float32Array => image.data.slice();
    const by = given.word('by');
    if (by !== 'least') return both(WAYS[by]!, room());
    let best: { readonly name: string; readonly made: Image; readonly figure: number } | null = null;
    let free = room();
    for (const [name, how] of Object.entries(WAYS)) {
      const made = both(how, free);
      const figure = seamFigure(made);
      if (best && !(figure < best.figure)) continue;
      free = best?.made.data ?? room();
      best = { name, made, figure };
    }
    return { ...best!.made, note: `healed by ${best!.name}: its seam is seen least` };
  },
});
