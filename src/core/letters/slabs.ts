import type { Place } from './flatten.ts';

/** One straight line of an outline, from its lower end up; `way` is 1 where the outline goes up it, −1 where down. */
interface Edge {
  readonly low: Place;
  readonly high: Place;
  readonly way: 1 | -1;
}
/** Where one stretch of a slab begins and ends, at its foot and at its head. */
export interface Span {
  readonly left: readonly [foot: number, head: number];
  readonly right: readonly [foot: number, head: number];
}
/** What lies inside between two heights, in which no two lines cross: stretches, left to right. */
export interface Slab {
  readonly foot: number;
  readonly head: number;
  readonly spans: readonly Span[];
}

/** Places nearer than this are one: it is far less than any outline tells apart. */
const GRID = 1e-3;
const onGrid = (x: number): number => Math.round(x / GRID) * GRID;

const xAt = ({ low, high }: Edge, y: number): number =>
  y === low[1]
    ? low[0]
    : y === high[1]
      ? high[0]
      : low[0] + ((high[0] - low[0]) * (y - low[1])) / (high[1] - low[1]);

const edgesOf = (outlines: readonly (readonly Place[])[]): readonly Edge[] =>
  outlines.flatMap((outline) => {
    const places = outline.map(([x, y]): Place => [onGrid(x), onGrid(y)]);
    return places.flatMap((to, i): Edge[] => {
      const from = places.at(i - 1)!;
      if (from[1] === to[1]) return [];
      return from[1] < to[1] ? [{ low: from, high: to, way: 1 }] : [{ low: to, high: from, way: -1 }];
    });
  });

/** The height at which two lines cross, where they do between their ends. */
const crossing = (a: Edge, b: Edge): number[] => {
  const [low, high] = [Math.max(a.low[1], b.low[1]), Math.min(a.high[1], b.high[1])];
  if (!(high > low)) return [];
  const [before, after] = [xAt(a, low) - xAt(b, low), xAt(a, high) - xAt(b, high)];
  if (!(before * after < 0)) return [];
  return [onGrid(low + ((high - low) * before) / (before - after))];
};

/** Cuts what outlines enclose (their windings not 0: overlaps are one) at the height of every corner and crossing. */
export const slabsOf = (outlines: readonly (readonly Place[])[]): readonly Slab[] => {
  const edges = edgesOf(outlines);
  const corners = edges.flatMap(({ low, high }) => [low[1], high[1]]);
  const crossings = edges.flatMap((a, i) => edges.slice(i + 1).flatMap((b) => crossing(a, b)));
  const heights = [...new Set([...corners, ...crossings])].sort((a, b) => a - b);
  return heights.slice(1).map((head, i) => {
    const foot = heights[i]!;
    const middle = (foot + head) / 2;
    const here = edges
      .filter(({ low, high }) => low[1] < middle && high[1] > middle)
      .sort((a, b) => xAt(a, middle) - xAt(b, middle));
    const spans: Span[] = [];
    let [winding, begun] = [0, here[0]];
    for (const edge of here) {
      if (winding === 0) begun = edge;
      winding += edge.way;
      if (winding === 0)
        spans.push({
          left: [xAt(begun!, foot), xAt(begun!, head)],
          right: [xAt(edge, foot), xAt(edge, head)],
        });
    }
    return { foot, head, spans };
  });
};
