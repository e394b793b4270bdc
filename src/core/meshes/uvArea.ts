import type { Mesh } from './mesh.ts';

/** How much of the square of uv the triangles of a mesh cover, each counted for itself. */
export const uvArea = ({ uvs, indices }: Mesh): number => {
  let area = 0;
  for (let t = 0; t + 2 < indices.length; t += 3) {
    const [a, b, c] = [indices[t]! * 2, indices[t + 1]! * 2, indices[t + 2]! * 2];
    const [bu, bv] = [uvs[b]! - uvs[a]!, uvs[b + 1]! - uvs[a + 1]!];
    const [cu, cv] = [uvs[c]! - uvs[a]!, uvs[c + 1]! - uvs[a + 1]!];
    area += Math.abs(bu * cv - bv * cu) / 2;
  }
  return area;
};
