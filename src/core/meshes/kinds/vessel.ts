import { meshKind } from '../kind.ts';
import { joined } from '../mesh.ts';
import { lid, PROFILE, radiusAt, turned } from '../vesselProfile.ts';

export const vessel = meshKind({
  kind: 'vessel',
  summary:
    'Turned on its upright axis, open above: foot, belly, neck and lip are its radii. Stands on its foot.',
  fields: PROFILE,
  make: (profile) => {
    const radius = radiusAt(profile);
    const side = turned(profile.divisions, (v) => [radius(v), v * profile.height]);
    // The foot first, so that uv goes from corner to corner of the side.
    return joined([lid(profile.divisions[0], profile.foot, 0, -1), side]);
  },
});
