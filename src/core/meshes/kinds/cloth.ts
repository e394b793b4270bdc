import { grid } from '../grid.ts';
import { lengths, meshKind, number, quads } from '../kind.ts';
import { unit } from '../mesh.ts';

/** Two sines of unlike wavelengths fold it, gathered at the top and looser towards the hem. */
export const cloth = meshKind({
  kind: 'cloth',
  summary: 'Hangs in folds in the x–y plane, its lower edge at y = 0, facing +z.',
  fields: {
    size: lengths(2),
    divisions: quads(2),
    /** How many folds across, and how deep they are in metres. */
    folds: number(0, 0, 200),
    depth: number(0, -10, 10),
  },
  make: ({ size: [width, height], divisions, folds, depth }) => {
    const bend = (u: number, v: number): number => {
      const loose = 0.65 + 0.35 * (1 - v);
      const sway = 0.12 * Math.sin(v * 3.1 + u * 5);
      return (
        depth *
        loose *
        (Math.sin(2 * Math.PI * (folds * u + sway)) + 0.35 * Math.sin(2 * Math.PI * (folds * 2.3 * u - sway)))
      );
    };
    const e = 1e-3;
    return grid(divisions, (u, v) => {
      const dx = (bend(u + e, v) - bend(u - e, v)) / (2 * e * width);
      const dy = (bend(u, v + e) - bend(u, v - e)) / (2 * e * height);
      return { at: [(u - 0.5) * width, v * height, bend(u, v)], normal: unit([-dx, -dy, 1]) };
    });
  },
});
