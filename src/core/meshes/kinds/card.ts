import { grid } from '../grid.ts';
import { lengths, meshKind, quads } from '../kind.ts';

export const card = meshKind({
  kind: 'card',
  summary:
    'A flat card around its middle, facing +z: for a prop that faces the camera, and for cut-out pictures.',
  fields: { size: lengths(2), divisions: quads(2) },
  make: ({ size: [width, height], divisions }) =>
    grid(divisions, (u, v) => ({ at: [(u - 0.5) * width, (v - 0.5) * height, 0], normal: [0, 0, 1] })),
});
