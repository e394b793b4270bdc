import { grid } from '../grid.ts';
import { heightIn } from '../heights.ts';
import { lengths, meshKind, number, quads } from '../kind.ts';
import { unit } from '../mesh.ts';

export const relief = meshKind({
  kind: 'relief',
  summary: 'Ground that rises where its picture is bright; lies as a floor does, black at y = 0.',
  fields: {
    size: lengths(2),
    divisions: quads(2),
    /** Metres from black to white. */
    rise: number(0.5, -1000, 1000),
  },
  picture: true,
  make: ({ size: [width, length], divisions, rise, picture }) => {
    const [du, dv] = [0.5 / divisions[0], 0.5 / divisions[1]];
    const high = (u: number, v: number): number => rise * heightIn(picture, u, v);
    /** Held at the edges, a difference spans less there. */
    const slope = (a: number, b: number, span: number): number => (b - a) / Math.max(span, 1e-9);
    return grid(divisions, (u, v) => {
      const [left, right] = [Math.max(u - du, 0), Math.min(u + du, 1)];
      const [near, far] = [Math.max(v - dv, 0), Math.min(v + dv, 1)];
      const dx = slope(high(left, v), high(right, v), (right - left) * width);
      const dz = slope(high(u, near), high(u, far), (far - near) * length);
      return {
        at: [(u - 0.5) * width, high(u, v), (0.5 - v) * length],
        normal: unit([-dx, 1, dz]),
      };
    });
  },
});
