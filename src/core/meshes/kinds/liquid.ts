import { meshKind, number } from '../kind.ts';
import { joined } from '../mesh.ts';
import { lid, PROFILE, radiusAt, turned } from '../vesselProfile.ts';

/** What is left of a radius where the gap would take it all. */
const LEAST = 1e-4;

export const liquid = meshKind({
  kind: 'liquid',
  summary: 'All that a vessel of the same numbers can hold, closed, a gap inside its wall and its foot.',
  fields: { ...PROFILE, gap: number(0.01, 1e-4, 10) },
  make: ({ gap, ...profile }) => {
    const radius = radiusAt(profile);
    const { height, divisions } = profile;
    const low = Math.min(gap, height * 0.49);
    const line = (v: number): readonly [number, number] => {
      const y = low + v * (height - 2 * low);
      const share = y / height;
      // A gap is measured at right angles to the wall, so it is wider across where the wall leans.
      const lean = (radius(share + 1e-3) - radius(share - 1e-3)) / 2e-3 / height || 0;
      return [Math.max(radius(share) - gap * Math.hypot(1, lean), LEAST), y];
    };
    const round = divisions[0];
    return joined([
      lid(round, line(0)[0], line(0)[1], -1),
      lid(round, line(1)[0], line(1)[1], 1),
      turned(divisions, line),
    ]);
  },
});
