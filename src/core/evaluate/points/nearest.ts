import { distanceIn, type Volume } from '../../meshes/volume.ts';
import { plus, times, triple, tripleAt, type Triple } from '../../numbers/vectors.ts';
import type { Placement } from './spots.ts';

/** A mesh that stands near: distances to it, and the way from the world into its space, which keeps lengths. */
export interface Nearby {
  readonly volume: Volume;
  readonly toMesh: Placement;
}

/** Where nothing is near. */
export const FAR = 1e4;

/** How far the nearest of them is from a place in the world, in metres; below 0 inside one that has an inside. */
export const nearestSurface = (near: readonly Nearby[], at: Triple): number =>
  near.reduce((least, { volume, toMesh: m }) => {
    const from = plus(
      plus(plus(tripleAt(m, 12), times(tripleAt(m, 0), at[0])), times(tripleAt(m, 4), at[1])),
      times(tripleAt(m, 8), at[2]),
    );
    return Math.min(
      least,
      distanceIn(
        volume,
        triple((c) => from[c]!),
      ),
    );
  }, FAR);
