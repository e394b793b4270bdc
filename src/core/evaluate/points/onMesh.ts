import type { Mesh } from '../../meshes/mesh.ts';
import { tangentsOf } from '../../meshes/tangents.ts';
import {
  cross,
  dot,
  minus,
  plus,
  times,
  triple,
  tripleAt,
  unit,
  type Triple,
} from '../../numbers/vectors.ts';
import type { InputName } from '../../program/inputs.ts';
import type { Value } from '../../program/value.ts';
import { prepare } from '../columns/evaluate.ts';
import { inputsRead } from './inputNumbers.ts';
import { nearestSurface, type Nearby } from './nearest.ts';
import type { Points } from './points.ts';
import type { Placement, Spots } from './spots.ts';

/** From where a mesh is seen, and into how many pixels. */
export interface Lens {
  readonly position: Triple;
  readonly right: Triple;
  readonly up: Triple;
  readonly back: Triple;
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
  /** The other meshes that count for distances to what is near, where they are known. */
  readonly near?: readonly Nearby[];
}

type Inputs = Record<string, Float32Array | readonly number[]>;

const turned = (m: Placement, [x, y, z]: Triple): Triple =>
  triple((r) => m[r]! * x + m[4 + r]! * y + m[8 + r]! * z);
const placed = (m: Placement, at: Triple): Triple => plus(turned(m, at), tripleAt(m, 12));

