/** A place as documents write it: metres, degrees about x, then y, then z, and sizes along its own axes. */
export interface Placing {
  readonly position: readonly [number, number, number];
  readonly rotation: readonly [number, number, number];
  readonly scale?: readonly [number, number, number] | undefined;
}
/** One whose sizes are told. */
export type Placed = Placing & { readonly scale: readonly [number, number, number] };
/** An affine map, column after column: three columns that turn and stretch, and one that moves. */
export type Affine = readonly number[];

const RADIANS = Math.PI / 180;

/** The map of a place: scaled, then turned by Rx · Ry · Rz, then moved. Twelve numbers. */
export const affineOf = ({ position, rotation, scale = [1, 1, 1] }: Placing): Affine => {
  const [a, b] = [Math.cos(rotation[0] * RADIANS), Math.sin(rotation[0] * RADIANS)];
  const [c, d] = [Math.cos(rotation[1] * RADIANS), Math.sin(rotation[1] * RADIANS)];
  const [e, f] = [Math.cos(rotation[2] * RADIANS), Math.sin(rotation[2] * RADIANS)];
  const columns = [
    [c * e, a * f + b * e * d, b * f - a * e * d],
    [-c * f, a * e - b * f * d, b * e + a * f * d],
    [d, -b * c, a * c],
  ] as const;
  return [...columns.flatMap((column, i) => column.map((x) => x * scale[i]!)), ...position];
};

/** `outer` after `inner`. */
export const after = (outer: Affine, inner: Affine): Affine =>
  [0, 3, 6, 9].flatMap((at) =>
    [0, 1, 2].map(
      (row) =>
        outer[row]! * inner[at]! +
        outer[3 + row]! * inner[at + 1]! +
        outer[6 + row]! * inner[at + 2]! +
        (at === 9 ? outer[9 + row]! : 0),
    ),
  );

type Point = Placing['position'];
/** A way, as a map turns and stretches it. */
export const wayBy = (m: Affine, [x, y, z]: Point): Point => {
  const row = (r: number): number => m[r]! * x + m[3 + r]! * y + m[6 + r]! * z;
  return [row(0), row(1), row(2)];
};
/** A point, where a map takes it. */
export const pointBy = (m: Affine, point: Point): Point => {
  const [x, y, z] = wayBy(m, point);
  return [x + m[9]!, y + m[10]!, z + m[11]!];
};

/** What undoes a map; null where it flattens. */
export const inverse = (m: Affine): Affine | null => {
  const column = (at: number) => [m[at]!, m[at + 1]!, m[at + 2]!] as const;
  const cross = (p: readonly number[], q: readonly number[]) => [
    p[1]! * q[2]! - p[2]! * q[1]!,
    p[2]! * q[0]! - p[0]! * q[2]!,
    p[0]! * q[1]! - p[1]! * q[0]!,
  ];
  const [x, y, z] = [column(0), column(3), column(6)];
  // The rows of the inverse are the cofactors over the determinant (Cramer's rule).
  const rows = [cross(y, z), cross(z, x), cross(x, y)];
  const size = x[0] * rows[0]![0]! + x[1] * rows[0]![1]! + x[2] * rows[0]![2]!;
  if (!Number.isFinite(1 / size)) return null;
  const turned = [0, 1, 2].flatMap((c) => rows.map((row) => row[c]! / size));
  const moved = [0, 1, 2].map(
    (r) => -(turned[r]! * m[9]! + turned[3 + r]! * m[10]! + turned[6 + r]! * m[11]!),
  );
  return [...turned, ...moved];
};

/** A ten-thousandth of a millimetre is nothing, and reads as a number. */
const rounded = (x: number): number => Math.round(x * 1e6) / 1e6 + 0;

/** The place of a map. What is sheared, as by uneven scales on different axes, has none that fits; the nearest is given. */
export const placingOf = (m: Affine): Placed => {
  const size = [0, 3, 6].map((at) => Math.hypot(m[at]!, m[at + 1]!, m[at + 2]!) || 1);
  const r = (row: number, column: number): number => m[column * 3 + row]! / size[column]!;
  const y = Math.asin(Math.max(-1, Math.min(1, r(0, 2))));
  // Looking straight along x, turns about x and z are one; x has it all.
  const [x, z] =
    Math.abs(r(0, 2)) < 0.9999999
      ? [Math.atan2(-r(1, 2), r(2, 2)), Math.atan2(-r(0, 1), r(0, 0))]
      : [Math.atan2(r(2, 1), r(1, 1)), 0];
  const three = (numbers: readonly number[]) => numbers.map(rounded) as [number, number, number];
  return {
    position: three(m.slice(9)),
    rotation: three([x / RADIANS, y / RADIANS, z / RADIANS]),
    scale: three(size),
  };
};
