/** Distances to a mesh's surface on a grid, in the mesh's own space. */
export interface Volume {
  /** Places along x, y and z. */
  readonly size: readonly [number, number, number];
  /** The box that the places fill: the first lies half a step inside `low`, the last half a step inside `high`. */
  readonly low: readonly [number, number, number];
  readonly high: readonly [number, number, number];
  /** Metres, x fastest; below 0 inside, where the mesh has an inside. */
  readonly values: Float32Array;
  readonly signed: boolean;
}

type Three = readonly [number, number, number];

/** How many places a box has along each side, as even as they go: at most `most` along the longest, at least `least`. */
export const shapeOf = (low: Three, high: Three, most: number, least: number): Three => {
  const sides = [0, 1, 2].map((c) => high[c]! - low[c]!);
  const step = Math.max(...sides) / most;
  return sides.map((side) => Math.max(least, Math.min(most, Math.round(side / step)))) as unknown as Three;
};

/** Where a place lies along one side. */
export const placeAt = (low: number, high: number, count: number, i: number): number =>
  low + ((i + 0.5) / count) * (high - low);

/** How often what lies outside looks again from where its straight way to the surface enters the box. */
const TURNS = 3;

/**
 * The distance at a point, as the stage's shader reads it: between the places inside the box; outside, to where the
 * surface lies as the box's nearest place and the way distance grows there tell, and again from where the straight way
 * from there leaves the box.
 */
export const distanceIn = ({ size, low, high, values }: Volume, point: Three): number => {
  const step = [0, 1, 2].map((c) => (high[c]! - low[c]!) / size[c]!);
  const held = (p: Three): Three =>
    p.map((x, c) =>
      Math.min(Math.max(x, low[c]! + step[c]! / 2), high[c]! - step[c]! / 2),
    ) as unknown as Three;
  const stored = (p: Three): number => {
    const at = p.map((x, c) => (x - low[c]!) / step[c]! - 0.5);
    let sum = 0;
    for (let corner = 0; corner < 8; corner += 1) {
      let [weight, index, stride] = [1, 0, 1];
      for (let c = 0; c < 3; c += 1) {
        const floor = Math.min(Math.max(Math.floor(at[c]!), 0), size[c]! - 2);
        const share = at[c]! - floor;
        const on = (corner >> c) & 1;
        weight *= on ? share : 1 - share;
        index += (floor + on) * stride;
        stride *= size[c]!;
      }
      sum += weight * values[index]!;
    }
    return sum;
  };
  let q = held(point);
  if (Math.hypot(...point.map((x, c) => x - q[c]!)) === 0) return stored(q);
  let surface = q;
  for (let turn = 0; turn < TURNS; turn += 1) {
    const slope = [0, 1, 2].map((c) => {
      const moved = (by: number): Three => held(q.map((x, k) => (k === c ? x + by : x)) as unknown as Three);
      const [a, b] = [moved(-step[c]!), moved(step[c]!)];
      return (stored(b) - stored(a)) / (b[c]! - a[c]!);
    });
    const steep = Math.hypot(...slope) || 1;
    surface = held(q.map((x, c) => x - (slope[c]! / steep) * stored(q)) as unknown as Three);
    // Where the straight way from there leaves the box.
    const way = point.map((x, c) => x - surface[c]!);
    const share = Math.min(
      ...way.map((x, c) => {
        const end = x > 0 ? high[c]! - step[c]! / 2 : low[c]! + step[c]! / 2;
        return x === 0 ? 1 : (end - surface[c]!) / x;
      }),
    );
    q = held(surface.map((x, c) => x + way[c]! * share) as unknown as Three);
  }
  return Math.hypot(...point.map((x, c) => x - surface[c]!));
};
