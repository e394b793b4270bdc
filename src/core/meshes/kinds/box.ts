import { grid } from '../grid.ts';
import { lengths, meshKind, quads, three } from '../kind.ts';
import { joined, type Mesh, type Point } from '../mesh.ts';

/** Each face: the way it looks, and the ways its u and v grow, as axes with a sign. */
const FACES: readonly (readonly [out: Point, right: Point, up: Point])[] = [
  [
    [0, 0, 1],
    [1, 0, 0],
    [0, 1, 0],
  ],
  [
    [0, 0, -1],
    [-1, 0, 0],
    [0, 1, 0],
  ],
  [
    [1, 0, 0],
    [0, 0, -1],
    [0, 1, 0],
  ],
  [
    [-1, 0, 0],
    [0, 0, 1],
    [0, 1, 0],
  ],
  [
    [0, 1, 0],
    [1, 0, 0],
    [0, 0, -1],
  ],
  [
    [0, -1, 0],
    [1, 0, 0],
    [0, 0, 1],
  ],
];

const along = (axis: Point, of: Point): number =>
  Math.abs(axis[0] * of[0] + axis[1] * of[1] + axis[2] * of[2]);

export const box = meshKind({
  kind: 'box',
  summary: 'Stands on its base around its pivot; each face has the square of uv to itself.',
  fields: {
    size: lengths(3),
    divisions: quads(3),
    /** Where in it its own zero lies, as shares of its size from its lower left back corner. */
    pivot: three([0.5, 0, 0.5], -10, 10),
  },
  make: ({ size, divisions, pivot }) =>
    joined(
      FACES.map(([out, right, up]): Mesh =>
        grid([along(right, divisions), along(up, divisions)], (u, v) => {
          const [x, y, z] = [0, 1, 2].map(
            (c) =>
              ((1 + out[c]! + (2 * u - 1) * right[c]! + (2 * v - 1) * up[c]!) / 2 - pivot[c]!) * size[c]!,
          );
          return { at: [x!, y!, z!], normal: out };
        }),
      ),
    ),
});
