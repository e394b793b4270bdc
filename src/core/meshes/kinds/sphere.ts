import { grid } from '../grid.ts';
import { lengths, meshKind, quads } from '../kind.ts';
import type { Point } from '../mesh.ts';

export const sphere = meshKind({
  kind: 'sphere',
  summary: 'Around its own middle; u runs round it from the back, v from the lower pole to the upper.',
  fields: { radius: lengths(1), divisions: quads(2) },
  make: ({ radius, divisions }) =>
    grid(divisions, (u, v) => {
      const [round, rise] = [(u - 0.5) * 2 * Math.PI, (v - 0.5) * Math.PI];
      const normal: Point = [
        Math.sin(round) * Math.cos(rise),
        Math.sin(rise),
        Math.cos(round) * Math.cos(rise),
      ];
      return { at: [normal[0] * radius, normal[1] * radius, normal[2] * radius], normal };
    }),
});
