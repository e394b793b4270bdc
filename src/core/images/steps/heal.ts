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
const isAcross = ({ pace, between }: Way): boolean => pace < between;
/** Writes over a copy of the numbers. */
type Heal = (data: Float32Array, made: Float32Array, way: Way, band: number) => void;

/** Places near one edge, and how far it is from each to what stands half-way along, which meets itself where the edges are. */
interface Side {
  readonly first: number;
  readonly count: number;
  readonly away: number;
}
const sidesOf = ({ long, pace }: Way, band: number): readonly [Side, Side] => {
  const half = long >> 1;
  const last = long - 1;
  const start = Math.max(long - band, band);
  return [
    { first: 0, count: band, away: half * pace },
    { first: start, count: long - start, away: (((last + half) % long) - last) * pace },
  ];
};

/** Shares of places near an edge: so far apart in a list for each line, and for each place of one. */
interface Shares {
  readonly values: Float64Array;
  readonly ofLine: number;
  readonly ofPlace: number;
}
/** Pixels one after another, each mixed with the one so far away by a share of its own. */
const mixPixels = (
  data: Float32Array,
  made: Float32Array,
  [start, count]: readonly [number, number],
  away: number,
  shares: Float64Array,
  [first, apart]: readonly [number, number],
): void => {
  for (let i = 0, at = start, place = first; i < count; i += 1, at += CHANNELS, place += apart) {
    const share = shares[place]!;
    if (share === 0) continue;
    const from = at + away;
    made[at] = data[at]! * (1 - share) + data[from]! * share;
    made[at + 1] = data[at + 1]! * (1 - share) + data[from + 1]! * share;
    made[at + 2] = data[at + 2]! * (1 - share) + data[from + 2]! * share;
    made[at + 3] = data[at + 3]! * (1 - share) + data[from + 3]! * share;
  }
};
/** Mixes what lies near an edge with what stands half-way along, by rows of the picture whichever way it goes. */
const mixSide = (
  data: Float32Array,
  made: Float32Array,
  way: Way,
  { first, count, away }: Side,
  { values, ofLine, ofPlace }: Shares,
): void => {
  const { lines, pace, between } = way;
  const start = first * pace;
  if (isAcross(way))
    for (let line = 0; line < lines; line += 1) {
      const shares = [line * ofLine, ofPlace] as const;
      mixPixels(data, made, [start + line * between, count], away, values, shares);
    }
  else
    for (let k = 0; k < count; k += 1)
      mixPixels(data, made, [start + k * pace, lines], away, values, [k * ofPlace, ofLine]);
};

/** Goes from all to nothing, evenly at both ends. */
const smooth = (t: number): number => t * t * (3 - 2 * t);

/** Goes over to what stands half-way along, from the edges inwards. */
const mixed: Heal = (data, made, way, band) => {
  for (const side of sidesOf(way, band)) {
    const values = Float64Array.from({ length: side.count }, (_, i) => {
      const k = side.first + i;
      return smooth(1 - (Math.min(k, way.long - 1 - k) + 0.5) / band);
    });
    mixSide(data, made, way, side, { values, ofLine: 0, ofPlace: 1 });
  }
};

/** Of pixels one after another, how far each differs from the one so far away: the sum of squares. */
const differ = (
  data: Float32Array,
  start: number,
  away: number,
  count: number,
  to: Float64Array,
  place: number,
  step: number,
): void => {
  for (let i = 0, at = start, put = place; i < count; i += 1, at += CHANNELS, put += step) {
    const from = at + away;
    const [r, g] = [data[at]! - data[from]!, data[at + 1]! - data[from + 1]!];
    const [b, a] = [data[at + 2]! - data[from + 2]!, data[at + 3]! - data[from + 3]!];
    const sum = r * r + g * g + b * b + a * a;
    // No cut goes through what is no number.
    to[put] = sum >= 0 ? sum : Infinity;
  }
};
/** What a cut costs as far as each place of a line: it comes from the line before, at most a place further. */
const reachLine = (best: Float64Array, costs: Float64Array, at: number, band: number): void => {
  const before = at - band;
  for (let k = 0; k < band; k += 1) {
    let least = best[before + k]!;
    if (k > 0 && best[before + k - 1]! < least) least = best[before + k - 1]!;
    if (k < band - 1 && best[before + k + 1]! < least) least = best[before + k + 1]!;
    best[at + k] = least + costs[at + k]!;
  }
};
/** The cut of least cost, a place of each line; where a first place is told, from there back to it, or beside it. */
const leastCut = (
  costs: Float64Array,
  lines: number,
  band: number,
  start: number | null,
): { readonly path: Int32Array; readonly cost: number } => {
  const best = new Float64Array(lines * band);
  for (let k = 0; k < band; k += 1) best[k] = start === null || start === k ? costs[k]! : Infinity;
  for (let y = 1; y < lines; y += 1) reachLine(best, costs, y * band, band);
  const path = new Int32Array(lines);
  let k = 0;
  const last = (lines - 1) * band;
  // It comes back to where it began, so that it meets itself above and below.
  const ends = start === null ? Array.from({ length: band }, (_, i) => i) : [start - 1, start, start + 1];
  for (const end of ends)
    if (end >= 0 && end < band && best[last + end]! < (best[last + k] ?? Infinity)) k = end;
  if (start !== null && !ends.includes(k)) k = start;
  const cost = best[last + k]!;
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
  return { path, cost };
};

