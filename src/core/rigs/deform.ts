import { after, type Affine } from '../numbers/placement.ts';
import type { Pose, Rig } from './rig.ts';

/** What corners have besides being moved. */
export interface Corners {
  readonly positions: Float32Array;
  readonly normals: Float32Array;
  readonly tangents?: Float32Array;
}

/** Corners that nodes carry, each up to four of them, after its targets have moved it. */
export interface Skin {
  readonly rig: Rig;
  /** As they are told in the spaces of the nodes that carry them. */
  readonly base: Corners;
  /** What carries: a node of the rig, and what brings a corner into its space. */
  readonly bones: readonly { readonly node: number; readonly inverse: Affine }[];
  /** Four to a corner: places among the bones, and how much each carries, which come to 1. */
  readonly joints: Uint16Array;
  readonly weights: Float32Array;
  /** How far each target moves every corner, and its normal. */
  readonly targets: readonly { readonly positions: Float32Array; readonly normals: Float32Array | null }[];
}

/** Corners as a pose has them: moved by the targets first, then carried by the nodes. Normals stay at right angles. */
export const deform = ({ base, bones, joints, weights, targets }: Skin, pose: Pose): Corners => {
  const positions = base.positions.slice();
  const normals = base.normals.slice();
  const tangents = base.tangents?.slice();
  targets.forEach((target, k) => {
    const weight = pose.weights[k] ?? 0;
    if (!weight) return;
    for (let i = 0; i < positions.length; i += 1) positions[i]! += target.positions[i]! * weight;
    if (target.normals)
      for (let i = 0; i < normals.length; i += 1) normals[i]! += target.normals[i]! * weight;
  });
  const maps = bones.map(({ node, inverse }) => after(pose.nodes[node]!, inverse));
  const m = new Float64Array(12);
  const count = positions.length / 3;
  for (let corner = 0; corner < count; corner += 1) {
    m.fill(0);
    for (let k = 0; k < 4; k += 1) {
      const weight = weights[corner * 4 + k]!;
      const map = weight ? maps[joints[corner * 4 + k]!] : undefined;
      if (map) for (let i = 0; i < 12; i += 1) m[i]! += map[i]! * weight;
    }
    const [a, b, c, d, e, f, g, h, i] = m as unknown as [
      ...[number, number, number, number, number, number, number, number, number],
    ];
    const at = corner * 3;
    const [x, y, z] = [positions[at]!, positions[at + 1]!, positions[at + 2]!];
    positions[at] = a * x + d * y + g * z + m[9]!;
    positions[at + 1] = b * x + e * y + h * z + m[10]!;
    positions[at + 2] = c * x + f * y + i * z + m[11]!;
    const [p, q, r] = [normals[at]!, normals[at + 1]!, normals[at + 2]!];
    // By the cofactors, as what stands at right angles is; a mirror turns them over.
    const hand = a * (e * i - f * h) - d * (b * i - c * h) + g * (b * f - c * e) < 0 ? -1 : 1;
    const nx = hand * ((e * i - f * h) * p + (c * h - b * i) * q + (b * f - c * e) * r);
    const ny = hand * ((f * g - d * i) * p + (a * i - c * g) * q + (c * d - a * f) * r);
    const nz = hand * ((d * h - e * g) * p + (b * g - a * h) * q + (a * e - b * d) * r);
    const size = Math.sqrt(nx * nx + ny * ny + nz * nz) || 1;
    normals[at] = nx / size;
    normals[at + 1] = ny / size;
    normals[at + 2] = nz / size;
    if (!tangents) continue;
    const t = corner * 4;
    const [u, v, w] = [tangents[t]!, tangents[t + 1]!, tangents[t + 2]!];
    const tx = a * u + d * v + g * w;
    const ty = b * u + e * v + h * w;
    const tz = c * u + f * v + i * w;
    const long = Math.sqrt(tx * tx + ty * ty + tz * tz) || 1;
    tangents[t] = tx / long;
    tangents[t + 1] = ty / long;
    tangents[t + 2] = tz / long;
    tangents[t + 3]! *= hand;
  }
  return { positions, normals, ...(tangents ? { tangents } : {}) };
};
