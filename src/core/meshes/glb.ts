import { deform } from '../rigs/deform.ts';
import { poseOf } from '../rigs/poseOf.ts';
import { readRig, rigHeader, type Accessor } from './glbRig.ts';
import type { Mesh } from './mesh.ts';

/*
 * A mesh as a binary glTF 2.0 of one primitive: floats, and indices of 32 bits; one that clips move with its nodes, skin,
 * targets and animations. Imported meshes are kept so, and any
 * tool of the trade opens what an archive holds.
 */
const MAGIC = 0x46546c67;
const JSON_CHUNK = 0x4e4f534a;
const BIN_CHUNK = 0x004e4942;
const FLOAT = 5126;
const UNSIGNED_INT = 5125;
/** More corners than this are refused; so are more triangles than twice as many. */
export const MOST_CORNERS = 1_000_000;

const UNSIGNED_SHORT = 5123;
const COMPONENTS = new Map<unknown, number>([
  [Float32Array, FLOAT],
  [Uint32Array, UNSIGNED_INT],
  [Uint16Array, UNSIGNED_SHORT],
]);
const NUMBERS = { SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4, MAT4: 16 } as const;

const ATTRIBUTES = [
  ['POSITION', 'positions', 'VEC3', 3],
  ['NORMAL', 'normals', 'VEC3', 3],
  ['TEXCOORD_0', 'uvs', 'VEC2', 2],
  ['TANGENT', 'tangents', 'VEC4', 4],
] as const;

/** glTF's v runs downwards, ours upwards. */
const turnedOver = (uvs: Float32Array): Float32Array => uvs.map((x, i) => (i % 2 ? 1 - x : x));

/** Writes a mesh; the same mesh always gives the same bytes. */
export const writeGlb = (mesh: Mesh): Uint8Array<ArrayBuffer> => {
  const { skin } = mesh;
  const told = skin ? { ...mesh, ...skin.base } : mesh;
  const bounds = [0, 1, 2].map((c) => {
    let [low, high] = [Infinity, -Infinity];
    for (let i = c; i < told.positions.length; i += 3) {
      low = Math.min(low, told.positions[i]!);
      high = Math.max(high, told.positions[i]!);
    }
    return [low, high] as const;
  });
  const accessors: Accessor[] = [];
  const add = (accessor: Accessor): number => accessors.push(accessor) - 1;
  const attributes = Object.fromEntries(
    ATTRIBUTES.flatMap(([name, key, type]) => {
      const data = key === 'uvs' ? turnedOver(told.uvs) : told[key];
      const ends =
        key === 'positions' ? { min: bounds.map(([low]) => low), max: bounds.map(([, high]) => high) } : {};
      return data ? [[name, add({ type, data, ...ends })] as const] : [];
    }),
  );
  const indices = add({ type: 'SCALAR', data: mesh.indices });
  const rig = skin ? rigHeader(skin, add) : null;
  let at = 0;
  const bufferViews = accessors.map(({ data }) => {
    const view = { buffer: 0, byteOffset: at, byteLength: data.byteLength };
    at += data.byteLength;
    return view;
  });
  const json = JSON.stringify({
    asset: { version: '2.0' },
    scene: 0,
    scenes: [{ nodes: rig?.roots ?? [0] }],
    nodes: rig?.nodes ?? [{ mesh: 0 }],
    meshes: [
      {
        primitives: [
          {
            attributes: { ...attributes, ...rig?.attributes },
            indices,
            ...(rig?.targets.length ? { targets: rig.targets } : {}),
          },
        ],
      },
    ],
    ...(rig ? { skins: rig.skins } : {}),
    ...(rig?.animations.length ? { animations: rig.animations } : {}),
    accessors: accessors.map(({ type, data, ...ends }, bufferView) => ({
      ...{ bufferView, componentType: COMPONENTS.get(data.constructor), type, ...ends },
      count: data.length / NUMBERS[type],
    })),
    bufferViews,
    buffers: [{ byteLength: at }],
  });
  // Chunks are padded to four bytes, and a letter outside ASCII is several.
  const letters = new TextEncoder().encode(json);
  const text = new Uint8Array(Math.ceil(letters.length / 4) * 4).fill(0x20);
  text.set(letters);
  const bytes = new Uint8Array(12 + 8 + text.length + 8 + at);
  const head = new DataView(bytes.buffer);
  [MAGIC, 2, bytes.length, text.length, JSON_CHUNK].forEach((word, i) => head.setUint32(i * 4, word, true));
  bytes.set(text, 20);
  head.setUint32(20 + text.length, at, true);
  head.setUint32(24 + text.length, BIN_CHUNK, true);
  let to = 28 + text.length;
  for (const { data } of accessors) {
    bytes.set(new Uint8Array(data.buffer, data.byteOffset, data.byteLength), to);
    to += data.byteLength;
  }
  return bytes;
};