/** Of each line, the place in the band where both differ least, no further than a pixel from the line's before (a least-cost cut). */
const cutOf = (data: Float32Array, way: Way, band: number, isFirst: boolean): Int32Array => {
  const { long, lines, pace, between } = way;
  const costs = new Float64Array(lines * band);
  const { away } = sidesOf(way, band)[isFirst ? 0 : 1];
  // Places are counted from the edge.
  if (isAcross(way))
    for (let line = 0; line < lines; line += 1)
      if (isFirst) differ(data, line * between, away, band, costs, line * band, 1);
      else differ(data, line * between + (long - band) * pace, away, band, costs, (line + 1) * band - 1, -1);
  else
    for (let k = 0; k < band; k += 1)
      differ(data, (isFirst ? k : long - 1 - k) * pace, away, lines, costs, k, band);
  const free = leastCut(costs, lines, band, null).path;
  const round = leastCut(costs, lines, band, free[0]!);
  return Number.isFinite(round.cost) ? round.path : free;
};

/** Shares of the places of a line near an edge that is cut so far from it: all up to there, and a pixel soft. */
const cutLine = (shares: Float64Array, at: number, count: number, cutAt: number, isFirst: boolean): void => {
  for (let i = 0; i < count; i += 1) {
    const beside = cutAt - (isFirst ? i : count - 1 - i) + 0.5;
    shares[at + i] = beside < 0 ? 0 : beside > 1 ? 1 : beside;
  }
};
/** Cut along where it differs least from what stands half-way along, a pixel soft. */
const cut: Heal = (data, made, way, band) => {
  for (const side of sidesOf(way, band)) {
    const { first, count } = side;
    const cutAt = cutOf(data, way, band, first === 0);
    const values = new Float64Array(way.lines * count);
    for (let line = 0; line < way.lines; line += 1)
      cutLine(values, line * count, count, cutAt[line]!, first === 0);
    mixSide(data, made, way, side, { values, ofLine: count, ofPlace: 1 });
  }
};

/** Adds shares of steps to pixels one after another: of each its own, or of all the same, as both lie so far apart. */
const addSteps = (
  made: Float32Array,
  [start, end]: readonly [number, number],
  steps: Float64Array,
  [from, apart]: readonly [number, number],
  shares: Float64Array,
  [place, next]: readonly [number, number],
): void => {
  for (let at = start, step = from, k = place; at < end; at += CHANNELS, step += apart, k += next) {
    made[at]! += steps[step]! * shares[k]!;
    made[at + 1]! += steps[step + 1]! * shares[k]!;
    made[at + 2]! += steps[step + 2]! * shares[k]!;
    made[at + 3]! += steps[step + 3]! * shares[k]!;
  }
};
/** Takes the step between the edges away, evenly over the band on both sides: what is fine stays as it is. */
const spread: Heal = (data, made, way, band) => {
  const { long, lines, pace, between } = way;
  const steps = new Float64Array(lines * CHANNELS);
  const [second, last, before] = [
    Math.min(1, long - 1) * pace,
    (long - 1) * pace,
    Math.max(long - 2, 0) * pace,
  ];
  for (let i = 0; i < steps.length; i += 1) {
    const at = Math.floor(i / CHANNELS) * between + (i % CHANNELS);
    const usual = (data[at + second]! - data[at]! + data[at + last]! - data[at + before]!) / 2;
    steps[i] = data[at]! - data[at + last]! - usual;
  }
  const count = Math.min(band, long >> 1);
  const down = Float64Array.from({ length: count }, (_, k) => -smooth(1 - k / band) / 2);
  const up = down.map((share) => -share).reverse();
  for (const [shares, first] of [
    [down, 0],
    [up, long - count],
  ] as const)
    if (isAcross(way))
      for (let line = 0; line < lines; line += 1) {
        const start = line * between + first * pace;
        addSteps(made, [start, start + count * pace], steps, [line * CHANNELS, 0], shares, [0, 1]);
      }
    else
      for (let k = 0; k < count; k += 1) {
        const start = (first + k) * pace;
        addSteps(made, [start, start + steps.length], steps, [0, CHANNELS], shares, [k, 0]);
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
    const [wide, high] = [bandOf(across) * CHANNELS, bandOf(along)];
    const row = across.long * CHANNELS;
    // A picture is large, and new room for it takes time: each way writes along the edges of the same copy, as they were.
    const made = image.data.slice();
    const restore = (start: number, end: number): void => made.set(image.data.subarray(start, end), start);
    const both = (how: Heal): void => {
      restore(0, high * row);
      for (let y = high; y < along.long - high; y += 1) {
        restore(y * row, y * row + wide);
        restore((y + 1) * row - wide, (y + 1) * row);
      }
      restore((along.long - high) * row, made.length);
      how(image.data, made, across, bandOf(across));
      // What stands half-way along lies in no band, but where those are wide.
      const from = 2 * high <= along.long >> 1 ? made : made.slice();
      how(from, made, along, high);
    };
    const healed: Image = { ...image, data: made };
    const by = given.word('by');
    if (by !== 'least') {
      both(WAYS[by]!);
      return healed;
    }
    let best: { readonly name: string; readonly figure: number } | null = null;
    let last = '';
    for (const [name, how] of Object.entries(WAYS)) {
      both(how);
      last = name;
      const figure = seamFigure(healed);
      if (!best || figure < best.figure) best = { name, figure };
    }
    if (last !== best!.name) both(WAYS[best!.name]!);
    return { ...healed, note: `healed by ${best!.name}: its seam is seen least` };
  },
});
