import { lengths, number, quads } from './kind.ts';
import { grid } from './grid.ts';
import { hermite, monotoneSlope } from '../numbers/monotone.ts';
import { unit, type Mesh } from './mesh.ts';

/** A turned vessel, told by its height and by how wide it is at four heights: radii in metres, heights as shares. */
export const PROFILE = {
  height: lengths(1),
  foot: number(0.3, 1e-3, 100),
  belly: number(0.5, 1e-3, 100),
  bellyAt: number(0.35, 0.01, 0.98),
  neck: number(0.18, 1e-3, 100),
  neckAt: number(0.8, 0.02, 0.99),
  lip: number(0.24, 1e-3, 100),
  divisions: quads(2),
};
interface Profile {
  readonly height: number;
  readonly foot: number;
  readonly belly: number;
  readonly bellyAt: number;
  readonly neck: number;
  readonly neckAt: number;
  readonly lip: number;
}

/**
 * The radius at each share of the height: a cubic through the four widths that never swings beyond them.
 * A neck that is told to lie below the belly lies just above it.
 */
export const radiusAt = ({
  foot,
  belly,
  bellyAt,
  neck,
  neckAt,
  lip,
}: Profile): ((share: number) => number) => {
  const shares = [0, bellyAt, Math.min(Math.max(neckAt, bellyAt + 0.01), 0.995), 1];
  const radii = [foot, belly, neck, lip];
  const gaps = [0, 1, 2].map((i) => shares[i + 1]! - shares[i]!);
  const climbs = [0, 1, 2].map((i) => (radii[i + 1]! - radii[i]!) / gaps[i]!);
  const slopes = [0, 1, 2, 3].map((i) => {
    return monotoneSlope(
      [climbs[i - 1] ?? climbs[0]!, climbs[i] ?? climbs[2]!],
      [gaps[i - 1] ?? gaps[0]!, gaps[i] ?? gaps[2]!],
    );
  });
  return (share) => {
    const at = Math.min(Math.max(share, 0), 1);
    const i = at < shares[1]! ? 0 : at < shares[2]! ? 1 : 2;
    return hermite((at - shares[i]!) / gaps[i]!, gaps[i]!, [
      radii[i]!,
      slopes[i]!,
      radii[i + 1]!,
      slopes[i + 1]!,
    ]);
  };
};

/** Turns a line of (radius, height) about the upright axis; its outside is to the right of a line that goes up. */
export const turned = (
  [round, along]: readonly [number, number],
  line: (v: number) => readonly [radius: number, y: number],
): Mesh => {
  const e = 1e-4;
  return grid([round, along], (u, v) => {
    const angle = (u - 0.5) * 2 * Math.PI;
    const [x, z] = [Math.sin(angle), Math.cos(angle)];
    const [r, y] = line(v);
    const [below, above] = [line(Math.max(v - e, 0)), line(Math.min(v + e, 1))];
    const [dr, dy] = [above[0] - below[0], above[1] - below[1]];
    return { at: [x * r, y, z * r], normal: unit([x * dy, -dr, z * dy]) };
  });
};

/** A round end that closes what is turned. */
export const lid = (round: number, radius: number, y: number, way: 1 | -1): Mesh =>
  grid([round, 1], (u, v) => {
    const angle = way * (u - 0.5) * 2 * Math.PI;
    return {
      at: [Math.sin(angle) * radius * (1 - v), y, Math.cos(angle) * radius * (1 - v)],
      normal: [0, way, 0],
    };
  });
