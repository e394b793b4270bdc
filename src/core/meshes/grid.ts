import type { Mesh, Point } from './mesh.ts';

type Surface = (u: number, v: number) => { readonly at: Point; readonly normal: Point };

/** A sheet of quads over the square of uv, bent as `surface` says; its front is where u goes right and v up. */
export const grid = ([across, up]: readonly [number, number], surface: Surface): Mesh => {
  const columns = across + 1;
  const count = columns * (up + 1);
  const positions = new Float32Array(count * 3);
  const normals = new Float32Array(count * 3);
  const uvs = new Float32Array(count * 2);
  for (let i = 0; i < count; i += 1) {
    const u = (i % columns) / across;
    const v = Math.floor(i / columns) / up;
    const { at, normal } = surface(u, v);
    positions.set(at, i * 3);
    normals.set(normal, i * 3);
    uvs.set([u, v], i * 2);
  }
  const indices = new Uint32Array(across * up * 6);
  for (let row = 0, k = 0; row < up; row += 1)
    for (let column = 0; column < across; column += 1, k += 6) {
      const a = row * columns + column;
      indices.set([a, a + 1, a + columns, a + 1, a + columns + 1, a + columns], k);
    }
  return { positions, normals, uvs, indices };
};
