import { grid } from '../grid.ts';
import { lengths, meshKind, quads, three } from '../kind.ts';
import { unit, type Point } from '../mesh.ts';

const cross = (a: Point, b: Point): Point => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];

/** Narrower than this it has no side to look at. */
const STRAIGHT = 1e-6;

export const ribbon = meshKind({
  kind: 'ribbon',
  summary: 'A band from its own zero to an end, bent by a tangent at each: u runs along it, v across.',
  fields: {
    width: lengths(1),
    to: three([2, 0, 0], -1000, 1000),
    /** Where it sets out to, and how it arrives, in metres. */
    leaves: three([1, 1, 0], -1000, 1000),
    arrives: three([1, -1, 0], -1000, 1000),
    divisions: quads(2),
  },
  make: ({ width, to, leaves, arrives, divisions }) => {
    // A cubic from its ends and its tangents there (Hermite).
    const at = (t: number): Point =>
      [0, 1, 2].map(
        (c) =>
          (t ** 3 - 2 * t * t + t) * leaves[c]! +
          (3 * t * t - 2 * t ** 3) * to[c]! +
          (t ** 3 - t * t) * arrives[c]!,
      ) as unknown as Point;
    const way = (t: number): Point => {
      const e = 1e-3;
      const [a, b] = [at(Math.max(t - e, 0)), at(Math.min(t + e, 1))];
      return unit([b[0] - a[0], b[1] - a[1], b[2] - a[2]]);
    };
    // It keeps level where it can: across lies flat unless it goes straight up, where it keeps the way it had.
    const across: Point[] = [];
    for (let i = 0; i <= divisions[0]; i += 1) {
      const forward = way(i / divisions[0]);
      const level = cross([0, 1, 0], forward);
      const before = across[i - 1] ?? [0, 0, -1];
      const kept = Math.hypot(...level) > STRAIGHT ? unit(level) : before;
      const turned = kept[0] * before[0] + kept[1] * before[1] + kept[2] * before[2] < 0;
      across.push(turned && i > 0 ? [-kept[0], -kept[1], -kept[2]] : kept);
    }
    return grid(divisions, (u, v) => {
      const side = across[Math.round(u * divisions[0])]!;
      const middle = at(u);
      const normal = unit(cross(way(u), side));
      return { at: middle.map((x, c) => x + (v - 0.5) * width * side[c]!) as unknown as Point, normal };
    });
  },
});
