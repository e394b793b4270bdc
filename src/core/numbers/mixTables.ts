import { MOST_KEYS } from './curve.ts';

/** What a curve’s keys or a gradient’s stops come to at a place, just before it or just behind: values, and how they rise. */
type Side = { readonly values: readonly number[]; readonly slope: number };

const LEVEL = 0;

/** A cubic’s rise at a share of its stretch (Hermite’s, differentiated). */
const riseAt = (t: number, span: number, y0: number, out: number, y1: number, into: number): number =>
  ((6 * t * t - 6 * t) * (y0 - y1)) / span + (3 * t * t - 4 * t + 1) * out + (3 * t * t - 2 * t) * into;

const cubicAt = (t: number, span: number, y0: number, out: number, y1: number, into: number): number => {
  const s = 1 - t;
  return (
    y0 * (1 + 2 * t) * s * s + span * out * t * s * s + y1 * t * t * (3 - 2 * t) - span * into * t * t * s
  );
};

const sideOf = (
  kind: 'curve' | 'gradient',
  numbers: readonly number[],
  x: number,
  side: 'before' | 'behind',
): Side => {
  const count = numbers.length / 4;
  const at = (i: number): number => numbers[i * 4]!;
  const valuesOf = (i: number): readonly number[] =>
    kind === 'curve' ? [numbers[i * 4 + 1]!] : numbers.slice(i * 4 + 1, i * 4 + 4);
  const last = count - 1;
  if (side === 'before' ? x <= at(0) : x < at(0)) return { values: valuesOf(0), slope: LEVEL };
  if (side === 'before' ? x > at(last) : x >= at(last)) return { values: valuesOf(last), slope: LEVEL };
  let i = 0;
  while (side === 'before' ? at(i + 1) < x : at(i + 1) <= x) i += 1;
  const span = at(i + 1) - at(i);
  const t = (x - at(i)) / span;
  if (kind === 'gradient') {
    const [from, to] = [valuesOf(i), valuesOf(i + 1)];
    return { values: from.map((y, c) => y * (1 - t) + to[c]! * t), slope: LEVEL };
  }
  const [y0, out, y1, into] = [
    numbers[i * 4 + 1]!,
    numbers[i * 4 + 3]!,
    numbers[i * 4 + 5]!,
    numbers[i * 4 + 6]!,
  ];
  return { values: [cubicAt(t, span, y0, out, y1, into)], slope: riseAt(t, span, y0, out, y1, into) };
};

/**
 * The curve, or the gradient, that lies between two by a share: at every place exactly the mix of what they come to
 * there, since both are pieces of cubics, or straight, between the places of all their keys together.
 */
export const mixTables = (
  kind: 'curve' | 'gradient',
  a: readonly number[],
  b: readonly number[],
  share: number,
): readonly number[] => {
  if (share <= 0) return a;
  if (share >= 1) return b;
  const places = [a, b].flatMap((each) => Array.from({ length: each.length / 4 }, (_, i) => each[i * 4]!));
  const mixed = (x: number, side: 'before' | 'behind'): Side => {
    const [p, q] = [sideOf(kind, a, x, side), sideOf(kind, b, x, side)];
    return {
      values: p.values.map((y, c) => y * (1 - share) + q.values[c]! * share),
      slope: p.slope * (1 - share) + q.slope * share,
    };
  };
  return [...new Set(places)]
    .sort((x, y) => x - y)
    .flatMap((x) => {
      const [before, behind] = [mixed(x, 'before'), mixed(x, 'behind')];
      const key = ({ values }: Side): readonly number[] =>
        kind === 'curve' ? [x, values[0]!, before.slope, behind.slope] : [x, ...values];
      const steps = before.values.some((y, c) => y !== behind.values[c]);
      return steps ? [...key(before), ...key(behind)] : key(behind);
    });
};

/** A curve or a gradient of no more keys than a document takes: as it is, or evenly through it where it has more. */
export const fewerKeys = (kind: 'curve' | 'gradient', numbers: readonly number[]): readonly number[] => {
  if (numbers.length / 4 <= MOST_KEYS) return numbers;
  return Array.from({ length: MOST_KEYS }, (_, i) => {
    const x = i / (MOST_KEYS - 1);
    const { values, slope } = sideOf(kind, numbers, x, 'behind');
    return kind === 'curve'
      ? [x, values[0]!, sideOf(kind, numbers, x, 'before').slope, slope]
      : [x, ...values];
  }).flat();
};
