/** Triangles with what a shader reads at each corner. Counter-clockwise is the front. */
export interface Mesh {
  /** x, y, z in metres. */
  readonly positions: Float32Array;
  readonly normals: Float32Array;
  /** (0, 0) at the lower left. */
  readonly uvs: Float32Array;
  readonly indices: Uint32Array;
}

export type MeshKind = 'cloth' | 'plane' | 'floor';
export const MESH_KINDS: readonly MeshKind[] = ['cloth', 'plane', 'floor'];

/** What a mesh is made from. */
export interface MeshRecipe {
  readonly kind: MeshKind;
  /** Width and height (a floor's depth), in metres. */
  readonly size: readonly [number, number];
  /** How many quads across and up. */
  readonly divisions: readonly [number, number];
  /** Cloth: how many folds across, and how deep they are in metres. */
  readonly folds: number;
  readonly depth: number;
}

type Point = readonly [number, number, number];
type Surface = (u: number, v: number) => { readonly at: Point; readonly normal: Point };

const grid = ([across, up]: readonly [number, number], surface: Surface): Mesh => {
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

const unit = ([x, y, z]: Point): Point => {
  const size = Math.hypot(x, y, z) || 1;
  return [x / size, y / size, z / size];
};

/**
 * Hanging cloth: two sines of unlike wavelengths fold it, gathered at the top and looser towards the hem.
 * Hangs in the x–y plane, its lower edge at y = 0, facing +z.
 */
const cloth = ({ size: [width, height], divisions, folds, depth }: MeshRecipe): Mesh => {
  const bend = (u: number, v: number): number => {
    const loose = 0.65 + 0.35 * (1 - v);
    const sway = 0.12 * Math.sin(v * 3.1 + u * 5);
    return (
      depth *
      loose *
      (Math.sin(2 * Math.PI * (folds * u + sway)) + 0.35 * Math.sin(2 * Math.PI * (folds * 2.3 * u - sway)))
    );
  };
  const e = 1e-3;
  return grid(divisions, (u, v) => {
    const dx = (bend(u + e, v) - bend(u - e, v)) / (2 * e * width);
    const dy = (bend(u, v + e) - bend(u, v - e)) / (2 * e * height);
    return { at: [(u - 0.5) * width, v * height, bend(u, v)], normal: unit([-dx, -dy, 1]) };
  });
};

const MAKERS: Readonly<Record<MeshKind, (recipe: MeshRecipe) => Mesh>> = {
  cloth,
  plane: ({ size: [width, height], divisions }) =>
    grid(divisions, (u, v) => ({ at: [(u - 0.5) * width, v * height, 0], normal: [0, 0, 1] })),
  floor: ({ size: [width, length], divisions }) =>
    grid(divisions, (u, v) => ({ at: [(u - 0.5) * width, 0, (0.5 - v) * length], normal: [0, 1, 0] })),
};

/** Makes a prop's mesh from its recipe; the same recipe always gives the same mesh. */
export const makeMesh = (recipe: MeshRecipe): Mesh => MAKERS[recipe.kind](recipe);