interface Header {
  readonly meshes?: readonly {
    readonly primitives?: readonly {
      readonly attributes?: Readonly<Record<string, number>>;
      readonly indices?: number;
      readonly targets?: readonly Readonly<Record<string, number>>[];
    }[];
  }[];
  readonly accessors?: readonly {
    readonly bufferView?: number;
    readonly componentType?: number;
    readonly count?: number;
    readonly type?: string;
  }[];
  readonly bufferViews?: readonly { readonly byteOffset?: number; readonly byteLength?: number }[];
}

/** Reads back what `writeGlb` wrote. @throws Error that says what of it is not so */
export const readGlb = (bytes: Uint8Array): Mesh => {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const word = (at: number): number => {
    if (at + 4 > bytes.length) throw new Error('The mesh is cut short.');
    return view.getUint32(at, true);
  };
  if (word(0) !== MAGIC || word(4) !== 2) throw new Error('This is not a binary glTF of version 2.');
  const length = word(12);
  if (word(8) !== bytes.length || word(16) !== JSON_CHUNK || 28 + length > bytes.length)
    throw new Error('The mesh is cut short, or longer than it says.');
  const start = 28 + length;
  if (word(24 + length) !== BIN_CHUNK || start + word(20 + length) > bytes.length)
    throw new Error('The mesh has not the numbers it tells of.');
  let header: Header;
  try {
    header = JSON.parse(
      new TextDecoder('utf-8', { fatal: true }).decode(bytes.subarray(20, 20 + length)),
    ) as Header;
  } catch {
    throw new Error('The mesh’s header is not JSON.');
  }
  const primitive = header.meshes?.[0]?.primitives?.[0];
  const numbers = (
    accessor: number | undefined,
    componentType: number,
    type: string,
    what: string,
  ): ArrayBuffer => {
    const found = accessor === undefined ? undefined : header.accessors?.[accessor];
    const part = found?.bufferView === undefined ? undefined : header.bufferViews?.[found.bufferView];
    if (!found || !part || found.componentType !== componentType || found.type !== type)
      throw new Error(`The mesh has no ${what} as they are kept here.`);
    const from = start + (part.byteOffset ?? 0);
    const size = part.byteLength ?? 0;
    if (from + size > bytes.length || from < start)
      throw new Error(`The mesh’s ${what} lie outside its numbers.`);
    return bytes.slice(from, from + size).buffer;
  };
  const floats = (name: string, type: string, size: number, corners: number | null): Float32Array => {
    const made = new Float32Array(numbers(primitive?.attributes?.[name], FLOAT, type, name));
    if (made.length % size || (corners !== null && made.length !== corners * size))
      throw new Error(`The mesh has another number of ${name} than of corners.`);
    if (!made.every(Number.isFinite)) throw new Error(`${name} of the mesh holds what is no number.`);
    return made;
  };
  const positions = floats('POSITION', 'VEC3', 3, null);
  const corners = positions.length / 3;
  if (corners > MOST_CORNERS) throw new Error(tooMany(corners));
  const indices = new Uint32Array(numbers(primitive?.indices, UNSIGNED_INT, 'SCALAR', 'indices'));
  if (!indices.length || indices.length % 3) throw new Error('The mesh’s indices are not triangles.');
  if (indices.length > MOST_CORNERS * 6) throw new Error(tooMany(indices.length / 3));
  if (!indices.every((i) => i < corners))
    throw new Error('A triangle of the mesh has a corner that is not there.');
  const base = {
    positions,
    normals: floats('NORMAL', 'VEC3', 3, corners),
    ...(primitive?.attributes?.['TANGENT'] === undefined
      ? {}
      : { tangents: floats('TANGENT', 'VEC4', 4, corners) }),
  };
  const uvs = turnedOver(floats('TEXCOORD_0', 'VEC2', 2, corners));
  const skin = readRig(
    header,
    primitive ?? {},
    base,
    (accessor, type, what) => {
      const made = new Float32Array(numbers(accessor, FLOAT, type, what));
      if (!made.every(Number.isFinite)) throw new Error(`${what} of the mesh hold what is no number.`);
      return made;
    },
    (accessor, what) => new Uint16Array(numbers(accessor, UNSIGNED_SHORT, 'VEC4', what)),
  );
  return skin ? { ...deform(skin, poseOf(skin.rig)), uvs, indices, skin } : { ...base, uvs, indices };
};

/** Why a mesh of so many corners, or triangles, is not taken. */
export const tooMany = (count: number): string =>
  `The mesh is too fine: ${count.toLocaleString('en')} corners or triangles, and at most ${MOST_CORNERS.toLocaleString('en')} corners are taken. A coarser one shows the same shape.`;
