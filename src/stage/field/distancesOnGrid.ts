/** Triangles by their corners, x, y and z each, three to a triangle. */
export interface Triangles {
  readonly positions: Float32Array;
  readonly indices: Uint32Array;
}

/** Numbers kept of each triangle: a corner, the ways to the others, its middle, how far it reaches, the ways' products. */
const KEPT = 16;
/** How wide the blocks of places are after which it is told how far it has come. */
const TOLD = 8;

const prepared = ({ positions, indices }: Triangles): Float64Array => {
  const kept = new Float64Array((indices.length / 3) * KEPT);
  for (let t = 0; t < indices.length / 3; t += 1) {
    const corner = (k: number, c: number): number => positions[indices[t * 3 + k]! * 3 + c]!;
    let reach = 0;
    for (let c = 0; c < 3; c += 1) {
      const at = t * KEPT + c;
      kept[at] = corner(0, c);
      kept[at + 3] = corner(1, c) - corner(0, c);
      kept[at + 6] = corner(2, c) - corner(0, c);
      kept[at + 9] = (corner(0, c) + corner(1, c) + corner(2, c)) / 3;
    }
    for (let k = 0; k < 3; k += 1)
      reach = Math.max(reach, Math.hypot(...[0, 1, 2].map((c) => corner(k, c) - kept[t * KEPT + 9 + c]!)));
    kept[t * KEPT + 12] = reach;
    for (let c = 0; c < 3; c += 1) {
      const [b, d] = [kept[t * KEPT + 3 + c]!, kept[t * KEPT + 6 + c]!];
      kept[t * KEPT + 13]! += b * b;
      kept[t * KEPT + 14]! += b * d;
      kept[t * KEPT + 15]! += d * d;
    }
  }
  return kept;
};

/** The square of how far a point is from a triangle: Ericson, Real-Time Collision Detection, 2005, 5.1.5. */
const squareTo = (m: Float64Array, at: number, x: number, y: number, z: number): number => {
  const abx = m[at + 3]!;
  const aby = m[at + 4]!;
  const abz = m[at + 5]!;
  const acx = m[at + 6]!;
  const acy = m[at + 7]!;
  const acz = m[at + 8]!;
  const apx = x - m[at]!;
  const apy = y - m[at + 1]!;
  const apz = z - m[at + 2]!;
  const d1 = abx * apx + aby * apy + abz * apz;
  const d2 = acx * apx + acy * apy + acz * apz;
  const abab = m[at + 13]!;
  const abac = m[at + 14]!;
  const acac = m[at + 15]!;
  // The point seen from the other two corners.
  const d3 = d1 - abab;
  const d4 = d2 - abac;
  const d5 = d1 - abac;
  const d6 = d2 - acac;
  const va = d3 * d6 - d5 * d4;
  const vb = d5 * d2 - d1 * d6;
  const vc = d1 * d4 - d3 * d2;
  let v = 0;
  let w = 0;
  if (d1 <= 0 && d2 <= 0) v = 0;
  else if (d3 >= 0 && d4 <= d3) v = 1;
  else if (d6 >= 0 && d5 <= d6) w = 1;
  else if (vc <= 0 && d1 >= 0 && d3 <= 0) v = d1 / (d1 - d3);
  else if (vb <= 0 && d2 >= 0 && d6 <= 0) w = d2 / (d2 - d6);
  else if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
    w = (d4 - d3) / (d4 - d3 + (d5 - d6));
    v = 1 - w;
  } else {
    v = vb / (va + vb + vc);
    w = vc / (va + vb + vc);
  }
  const dx = apx - abx * v - acx * w;
  const dy = apy - aby * v - acy * w;
  const dz = apz - abz * v - acz * w;
  return dx * dx + dy * dy + dz * dz;
};

/**
 * How far each place of a grid is from the nearest of some triangles, exactly. Blocks of places are halved until they are one
 * place: a triangle that is further from a block's middle than the nearest by more than the block's width is the nearest of
 * none of its places, and is not looked at again within it.
 * @param start the first place; x goes fastest
 * @param progress told the share that is done, now and then
 */
export const distancesOnGrid = (
  mesh: Triangles,
  size: readonly number[],
  start: readonly number[],
  step: readonly number[],
  progress: (share: number) => void = () => undefined,
): Float32Array => {
  const kept = prepared(mesh);
  const count = mesh.indices.length / 3;
  const [nx, ny, nz] = size as [number, number, number];
  const values = new Float32Array(nx * ny * nz);
  const lists: Int32Array[] = [Int32Array.from({ length: count }, (_, t) => t * KEPT)];
  const squares = new Float64Array(count);
  /** How far those are that were measured from where a block is looked at, squared; −1 of the others. */
  const measured = new Float64Array(count);
  let done = 0;

  const walk = (depth: number, length: number, i: number, j: number, k: number, wide: number): void => {
    if (i >= nx || j >= ny || k >= nz) return;
    const list = lists[depth]!;
    const half = (wide - 1) / 2;
    const x = start[0]! + (i + half) * step[0]!;
    const y = start[1]! + (j + half) * step[1]!;
    const z = start[2]! + (k + half) * step[2]!;
    // The triangle whose middle is nearest tells how far the rest need be looked for.
    let nearest = 0;
    for (let n = 0; n < length; n += 1) {
      const at = list[n]!;
      const dx = x - kept[at + 9]!;
      const dy = y - kept[at + 10]!;
      const dz = z - kept[at + 11]!;
      squares[n] = dx * dx + dy * dy + dz * dz;
      if (squares[n]! < squares[nearest]!) nearest = n;
    }
    let best = squareTo(kept, list[nearest]!, x, y, z);
    let least = Math.sqrt(best);
    for (let n = 0; n < length; n += 1) {
      const at = list[n]!;
      const beyond = least + kept[at + 12]!;
      measured[n] = -1;
      if (squares[n]! > beyond * beyond) continue;
      const square = squareTo(kept, at, x, y, z);
      measured[n] = square;
      if (square < best) {
        best = square;
        least = Math.sqrt(square);
      }
    }
    if (wide === 1) {
      values[(k * ny + j) * nx + i] = least;
      done += 1;
      return;
    }
    // A hair more, for what rounding takes.
    const most = (least + 2 * half * Math.hypot(step[0]!, step[1]!, step[2]!)) * (1 + 1e-9);
    const under = (lists[depth + 1] ??= new Int32Array(count));
    let stay = 0;
    for (let n = 0; n < length; n += 1) {
      const at = list[n]!;
      const beyond = most + kept[at + 12]!;
      if (squares[n]! > beyond * beyond) continue;
      const known = measured[n]!;
      if ((known < 0 ? squareTo(kept, at, x, y, z) : known) <= most * most) under[stay++] = at;
    }
    const next = wide / 2;
    for (let child = 0; child < 8; child += 1)
      walk(
        depth + 1,
        stay,
        i + (child & 1 ? next : 0),
        j + (child & 2 ? next : 0),
        k + (child & 4 ? next : 0),
        next,
      );
    if (wide === TOLD) progress(done / values.length);
  };
  let wide = 1;
  while (wide < Math.max(nx, ny, nz)) wide *= 2;
  walk(0, count, 0, 0, 0, wide);
  progress(1);
  return values;
};
