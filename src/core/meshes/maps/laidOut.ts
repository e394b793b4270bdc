import type { Mesh } from '../mesh.ts';

/** A mesh laid out by its uv over texels in rows from the top. */
export interface LaidOut {
  readonly width: number;
  readonly height: number;
  /** The triangle over the middle of each texel; −1 where there is none. */
  readonly triangles: Int32Array;
  /** How much of the triangle’s second and third corner the texel is. */
  readonly shares: Float32Array;
  /** Texels that are covered, and how many of them lie well inside more than one triangle. */
  readonly covered: number;
  readonly overlapping: number;
}

/** What lies so near to an edge is the neighbour’s as well. */
const EDGE = 1e-4;

/**
 * Which triangle lies over which texel. Beyond 0–1 uv comes round.
 * @throws Error where no triangle has a place in uv
 */
export const laidOut = (
  { uvs, indices }: Pick<Mesh, 'uvs' | 'indices'>,
  width: number,
  height: number,
): LaidOut => {
  const triangles = new Int32Array(width * height).fill(-1);
  const shares = new Float32Array(width * height * 2);
  const isInside = new Uint8Array(width * height);
  let [covered, overlapping] = [0, 0];
  const [x, y] = [
    [0, 0, 0],
    [0, 0, 0],
  ] as [number[], number[]];
  for (let t = 0; t < indices.length / 3; t += 1) {
    for (let k = 0; k < 3; k += 1) {
      const corner = indices[t * 3 + k]! * 2;
      x[k] = uvs[corner]! * width;
      y[k] = (1 - uvs[corner + 1]!) * height;
    }
    const [x0, x1, x2] = x as [number, number, number];
    const [y0, y1, y2] = y as [number, number, number];
    const area = (x1 - x0) * (y2 - y0) - (x2 - x0) * (y1 - y0);
    if (!(Math.abs(area) > 1e-9)) continue;
    const [left, right] = [Math.ceil(Math.min(x0, x1, x2) - 0.5), Math.floor(Math.max(x0, x1, x2) - 0.5)];
    const [top, bottom] = [Math.ceil(Math.min(y0, y1, y2) - 0.5), Math.floor(Math.max(y0, y1, y2) - 0.5)];
    if (right - left > 4 * width || bottom - top > 4 * height)
      throw new Error('Its uv goes round the square more than four times; a map is laid out over one.');
    for (let row = top; row <= bottom; row += 1)
      for (let column = left; column <= right; column += 1) {
        const [px, py] = [column + 0.5 - x0, row + 0.5 - y0];
        const b = (px * (y2 - y0) - (x2 - x0) * py) / area;
        const c = ((x1 - x0) * py - px * (y1 - y0)) / area;
        const least = Math.min(b, c, 1 - b - c);
        if (least < -1e-9) continue;
        const at = (((row % height) + height) % height) * width + (((column % width) + width) % width);
        const isWell = least > EDGE;
        if (triangles[at] === -1) {
          covered += 1;
          triangles[at] = t;
          shares[at * 2] = b;
          shares[at * 2 + 1] = c;
          isInside[at] = isWell ? 1 : 0;
        } else if (isWell && isInside[at] === 1) {
          overlapping += 1;
          isInside[at] = 2;
        }
      }
  }
  if (!covered)
    throw new Error(
      'It has no uv to lay a map out by, or all of it lies between the texels: unwrap it first.',
    );
  return { width, height, triangles, shares, covered, overlapping };
};
