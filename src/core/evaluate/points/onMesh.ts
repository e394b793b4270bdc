import type { Mesh } from '../../meshes/mesh.ts';
import { tangentsOf } from '../../meshes/tangents.ts';
import type { InputName } from '../../program/inputs.ts';
import type { Value } from '../../program/value.ts';
import { prepare } from '../columns/evaluate.ts';
import type { Points } from './points.ts';
import type { Placement, Spots } from './spots.ts';

/** From where a mesh is seen, and into how many pixels. */
export interface Lens {
  readonly position: readonly number[];
  readonly right: readonly number[];
  readonly up: readonly number[];
  readonly back: readonly number[];
  /** Upright, in degrees. */
  readonly fieldOfView: number;
  readonly width: number;
  readonly height: number;
}

/** A mesh where it stands, and from where and when it is seen. */
export interface Standing {
  readonly mesh: Mesh;
  readonly placement: Placement;
  readonly lens: Lens;
  readonly time: number;
  readonly timeStep: number;
}

type Triple = [number, number, number];
type Inputs = Record<string, Float32Array | readonly number[]>;

const plus = (a: Triple, b: Triple, s = 1): Triple => [a[0] + b[0] * s, a[1] + b[1] * s, a[2] + b[2] * s];
const dot = (a: ArrayLike<number>, b: ArrayLike<number>): number =>
  a[0]! * b[0]! + a[1]! * b[1]! + a[2]! * b[2]!;
const cross = (a: Triple, b: Triple): Triple => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
const unit = (a: Triple): Triple => {
  const size = Math.hypot(...a) || 1;
  return [a[0] / size, a[1] / size, a[2] / size];
};
const turned = (m: Placement, [x, y, z]: Triple): Triple =>
  [0, 1, 2].map((r) => m[r]! * x + m[4 + r]! * y + m[8 + r]! * z) as Triple;
const placed = (m: Placement, at: Triple): Triple => plus(turned(m, at), [m[12]!, m[13]!, m[14]!]);

/** What turns normals where a placement turns and stretches points: its cofactors, column after column. */
const normalMatrix = (m: Placement): readonly Triple[] => {
  const [a, b, c] = [0, 4, 8].map((at): Triple => [m[at]!, m[at + 1]!, m[at + 2]!]) as [
    Triple,
    Triple,
    Triple,
  ];
  return [cross(b, c), cross(c, a), cross(a, b)];
};

const bent = new WeakMap<Mesh, ReturnType<typeof tangentsOf>>();
const tangentsFor = (mesh: Mesh): ReturnType<typeof tangentsOf> => {
  const known = bent.get(mesh);
  if (known) return known;
  const { tangents, stretches } = tangentsOf(mesh);
  const made = { tangents: mesh.tangents ?? tangents, stretches };
  bent.set(mesh, made);
  return made;
};
const boxes = new WeakMap<Mesh, { readonly low: Triple; readonly high: Triple }>();
const boxOf = (mesh: Mesh): { readonly low: Triple; readonly high: Triple } => {
  let box = boxes.get(mesh);
  if (!box) {
    const [low, high]: [Triple, Triple] = [
      [Infinity, Infinity, Infinity],
      [-Infinity, -Infinity, -Infinity],
    ];
    mesh.positions.forEach((x, i) => {
      low[i % 3] = Math.min(low[i % 3]!, x);
      high[i % 3] = Math.max(high[i % 3]!, x);
    });
    boxes.set(mesh, (box = { low, high }));
  }
  return box;
};

/** What is the same at every point of a prop. */
const sameInputs = ({ mesh, placement: m, lens, time, timeStep }: Standing): Inputs => ({
  ...{ time: [time], timeStep: [timeStep] },
  ...{ cameraPosition: lens.position, cameraRight: lens.right, cameraUp: lens.up, cameraBack: lens.back },
  ...{ objectRight: [m[0]!, m[1]!, m[2]!], objectUp: [m[4]!, m[5]!, m[6]!] },
  ...{ objectForward: [m[8]!, m[9]!, m[10]!], objectOrigin: [m[12]!, m[13]!, m[14]!] },
  ...{ boundsLow: boxOf(mesh).low, boundsHigh: boxOf(mesh).high },
  ...{ instanceAge: [0], instanceOrder: [0], instanceSeed: [0], vertexColor: [1, 1, 1, 1] },
});

/** Where a point of the world is on the picture, (0, 0) at its lower left, and how far ahead. */
export const onPicture = (lens: Lens, at: ArrayLike<number>): readonly [number, number, number] => {
  const away = [0, 1, 2].map((i) => at[i]! - lens.position[i]!);
  const ahead = -dot(away, lens.back);
  const half = Math.tan((lens.fieldOfView * Math.PI) / 360) * Math.max(ahead, 1e-4);
  return [
    (dot(away, lens.right) / (half * (lens.width / lens.height))) * 0.5 + 0.5,
    (dot(away, lens.up) / half) * 0.5 + 0.5,
    ahead,
  ];
};

