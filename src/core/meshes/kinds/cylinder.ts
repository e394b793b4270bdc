import { grid } from '../grid.ts';
import { lengths, meshKind, number, quads } from '../kind.ts';
import { joined, unit, type Mesh } from '../mesh.ts';

export const cylinder = meshKind({
  kind: 'cylinder',
  summary:
    'Stands on its base; narrowed to a cone by its upper radius. The side and both ends have the square of uv each.',
  fields: {
    radius: lengths(1),
    /** The upper radius, as a share of the lower. */
    taper: number(1, 0, 4),
    height: lengths(1),
    divisions: quads(2),
  },
  make: ({ radius, taper, height, divisions: [round, up] }) => {
    const end = (r: number, y: number, way: 1 | -1): Mesh =>
      grid([round, 1], (u, v) => {
        const angle = way * (u - 0.5) * 2 * Math.PI;
        // The middle first above, the rim first below: both fronts look outwards.
        const out = r * (1 - v);
        return { at: [Math.sin(angle) * out, y, Math.cos(angle) * out], normal: [0, way, 0] };
      });
    const side = grid([round, up], (u, v) => {
      const angle = (u - 0.5) * 2 * Math.PI;
      const r = radius * (1 + (taper - 1) * v);
      const [x, z] = [Math.sin(angle), Math.cos(angle)];
      return { at: [x * r, v * height, z * r], normal: unit([x, (radius * (1 - taper)) / height, z]) };
    });
    return joined([side, end(radius, 0, -1), ...(taper > 0 ? [end(radius * taper, height, 1)] : [])]);
  },
});
