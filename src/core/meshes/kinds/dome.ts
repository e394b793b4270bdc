import { grid } from '../grid.ts';
import { lengths, meshKind, number, quads } from '../kind.ts';
import type { Point } from '../mesh.ts';

export const dome = meshKind({
  kind: 'dome',
  summary:
    'Part of a sphere that is seen from inside, around whoever stands in it; u runs from left to right, v upwards.',
  fields: {
    radius: lengths(1),
    /** Degrees round the middle, ahead of it, and from its rim below to the one above. */
    sweep: number(360, 1, 360),
    from: number(0, -90, 90),
    to: number(90, -90, 90),
    divisions: quads(2),
  },
  make: ({ radius, sweep, from, to, divisions }) =>
    grid(divisions, (u, v) => {
      const round = ((u - 0.5) * sweep * Math.PI) / 180;
      const rise = ((from + (to - from) * v) * Math.PI) / 180;
      const out: Point = [
        Math.sin(round) * Math.cos(rise),
        Math.sin(rise),
        -Math.cos(round) * Math.cos(rise),
      ];
      return {
        at: [out[0] * radius, out[1] * radius, out[2] * radius],
        normal: [-out[0], -out[1], -out[2]],
      };
    }),
});
