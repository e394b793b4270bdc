import type { Place } from '../letters/flatten.ts';
import { slabsOf, type Slab, type Span } from '../letters/slabs.ts';

/** What outlines enclose, as a body: its front, and the lines round it with the body to their left. */
export interface Raised {
  readonly places: readonly Place[];
  /** Three places each, counter-clockwise. */
  readonly front: readonly (readonly [number, number, number])[];
  readonly rim: readonly (readonly [number, number])[];
}

const has = (spans: readonly Span[], end: 0 | 1, x: number): boolean =>
  spans.some(({ left, right }) => left[end] < x && x < right[end]);

/**
 * Fills what outlines enclose with triangles. Slabs that lie on one another share every corner between them, so that
 * what is made of it is closed.
 */
export const raise = (outlines: readonly (readonly Place[])[]): Raised => {
  const slabs = slabsOf(outlines);
  const places: Place[] = [];
  const known = new Map<string, number>();
  const placed = (x: number, y: number): number => {
    const key = `${x} ${y}`;
    const at = known.get(key) ?? places.length;
    if (at === places.length) places.push([x, y]);
    known.set(key, at);
    return at;
  };
  /** Between slabs: where stretches of the one below and the one above begin and end. */
  const lines = [...slabs, undefined].map((above, i): readonly number[] => {
    const below = slabs[i - 1];
    const ends = [
      ...(below?.spans ?? []).flatMap(({ left, right }) => [left[1], right[1]]),
      ...(above?.spans ?? []).flatMap(({ left, right }) => [left[0], right[0]]),
    ];
    return [...new Set(ends)].sort((a, b) => a - b);
  });
  const front: [number, number, number][] = [];
  const rim: [number, number][] = [];
  const fill = ({ foot, head }: Slab, { left, right }: Span, i: number): void => {
    const chain = (at: number, y: number, from: number, to: number): readonly number[] =>
      lines[at]!.filter((x) => x >= from && x <= to).map((x) => placed(x, y));
    const [low, high] = [chain(i, foot, left[0], right[0]), chain(i + 1, head, left[1], right[1])];
    for (let [a, b] = [0, 0]; a < low.length - 1 || b < high.length - 1;) {
      const takesLow = b === high.length - 1 || (a < low.length - 1 && a / low.length <= b / high.length);
      front.push(takesLow ? [low[a]!, low[a + 1]!, high[b]!] : [low[a]!, high[b + 1]!, high[b]!]);
      if (takesLow) a += 1;
      else b += 1;
    }
    rim.push([low.at(-1)!, high.at(-1)!], [high[0]!, low[0]!]);
  };
  slabs.forEach((slab, i) => slab.spans.forEach((span) => fill(slab, span, i)));
  lines.forEach((xs, i) => {
    const [below, above] = [slabs[i - 1], slabs[i]];
    const y = above?.foot ?? below?.head ?? 0;
    xs.slice(1).forEach((right, k) => {
      const [left, middle] = [xs[k]!, (xs[k]! + right) / 2];
      const [under, over] = [has(below?.spans ?? [], 1, middle), has(above?.spans ?? [], 0, middle)];
      if (under && !over) rim.push([placed(right, y), placed(left, y)]);
      if (over && !under) rim.push([placed(left, y), placed(right, y)]);
    });
  });
  return { places, front, rim };
};
