/** A red component below this marks a place the picture does not cover. */
export const UNCOVERED = -3e38;

/** What a step's value does over a picture of it. */
export interface TapRange {
  readonly least: number;
  readonly greatest: number;
  /** How many covered points hold something that is not a finite number. */
  readonly notNumbers: number;
  readonly covered: number;
}

/**
 * Measures a rendered tap.
 * @param rgba four floats a pixel; red below `UNCOVERED` where there is no surface
 * @param components how many of the four belong to the value
 */
export const measureTap = (rgba: Float32Array, components: number): TapRange => {
  let least = Infinity;
  let greatest = -Infinity;
  let notNumbers = 0;
  let covered = 0;
  for (let i = 0; i < rgba.length; i += 4) {
    if (rgba[i]! < UNCOVERED) continue;
    covered += 1;
    let finite = true;
    for (let c = 0; c < components; c += 1) {
      const x = rgba[i + c]!;
      if (!Number.isFinite(x)) finite = false;
      else {
        if (x < least) least = x;
        if (x > greatest) greatest = x;
      }
    }
    if (!finite) notNumbers += 1;
  }
  return { least, greatest, notNumbers, covered };
};
