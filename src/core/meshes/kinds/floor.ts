import { grid } from '../grid.ts';
import { lengths, meshKind, quads } from '../kind.ts';

export const floor = meshKind({
  kind: 'floor',
  summary: 'Lies around its middle, facing up; v grows away from the front.',
  fields: { size: lengths(2), divisions: quads(2) },
  make: ({ size: [width, length], divisions }) =>
    grid(divisions, (u, v) => ({ at: [(u - 0.5) * width, 0, (0.5 - v) * length], normal: [0, 1, 0] })),
});
