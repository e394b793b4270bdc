import { grid } from '../grid.ts';
import { lengths, meshKind, number, quads } from '../kind.ts';

export const arc = meshKind({
  kind: 'arc',
  summary:
    'A flat band round the middle of the upright plane, from the left over the top: u runs along it, v from its inner edge to the outer. A full sweep from radius 0 is a disc.',
  fields: {
    radius: lengths(1),
    /** The inner edge, as a share of the radius. */
    inner: number(0, 0, 0.999),
    /** Degrees. */
    sweep: number(360, 1, 360),
    divisions: quads(2),
  },
  make: ({ radius, inner, sweep, divisions }) =>
    grid(divisions, (u, v) => {
      // Clockwise from the left: to the right of its own way lies the middle, and the front is towards +z.
      const angle = Math.PI / 2 + ((0.5 - u) * sweep * Math.PI) / 180;
      const r = radius * (inner + (1 - inner) * v);
      return { at: [Math.cos(angle) * r, Math.sin(angle) * r, 0], normal: [0, 0, 1] };
    }),
});
