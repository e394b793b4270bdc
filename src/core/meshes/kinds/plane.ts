import { grid } from '../grid.ts';
import { lengths, meshKind, quads } from '../kind.ts';

export const plane = meshKind({
  kind: 'plane',
  summary: 'Stands on its lower edge, facing +z.',
  fields: { size: lengths(2), divisions: quads(2) },
  make: ({ size: [width, height], divisions }) =>
    grid(divisions, (u, v) => ({ at: [(u - 0.5) * width, v * height, 0], normal: [0, 0, 1] })),
});