/** What turns normals where a placement turns and stretches points: its cofactors, column after column. */
export const normalMatrix = (m: Placement): readonly [Triple, Triple, Triple] => {
  const [a, b, c] = [tripleAt(m, 0), tripleAt(m, 4), tripleAt(m, 8)];
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
interface Box {
  readonly low: Triple;
  readonly high: Triple;
}
const boxes = new WeakMap<Mesh, Box>();
const boxOf = (mesh: Mesh): Box => {
  const known = boxes.get(mesh);
  if (known) return known;
  const low: [number, number, number] = [Infinity, Infinity, Infinity];
  const high: [number, number, number] = [-Infinity, -Infinity, -Infinity];
  mesh.positions.forEach((x, i) => {
    low[i % 3] = Math.min(low[i % 3]!, x);
    high[i % 3] = Math.max(high[i % 3]!, x);
  });
  const box = { low, high };
  boxes.set(mesh, box);
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
export const onPicture = (lens: Lens, at: Triple): readonly [number, number, number] => {
  const away = minus(at, lens.position);
  const ahead = -dot(away, lens.back);
  const half = Math.tan((lens.fieldOfView * Math.PI) / 360) * Math.max(ahead, 1e-4);
  return [
    (dot(away, lens.right) / (half * (lens.width / lens.height))) * 0.5 + 0.5,
    (dot(away, lens.up) / half) * 0.5 + 0.5,
    ahead,
  ];
};

/** Columns of points that are told one by one: those that are read, of which nothing else is worked out. */
const columns = (count: number, isRead: (name: InputName) => boolean) => {
  const made: Inputs = {};
  return {
    made,
    put: (name: InputName, i: number, numbersOf: () => readonly number[]): void => {
      if (!isRead(name)) return;
      const numbers = numbersOf();
      const column = (made[name] ??= new Float32Array(count * numbers.length)) as Float32Array;
      for (let c = 0; c < numbers.length; c += 1) column[c * count + i] = numbers[c]!;
    },
  };
};
type Put = ReturnType<typeof columns>['put'];
/** What is worked out when it is first asked for. */
const once = <T>(make: () => T): (() => T) => {
  let made: T | null = null;
  return () => (made ??= make());
};

/** What follows from where a point is and which way its surface looks. */
const putSeen = (
  put: Put,
  i: number,
  { lens, near }: Standing,
  position: () => Triple,
  normal: () => Triple,
): void => {
  const away = once(() => minus(position(), lens.position));
  if (near) put('surfaceDistance', i, () => [nearestSurface(near, position())]);
  put('position', i, position);
  put('normal', i, normal);
  put('viewPosition', i, () => [dot(away(), lens.right), dot(away(), lens.up), dot(away(), lens.back)]);
  put('viewNormal', i, () => [dot(normal(), lens.right), dot(normal(), lens.up), dot(normal(), lens.back)]);
  put('viewDirection', i, () => unit(times(away(), -1)));
  put('screenUv', i, () => onPicture(lens, position()).slice(0, 2));
};

interface Corner {
  readonly mesh: Mesh;
  readonly id: number;
  readonly at: Triple;
  readonly normal: Triple;
  readonly uv: readonly [number, number];
}
const cornerOf = (mesh: Mesh, id: number): Corner => ({
  ...{ mesh, id, at: tripleAt(mesh.positions, id * 3), normal: tripleAt(mesh.normals, id * 3) },
  uv: [mesh.uvs[id * 2]!, mesh.uvs[id * 2 + 1]!],
});
const tangentAt = ({ mesh, id }: Corner): Triple => tripleAt(tangentsFor(mesh).tangents, id * 4);
const sideAt = ({ mesh, id }: Corner): number => tangentsFor(mesh).tangents[id * 4 + 3]!;
/** Along v, on the mesh. */
const sideways = (corner: Corner): Triple => times(cross(corner.normal, tangentAt(corner)), sideAt(corner));

/** How far off a moved surface's neighbours are taken, in metres on the mesh, as in what is emitted. */
const STEP = 0.002;

/** Numbers a program is given besides its points. */
export type Given = Pick<Points, 'parameters' | 'knobs' | 'pictures'>;

/** What is another number at each corner that is stood up: for one that stands at several times, or several values. */
export interface Varied {
  readonly time?: Float32Array;
  readonly columns?: ReadonlyMap<string, Float32Array>;
}

/** The corners of a mesh where they stand: in the world, moved by their offset, with what goes on to the surface between them. */
export interface Corners {
  readonly count: number;
  readonly standing: Standing;
  readonly cornerAt: (k: number) => Corner;
  readonly positionAt: (k: number) => Triple;
  /** Along the surface’s normal there, of any length. */
  readonly normalAt: (k: number) => Triple;
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
  varied: Varied = {},
): Corners => {
  const { mesh, placement: m } = standing;
  const count = ids.length;
  const cornerAt = (k: number): Corner => cornerOf(mesh, ids[k]!);
  const [a, b, c] = normalMatrix(m);
  const straight = ({ normal: [x, y, z] }: Corner): Triple => plus(plus(plus([0, 0, 0], a, x), b, y), c, z);
  if (!offset)
    return {
      ...{ count, standing, cornerAt },
      positionAt: (k) => placed(m, tripleAt(mesh.positions, ids[k]! * 3)),
      normalAt: (k) => straight(cornerAt(k)),
    };
  const corners = Array.from(ids, (id) => cornerOf(mesh, id));
  const run = prepare([offset]);
  const read = new Set(inputsRead([offset]));
  const felt = (way: (corner: Corner) => Triple, beside: (corner: Corner) => readonly [number, number]) => {
    const { made, put } = columns(count, (name) => read.has(name));
    corners.forEach((corner, i) => {
      const at = plus(corner.at, way(corner), STEP);
      putSeen(
        ...([put, i, standing] as const),
        once(() => placed(m, at)),
        once(() => unit(straight(corner))),
      );
      put('objectPosition', i, () => at);
      put('objectNormal', i, () => corner.normal);
      put('tangent', i, () => unit(turned(m, tangentAt(corner))));
      put('bitangent', i, () => unit(turned(m, sideways(corner))));
      put('uv', i, () => {
        const [du, dv] = beside(corner);
        return [corner.uv[0] + du, corner.uv[1] + dv];
      });
      put('uv2', i, () => corner.uv);
    });
    const { time, columns: own } = varied;
    const inputs = { ...sameInputs(standing), ...made, ...(time && { time }) };
    const [moved] = run({ ...given, count, inputs, ...(own && { columns: own }) });
    const { data, stride, uniform } = moved!;
    return corners.map((_, i) => triple((c) => data[c * stride + (uniform ? 0 : i)]!));
  };
  const here = felt(
    () => [0, 0, 0],
    () => [0, 0],
  );
  const { stretches } = tangentsFor(mesh);
  const alongU = felt(tangentAt, ({ id }) => [STEP / stretches[id * 2]!, 0]);
  const alongV = felt(sideways, ({ id }) => [0, STEP / stretches[id * 2 + 1]!]);
  return {
    ...{ count, standing, cornerAt: (k) => corners[k]! },
    positionAt: (k) => plus(placed(m, corners[k]!.at), here[k]!),
    normalAt: (k) => {
      const corner = corners[k]!;
      const u = minus(plus(times(turned(m, tangentAt(corner)), STEP), alongU[k]!), here[k]!);
      const v = minus(plus(times(turned(m, sideways(corner)), STEP), alongV[k]!), here[k]!);
      return times(unit(cross(u, v)), sideAt(corner));
    },
  };
};

/** Weights, at a spot's triangle, of the point seen so many pixels right of it and above; its own where that is missed. */
const weightsBeside = (
  lens: Lens,
  [a, b, c]: readonly [Triple, Triple, Triple],
  weights: Triple,
  [right, above]: readonly [number, number],
): Triple => {
  const at = plus(plus(times(a, weights[0]), b, weights[1]), c, weights[2]);
  const [e1, e2] = [minus(b, a), minus(c, a)];
  const face = cross(e1, e2);
  const size = dot(face, face);
  const [x, y, ahead] = onPicture(lens, at);
  const half = Math.tan((lens.fieldOfView * Math.PI) / 360);
  const px = (2 * (x + right / lens.width) - 1) * half * (lens.width / lens.height);
  const py = (2 * (y + above / lens.height) - 1) * half;
  const way = minus(plus(times(lens.right, px), lens.up, py), lens.back);
  const far = dot(minus(a, lens.position), face) / dot(way, face);
  if (!(ahead > 0 && far > 0 && Number.isFinite(far) && size > 0)) return weights;
  const p = minus(plus(lens.position, way, far), a);
  const [v, w] = [dot(cross(p, e2), face) / size, dot(cross(e1, p), face) / size];
  return [1 - v - w, v, w];
};

const QUAD = [
  [1, 0],
  [0, 1],
  [1, 1],
] as const;
/** A spot, and those seen some pixels beside it: all on its triangle's plane. */
export const spotsBeside = (
  { positionAt, standing }: Corners,
  { corners, weights }: Spots,
  ways: readonly (readonly [number, number])[],
): Spots => {
  const own = triple((k) => weights[k]!);
  const at = triple(positionAt);
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
 * @param roots what is computed there: what that does not read is left out; all of it where none are told
 */
export const inputsAt = (
  corners: Corners,
  spots: Spots,
  quads: boolean,
  roots?: readonly Value[],
): Pick<Points, 'count' | 'inputs' | 'quads'> => {
  const { standing } = corners;
  const { placement: m, lens } = standing;
  const each = quads ? 4 : 1;
  const read = roots && new Set(inputsRead(roots));
  const { made, put } = columns(
    spots.count * each,
    (name) => !read || read.has(name) || (name === 'uv' && read.has('uv2')),
  );
  for (let s = 0; s < spots.count; s += 1) {
    const first = corners.count === 3 ? 0 : s * 3;
    const own = once(() => triple((k) => corners.cornerAt(first + k)));
    const at = once(() => triple((k) => corners.positionAt(first + k)));
    const normals = once(() => triple((k) => corners.normalAt(first + k)));
    const weights = triple((k) => spots.weights[s * 3 + k]!);
    const front = once((): 1 | -1 => {
      const [a, b, c] = at();
      return dot(cross(minus(b, a), minus(c, a)), minus(lens.position, a)) > 0 ? 1 : -1;
    });
    [weights, ...(quads ? QUAD : []).map((way) => weightsBeside(lens, at(), weights, way))].forEach(
      (w, q) => {
        const mixed = (of: (corner: number) => Triple): Triple =>
          plus(plus(times(of(0), w[0]), of(1), w[1]), of(2), w[2]);
        const facing = (of: (corner: number) => Triple): Triple => times(unit(mixed(of)), front());
        const i = s * each + q;
        putSeen(
          ...([put, i, standing] as const),
          once(() => mixed((k) => at()[k]!)),
          once(() => facing((k) => normals()[k]!)),
        );
        put('frontFacing', i, () => [front() > 0 ? 1 : 0]);
        put('uv', i, () => mixed((k) => [...own()[k]!.uv, 0]).slice(0, 2));
        put('objectPosition', i, () => mixed((k) => own()[k]!.at));
        put('objectNormal', i, () => unit(mixed((k) => own()[k]!.normal)));
        put('tangent', i, () => facing((k) => turned(m, tangentAt(own()[k]!))));
        put('bitangent', i, () => facing((k) => turned(m, sideways(own()[k]!))));
      },
    );
  }
  const inputs = { ...sameInputs(standing), ...made, ...(made['uv'] && { uv2: made['uv'] }) };
  return { count: spots.count * each, inputs, quads };
};
