import { MODES, PATHS, type Channel, type Clip, type Rig, type RigNode } from '../rigs/rig.ts';
import type { Skin } from '../rigs/deform.ts';
import type { Affine } from '../numbers/placement.ts';

/** Numbers of a glTF: how they are told, and the numbers. */
export interface Accessor {
  readonly type: 'SCALAR' | 'VEC2' | 'VEC3' | 'VEC4' | 'MAT4';
  readonly data: Float32Array | Uint32Array | Uint16Array;
  readonly min?: readonly number[];
  readonly max?: readonly number[];
}
/** What a rig adds to the header of a glTF of one mesh. */
export interface RigHeader {
  readonly attributes: Readonly<Record<string, number>>;
  readonly targets: readonly Readonly<Record<string, number>>[];
  readonly nodes: readonly object[];
  readonly roots: readonly number[];
  readonly skins: readonly object[];
  readonly animations: readonly object[];
}

/** A map as the 16 numbers of a glTF matrix, and back. */
const sixteen = (m: Affine): number[] =>
  [0, 3, 6, 9].flatMap((at) => [...m.slice(at, at + 3), at === 9 ? 1 : 0]);
const twelve = (m: Float32Array): Affine => [0, 4, 8, 12].flatMap((at) => [m[at]!, m[at + 1]!, m[at + 2]!]);

const boundsOf = (data: Float32Array, size: number) => {
  const of = (how: (a: number, b: number) => number, start: number) =>
    Array.from({ length: size }, (_, c) => {
      let found = start;
      for (let i = c; i < data.length; i += size) found = how(found, data[i]!);
      return found;
    });
  return { min: of(Math.min, Infinity), max: of(Math.max, -Infinity) };
};

/** Tells a skin as glTF does: its nodes, one skin, its targets, its clips. @param add takes numbers, and says which they are */
export const rigHeader = (
  { rig, bones, joints, weights, targets }: Skin,
  add: (accessor: Accessor) => number,
): RigHeader => {
  const meshNode = rig.nodes.length;
  const nodes = rig.nodes.map(({ name, translation, rotation, scale }, i) => {
    const children = rig.nodes.flatMap(({ parent }, k) => (parent === i ? [k] : []));
    return { name, translation, rotation, scale, ...(children.length ? { children } : {}) };
  });
  const attributes = {
    JOINTS_0: add({ type: 'VEC4', data: joints }),
    WEIGHTS_0: add({ type: 'VEC4', data: weights }),
  };
  return {
    attributes,
    targets: targets.map(({ positions, normals }) => ({
      POSITION: add({ type: 'VEC3', data: positions, ...boundsOf(positions, 3) }),
      ...(normals ? { NORMAL: add({ type: 'VEC3', data: normals }) } : {}),
    })),
    nodes: [...nodes, { mesh: 0, skin: 0, ...(rig.weights.length ? { weights: rig.weights } : {}) }],
    roots: [...rig.nodes.flatMap(({ parent }, i) => (parent < 0 ? [i] : [])), meshNode],
    skins: [
      {
        joints: bones.map(({ node }) => node),
        inverseBindMatrices: add({
          type: 'MAT4',
          data: Float32Array.from(bones.flatMap(({ inverse }) => sixteen(inverse))),
        }),
      },
    ],
    animations: rig.clips.map(({ name, channels }) => ({
      name,
      samplers: channels.map(({ times, values, mode, path }) => ({
        input: add({ type: 'SCALAR', data: times, ...boundsOf(times, 1) }),
        output: add({
          type: path === 'weights' ? 'SCALAR' : path === 'rotation' ? 'VEC4' : 'VEC3',
          data: values,
        }),
        interpolation: mode,
      })),
      channels: channels.map(({ node, path }, sampler) => ({
        sampler,
        target: { node: node < 0 ? meshNode : node, path },
      })),
    })),
  };
};

interface Told {
  readonly nodes?: readonly {
    readonly name?: string;
    readonly children?: readonly number[];
    readonly translation?: readonly number[];
    readonly rotation?: readonly number[];
    readonly scale?: readonly number[];
    readonly weights?: readonly number[];
    readonly mesh?: number;
  }[];
  readonly skins?: readonly { readonly joints?: readonly number[]; readonly inverseBindMatrices?: number }[];
  readonly animations?: readonly {
    readonly name?: string;
    readonly samplers?: readonly {
      readonly input?: number;
      readonly output?: number;
      readonly interpolation?: string;
    }[];
    readonly channels?: readonly {
      readonly sampler?: number;
      readonly target?: { readonly node?: number; readonly path?: string };
    }[];
  }[];
}
/** Reads floats by their place among the accessors. @throws Error */
type Floats = (accessor: number | undefined, type: Accessor['type'], what: string) => Float32Array;