/** Columns of points that are told one by one. */
const columns = (count: number) => {
  const made: Inputs = {};
  return {
    made,
    put: (name: InputName, i: number, numbers: readonly number[]): void => {
      const column = (made[name] ??= new Float32Array(count * numbers.length)) as Float32Array;
      numbers.forEach((x, c) => (column[c * count + i] = x));
    },
  };
};
type Put = ReturnType<typeof columns>['put'];

/** What follows from where a point is and which way its surface looks. */
const putSeen = (put: Put, i: number, lens: Lens, position: Triple, normal: Triple): void => {
  const away = plus(position, lens.position as Triple, -1);
  put('position', i, position);
  put('normal', i, normal);
  put('viewPosition', i, [dot(away, lens.right), dot(away, lens.up), dot(away, lens.back)]);
  put('viewNormal', i, [dot(normal, lens.right), dot(normal, lens.up), dot(normal, lens.back)]);
  put('viewDirection', i, unit([-away[0], -away[1], -away[2]]));
  put('screenUv', i, onPicture(lens, position).slice(0, 2));
};

interface Corner {
  readonly at: Triple;
  readonly normal: Triple;
  readonly tangent: Triple;
  readonly side: number;
  readonly uv: readonly [number, number];
  readonly stretch: readonly [number, number];
}
const cornerOf = (mesh: Mesh, i: number): Corner => {
  const { tangents, stretches } = tangentsFor(mesh);
  const three = (from: ArrayLike<number>, at: number): Triple => [from[at]!, from[at + 1]!, from[at + 2]!];
  return {
    at: three(mesh.positions, i * 3),
    normal: three(mesh.normals, i * 3),
    tangent: three(tangents, i * 4),
    side: tangents[i * 4 + 3]!,
    uv: [mesh.uvs[i * 2]!, mesh.uvs[i * 2 + 1]!],
    stretch: [stretches[i * 2]!, stretches[i * 2 + 1]!],
  };
};

/** How far off a moved surface's neighbours are taken, in metres on the mesh, as in what is emitted. */
const STEP = 0.002;

/** Numbers a program is given besides its points. */
export type Given = Pick<Points, 'parameters' | 'knobs' | 'pictures'>;

/** The corners of a mesh where they stand: in the world, moved by their offset, with what goes on to the surface between them. */
export interface Corners {
  readonly count: number;
  readonly standing: Standing;
  readonly corners: readonly Corner[];
  readonly positions: readonly Triple[];
  /** Along the surface’s normal there, of any length. */
  readonly normals: readonly Triple[];
}

/**
 * Stands corners of a mesh up as the vertex stage does.
 * @param offset the program's vertex offset, where it has one
 * @throws Error naming what the offset reads that is not known here
 */
export const standCorners = (
  standing: Standing,
  ids: ArrayLike<number>,
  offset: Value | undefined,
  given: Given,
): Corners => {
  const { mesh, placement: m, lens } = standing;
  const corners = Array.from(ids, (i) => cornerOf(mesh, i));
  const count = corners.length;
  const [a, b, c] = normalMatrix(m);
  const straight = corners.map(({ normal: [x, y, z] }) => plus(plus(plus([0, 0, 0], a!, x), b!, y), c!, z));
  const still = corners.map(({ at }) => placed(m, at));
  if (!offset) return { count, standing, corners, positions: still, normals: straight };
  const run = prepare([offset]);
  const felt = (way: (corner: Corner) => Triple, beside: (corner: Corner) => readonly [number, number]) => {
    const { made, put } = columns(count);
    corners.forEach((corner, i) => {
      const at = plus(corner.at, way(corner), STEP);
      const [du, dv] = beside(corner);
      putSeen(put, i, lens, placed(m, at), unit(straight[i]!));
      put('objectPosition', i, at);
      put('objectNormal', i, corner.normal);
      put('tangent', i, unit(turned(m, corner.tangent)));
      put('bitangent', i, sidewaysOf(m, corner));
      put('uv', i, [corner.uv[0] + du, corner.uv[1] + dv]);
      put('uv2', i, corner.uv);
    });
    const [moved] = run({ ...given, count, inputs: { ...sameInputs(standing), ...made } });
    const { data, stride, uniform } = moved!;
    return corners.map((_, i) => [0, 1, 2].map((c) => data[c * stride + (uniform ? 0 : i)]!)) as Triple[];
  };
  const here = felt(
    () => [0, 0, 0],
    () => [0, 0],
  );
  const sideways = ({ normal, tangent, side }: Corner): Triple =>
    plus([0, 0, 0], cross(normal, tangent), side);
  const alongU = felt(
    ({ tangent }) => tangent,
    ({ stretch }) => [STEP / stretch[0], 0],
  );
  const alongV = felt(sideways, ({ stretch }) => [0, STEP / stretch[1]]);
  return {
    ...{ count, standing, corners },
    positions: still.map((at, i) => plus(at, here[i]!)),
    normals: corners.map((corner, i) => {
      const u = plus(
        plus(turned(m, corner.tangent).map((x) => x * STEP) as Triple, alongU[i]!),
        here[i]!,
        -1,
      );
      const v = plus(
        plus(turned(m, sideways(corner)).map((x) => x * STEP) as Triple, alongV[i]!),
        here[i]!,
        -1,
      );
      return plus([0, 0, 0], unit(cross(u, v)), corner.side);
    }),
  };
};

