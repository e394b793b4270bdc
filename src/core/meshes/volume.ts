/** Distances to a mesh's surface on a grid, in the mesh's own space. */
export interface Volume {
  /** Places along x, y and z. */
  readonly size: readonly [number, number, number];
  /** The box that the places fill: the first lies half a step inside `low`, the last half a step inside `high`. */
  readonly low: readonly [number, number, number];
  readonly high: readonly [number, number, number];
  /** Metres, x fastest; below 0 inside, where the mesh has an inside. */
  readonly values: Float32Array;
  readonly signed: boolean;
}

type Three = readonly [number, number, number];

/** How many places a box has along each side, as even as they go: at most `most` along the longest, at least `least`. */
export const shapeOf = (low: Three, high: Three, most: number, least: number): Three => {
  const sides = [0, 1, 2].map((c) => high[c]! - low[c]!);
  const step = Math.max(...sides) / most;
  return sides.map((side) => Math.max(least, Math.min(most, Math.round(side / step)))) as unknown as Three;
};

/** Where a place lies along one side. */
export const placeAt = (low: number, high: number, count: number, i: number): number =>
  low + ((i + 0.5) / count) * (high - low);

/** How often what lies outside looks again from where its straight way to the surface enters the box. */
const TURNS = 3;

const held = (x: number, low: number, high: number): number => Math.min(Math.max(x, low), high);
/** The share of a way along one side after which it leaves the box; 1 where it does not. */
const outAt = (way: number, from: number, low: number, high: number): number =>
  way === 0 ? 1 : ((way > 0 ? high : low) - from) / way;

/**
 * The distance at a point, as the stage's shader reads it: between the places inside the box; outside, to where the
 * surface lies as the box's nearest place and the way distance grows there tell, and again from where the straight way
 * from there leaves the box.
 */
export const distanceIn = ({ size, low, high, values }: Volume, [px, py, pz]: Three): number => {
  const [nx, ny, nz] = size;
  const [lowX, lowY, lowZ] = low;
  const stepX = (high[0] - lowX) / nx;
  const stepY = (high[1] - lowY) / ny;
  const stepZ = (high[2] - lowZ) / nz;
  // The box of the places' middles.
  const [fromX, toX] = [lowX + stepX / 2, high[0] - stepX / 2];
  const [fromY, toY] = [lowY + stepY / 2, high[1] - stepY / 2];
  const [fromZ, toZ] = [lowZ + stepZ / 2, high[2] - stepZ / 2];
  const stored = (x: number, y: number, z: number): number => {
    const [atX, atY, atZ] = [(x - lowX) / stepX - 0.5, (y - lowY) / stepY - 0.5, (z - lowZ) / stepZ - 0.5];
    const i = held(Math.floor(atX), 0, nx - 2);
    const j = held(Math.floor(atY), 0, ny - 2);
    const k = held(Math.floor(atZ), 0, nz - 2);
    const [u, v, w] = [atX - i, atY - j, atZ - k];
    let sum = 0;
    for (let corner = 0; corner < 8; corner += 1) {
      const [a, b, c] = [corner & 1, (corner >> 1) & 1, corner >> 2];
      const weight = (a ? u : 1 - u) * (b ? v : 1 - v) * (c ? w : 1 - w);
      sum += weight * values[i + a + (j + b) * nx + (k + c) * nx * ny]!;
    }
    return sum;
  };
  let qx = held(px, fromX, toX);
  let qy = held(py, fromY, toY);
  let qz = held(pz, fromZ, toZ);
  if (px === qx && py === qy && pz === qz) return stored(qx, qy, qz);
  let [x, y, z] = [qx, qy, qz];
  for (let turn = 0; turn < TURNS; turn += 1) {
    const [x0, x1] = [held(qx - stepX, fromX, toX), held(qx + stepX, fromX, toX)];
    const [y0, y1] = [held(qy - stepY, fromY, toY), held(qy + stepY, fromY, toY)];
    const [z0, z1] = [held(qz - stepZ, fromZ, toZ), held(qz + stepZ, fromZ, toZ)];
    const slopeX = (stored(x1, qy, qz) - stored(x0, qy, qz)) / (x1 - x0);
    const slopeY = (stored(qx, y1, qz) - stored(qx, y0, qz)) / (y1 - y0);
    const slopeZ = (stored(qx, qy, z1) - stored(qx, qy, z0)) / (z1 - z0);
    const steep = Math.hypot(slopeX, slopeY, slopeZ) || 1;
    const far = stored(qx, qy, qz);
    x = held(qx - (slopeX / steep) * far, fromX, toX);
    y = held(qy - (slopeY / steep) * far, fromY, toY);
    z = held(qz - (slopeZ / steep) * far, fromZ, toZ);
    // Where the straight way from there leaves the box.
    const share = Math.min(
      outAt(px - x, x, fromX, toX),
      outAt(py - y, y, fromY, toY),
      outAt(pz - z, z, fromZ, toZ),
    );
    qx = held(x + (px - x) * share, fromX, toX);
    qy = held(y + (py - y) * share, fromY, toY);
    qz = held(z + (pz - z) * share, fromZ, toZ);
  }
  return Math.hypot(px - x, py - y, pz - z);
};