const wrong = (what: string): Error => new Error(`The mesh’s ${what} as they are kept here.`);
const isListOf = (given: unknown, size: number): boolean =>
  Array.isArray(given) &&
  given.length === size &&
  given.every((x) => typeof x === 'number' && Number.isFinite(x));

const nodesIn = (told: Told, count: number): readonly RigNode[] => {
  const parents = new Array<number>(count).fill(-1);
  told.nodes!.slice(0, count).forEach(({ children = [] }, i) => {
    for (const child of children) {
      // A node comes after what it stands on, so that none stands on itself.
      if (!(child > i && child < count)) throw wrong('nodes do not stand on one another');
      parents[child] = i;
    }
  });
  return told.nodes!.slice(0, count).map((node, i): RigNode => {
    const { name = '', translation = [0, 0, 0], rotation = [0, 0, 0, 1], scale = [1, 1, 1] } = node;
    if (!isListOf(translation, 3) || !isListOf(rotation, 4) || !isListOf(scale, 3))
      throw wrong('nodes are not placed');
    return { name, parent: parents[i]!, translation, rotation, scale } as unknown as RigNode;
  });
};

const SIZES = { translation: 3, rotation: 4, scale: 3 } as const;

const clipsIn = (told: Told, count: number, morphs: number, floats: Floats): readonly Clip[] =>
  (told.animations ?? []).map(({ name = '', samplers = [], channels = [] }): Clip => {
    const read = channels.map(({ sampler, target }): Channel => {
      const from = samplers[sampler ?? -1];
      const path = PATHS.find((each) => each === target?.path);
      const mode = MODES.find((each) => each === (from?.interpolation ?? 'LINEAR'));
      const node = target?.node === count ? -1 : (target?.node ?? -2);
      if (!from || !path || !mode || node < -1 || node >= count || node < 0 !== (path === 'weights'))
        throw wrong('clips do not tell what they move');
      const times = floats(from.input, 'SCALAR', 'times');
      const type = path === 'weights' ? 'SCALAR' : path === 'rotation' ? 'VEC4' : 'VEC3';
      const values = floats(from.output, type, 'values');
      const size = (path === 'weights' ? morphs : SIZES[path]) * (mode === 'CUBICSPLINE' ? 3 : 1);
      if (
        !times.length ||
        values.length !== times.length * size ||
        times.some((t, i) => i > 0 && t <= times[i - 1]!)
      )
        throw wrong('clips have not the keys they tell of');
      return { node, path, mode, times, values };
    });
    const length = Math.max(0, ...read.map(({ times }) => times.at(-1)!));
    return { name, length, channels: read };
  });

/** Reads what `rigHeader` told; null of a mesh that nothing moves. @throws Error that says what of it is not so */
export const readRig = (
  header: object,
  primitive: {
    readonly attributes?: Readonly<Record<string, number>>;
    readonly targets?: readonly Readonly<Record<string, number>>[];
  },
  base: Skin['base'],
  floats: Floats,
  shorts: (accessor: number | undefined, what: string) => Uint16Array,
): Skin | null => {
  const told = header as Told;
  const skin = told.skins?.[0];
  if (!skin) return null;
  const count = (told.nodes?.length ?? 0) - 1;
  if (count < 1) throw wrong('nodes are not there');
  const corners = base.positions.length / 3;
  const matrices = floats(skin.inverseBindMatrices, 'MAT4', 'bones');
  const bones = (skin.joints ?? []).map((node, i) => ({
    node,
    inverse: twelve(matrices.subarray(i * 16, i * 16 + 16)),
  }));
  if (
    !bones.length ||
    matrices.length !== bones.length * 16 ||
    bones.some(({ node }) => !(node >= 0 && node < count))
  )
    throw wrong('bones are not');
  const joints = shorts(primitive.attributes?.['JOINTS_0'], 'joints');
  const weights = floats(primitive.attributes?.['WEIGHTS_0'], 'VEC4', 'weights');
  if (
    joints.length !== corners * 4 ||
    weights.length !== corners * 4 ||
    joints.some((x) => x >= bones.length)
  )
    throw wrong('corners are not carried');
  const targets = (primitive.targets ?? []).map(({ POSITION, NORMAL }) => {
    const positions = floats(POSITION, 'VEC3', 'targets');
    const normals = NORMAL === undefined ? null : floats(NORMAL, 'VEC3', 'targets');
    if (positions.length !== corners * 3 || (normals && normals.length !== corners * 3))
      throw wrong('targets are of another number of corners');
    return { positions, normals };
  });
  const resting = told.nodes![count]!.weights ?? [];
  if (!isListOf(resting, targets.length)) throw wrong('targets have not as many weights');
  const rig: Rig = {
    nodes: nodesIn(told, count),
    weights: resting,
    clips: clipsIn(told, count, targets.length, floats),
  };
  return { rig, base, bones, joints, weights, targets };
};