const sidewaysOf = (m: Placement, { normal, tangent, side }: Corner): Triple =>
  plus([0, 0, 0], unit(turned(m, cross(normal, tangent))), side);

/** Weights, at a spot's triangle, of the point seen so many pixels right of it and above; its own where that is missed. */
const weightsBeside = (
  lens: Lens,
  [a, b, c]: readonly [Triple, Triple, Triple],
  weights: Triple,
  [right, above]: readonly [number, number],
): Triple => {
  const at = plus(plus(plus([0, 0, 0], a, weights[0]), b, weights[1]), c, weights[2]);
  const [e1, e2] = [plus(b, a, -1), plus(c, a, -1)];
  const face = cross(e1, e2);
  const size = dot(face, face);
  const [x, y, ahead] = onPicture(lens, at);
  const half = Math.tan((lens.fieldOfView * Math.PI) / 360);
  const px = (2 * (x + right / lens.width) - 1) * half * (lens.width / lens.height);
  const py = (2 * (y + above / lens.height) - 1) * half;
  const way = [0, 1, 2].map((i) => px * lens.right[i]! + py * lens.up[i]! - lens.back[i]!) as Triple;
  const far = dot(plus(a, lens.position as Triple, -1), face) / dot(way, face);
  if (!(ahead > 0 && far > 0 && Number.isFinite(far) && size > 0)) return weights;
  const p = plus(plus(lens.position as Triple, way, far), a, -1);
  const [v, w] = [dot(cross(p, e2), face) / size, dot(cross(e1, p), face) / size];
  return [1 - v - w, v, w];
};

const QUAD = [
  [1, 0],
  [0, 1],
  [1, 1],
] as const;
const triple = <T>(of: (k: number) => T): [T, T, T] => [of(0), of(1), of(2)];

/** A spot, and those seen some pixels beside it: all on its triangle's plane. */
export const spotsBeside = (
  { positions, standing }: Corners,
  { corners, weights }: Spots,
  ways: readonly (readonly [number, number])[],
): Spots => {
  const own = triple((k) => weights[k]!);
  const at = triple((k) => positions[k]!);
  const all = [own, ...ways.map((way) => weightsBeside(standing.lens, at, own, way))];
  return {
    count: all.length,
    corners: Uint32Array.from(all.flatMap(() => [...corners])),
    weights: Float32Array.from(all.flat()),
  };
};

/**
 * What a shader reads at spots between corners, as the fragment stage is handed it.
 * @param corners three for each spot, in the spots' order; or three that all of them lie between
 * @param quads true to have each spot followed by its neighbours on the picture, for slopes
 */
export const inputsAt = (
  corners: Corners,
  spots: Spots,
  quads: boolean,
): Pick<Points, 'count' | 'inputs' | 'quads'> => {
  const { standing } = corners;
  const { placement: m, lens } = standing;
  const each = quads ? 4 : 1;
  const { made, put } = columns(spots.count * each);
  for (let s = 0; s < spots.count; s += 1) {
    const first = corners.count === 3 ? 0 : s * 3;
    const own = triple((k) => corners.corners[first + k]!);
    const at = triple((k) => corners.positions[first + k]!);
    const normals = triple((k) => corners.normals[first + k]!);
    const weights = triple((k) => spots.weights[s * 3 + k]!);
    const face = cross(plus(at[1], at[0], -1), plus(at[2], at[0], -1));
    const front = dot(face, plus(lens.position as Triple, at[0], -1)) > 0;
    const way = front ? 1 : -1;
    [weights, ...(quads ? QUAD : []).map((way) => weightsBeside(lens, at, weights, way))].forEach((w, q) => {
      const mixed = (of: readonly (readonly number[])[]): number[] =>
        of[0]!.map((_, c) => w[0] * of[0]![c]! + w[1] * of[1]![c]! + w[2] * of[2]![c]!);
      const facing = (of: readonly (readonly number[])[]): Triple =>
        unit(mixed(of).map((x) => x * way) as Triple);
      const i = s * each + q;
      putSeen(put, i, lens, mixed(at) as Triple, facing(normals));
      put('frontFacing', i, [front ? 1 : 0]);
      put('uv', i, mixed(own.map(({ uv }) => uv)));
      put('objectPosition', i, mixed(own.map((corner) => corner.at)));
      put('objectNormal', i, unit(mixed(own.map(({ normal }) => normal)) as Triple));
      put('tangent', i, facing(own.map(({ tangent }) => turned(m, tangent))));
      put(
        ...(['bitangent', i] as const),
        facing(
          own.map(({ normal, tangent, side }) => turned(m, cross(normal, tangent)).map((x) => x * side)),
        ),
      );
    });
  }
  const inputs = { ...sameInputs(standing), ...made, uv2: made['uv']! };
  return { count: spots.count * each, inputs, quads };
};
