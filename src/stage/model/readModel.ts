import {
  WebIO,
  type Material,
  type Node,
  type Primitive,
  type Texture as Picture,
} from '@gltf-transform/core';
import { Matrix3, Matrix4, Vector3 } from 'three';
import { MOST_CORNERS, tooMany } from '#core/meshes/glb.ts';
import type { Mesh } from '#core/meshes/mesh.ts';
import { meshOf, type Corners } from './meshOf.ts';
import { MOST_PIECES, type Model, type Piece } from './model.ts';
import { readObj } from './readObj.ts';
import { joinedCarried, readMoving } from './readMoving.ts';

/** More nodes than this are refused. */
const MOST_NODES = 20_000;
const otherWayRound = (indices: Uint32Array): Uint32Array =>
  indices.map((_, i, all) => all[i % 3 === 0 ? i : i % 3 === 1 ? i + 1 : i - 1]!);

/** Turns, moves and mirrors corners as a node places them. */
const placed = (given: Corners, matrix: Matrix4): Corners => {
  const [point, turn] = [new Vector3(), new Matrix3().getNormalMatrix(matrix)];
  const mirrored = matrix.determinant() < 0;
  const each = (numbers: Float32Array, size: number, how: (v: Vector3) => Vector3): Float32Array => {
    const made = numbers.slice();
    for (let i = 0; i < made.length; i += size) how(point.fromArray(made, i)).toArray(made, i);
    return made;
  };
  const tangents = given.tangents && each(given.tangents, 4, (v) => v.transformDirection(matrix));
  if (tangents && mirrored) for (let i = 3; i < tangents.length; i += 4) tangents[i]! *= -1;
  return {
    positions: each(given.positions, 3, (v) => v.applyMatrix4(matrix)),
    normals: given.normals && each(given.normals, 3, (v) => v.applyMatrix3(turn).normalize()),
    uvs: given.uvs,
    tangents,
    indices: mirrored ? otherWayRound(given.indices) : given.indices,
  };
};

/** Several as one; what only some have is made up for the others, so it is left out unless all have it. */
const joined = (all: readonly Corners[]): Corners => {
  const floats = (of: (each: Corners) => Float32Array | null): Float32Array | null => {
    const lists = all.map(of);
    if (lists.some((each) => !each)) return null;
    const made = new Float32Array(lists.reduce((sum, each) => sum + each!.length, 0));
    lists.reduce((at, each) => (made.set(each!, at), at + each!.length), 0);
    return made;
  };
  const indices = new Uint32Array(all.reduce((sum, each) => sum + each.indices.length, 0));
  let [at, first] = [0, 0];
  for (const each of all) {
    indices.set(
      each.indices.map((i) => i + first),
      at,
    );
    at += each.indices.length;
    first += each.positions.length / 3;
  }
  return {
    positions: floats((each) => each.positions)!,
    carried: joinedCarried(all.flatMap(({ carried }) => carried ?? [])),
    normals: floats((each) => each.normals),
    uvs: floats((each) => each.uvs),
    tangents: floats((each) => each.tangents),
    indices,
  };
};

const TRIANGLES = 4;
const floatsOf = (primitive: Primitive, name: string, size: number): Float32Array | null => {
  const accessor = primitive.getAttribute(name);
  if (!accessor) return null;
  const made = new Float32Array(accessor.getCount() * size);
  const element: number[] = [];
  for (let i = 0; i < accessor.getCount(); i += 1)
    made.set(accessor.getElement(i, element).slice(0, size), i * size);
  return made;
};
const cornersOf = (primitive: Primitive, name: string): Corners => {
  const positions = floatsOf(primitive, 'POSITION', 3);
  if (!positions?.length) throw new Error(`${name} has no corners.`);
  const count = positions.length / 3;
  if (count > MOST_CORNERS) throw new Error(`${name}: ${tooMany(count)}`);
  const given = primitive.getIndices()?.getArray();
  const uvs = floatsOf(primitive, 'TEXCOORD_0', 2);
  return {
    positions,
    normals: floatsOf(primitive, 'NORMAL', 3),
    // glTF's v runs downwards.
    uvs: uvs && uvs.map((x, i) => (i % 2 ? 1 - x : x)),
    tangents: floatsOf(primitive, 'TANGENT', 4),
    indices: given ? Uint32Array.from(given) : Uint32Array.from({ length: count }, (_, i) => i),
  };
};

/** What of a material is not taken, in words. */
const leftOut = (material: Material | null): string[] => {
  if (!material) return [];
  const told: readonly (readonly [string, unknown])[] = [
    ['its transparency', material.getAlphaMode() !== 'OPAQUE'],
    ['its normal picture', material.getNormalTexture()],
    ['its metal and roughness picture', material.getMetallicRoughnessTexture()],
    ['its occlusion picture', material.getOcclusionTexture()],
    ['its emission', material.getEmissiveTexture() ?? material.getEmissiveFactor().some((x) => x > 0)],
    ['its second uv', (material.getBaseColorTextureInfo()?.getTexCoord() ?? 0) > 0],
  ];
  return told.flatMap(([words, is]) => (is ? [words] : []));
};

/** Said in the words of whoever brings the file, not of the reader. */
const plainly = (error: unknown): string => {
  const { message } = error as Error;
  const extension = /extension[^"A-Z]*"?([A-Z]{2,}_\w+)/.exec(message)?.[1];
  if (extension) return `it needs the extension ${extension}, which is not read here`;
  if (/Missing resource URI|buffer.*not found|Resource/i.test(message))
    return `${message.replace(/\.$/, '')}: choose the files it names together with it`;
  if (/JSON|token/i.test(message)) return 'its header is not JSON, or it is cut short';
  if (/length|bounds|offset|range/i.test(message)) return 'it is cut short, or points outside its buffers';
  return message.replace(/\.$/, '');
};

const readGltf = async (
  files: ReadonlyMap<string, Uint8Array<ArrayBuffer>>,
  main: string,
  progress: (share: number) => void,
): Promise<Model> => {
  const io = new WebIO();
  const bytes = files.get(main)!;
  let document;
  try {
    if (main.toLowerCase().endsWith('.glb')) document = await io.readBinary(bytes);
    else {
      const json = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes)) as Parameters<
        WebIO['readJSON']
      >[0]['json'];
      const named = [...(json.buffers ?? []), ...(json.images ?? [])].flatMap(({ uri }) => uri ?? []);
      const resources = Object.fromEntries(
        named.flatMap((uri) => {
          const inline = /^data:[^,]*?(;base64)?,(.*)$/s.exec(uri);
          if (inline)
            return [
              [
                uri,
                inline[1]
                  ? Uint8Array.from(atob(inline[2]!), (letter) => letter.charCodeAt(0))
                  : new TextEncoder().encode(decodeURIComponent(inline[2]!)),
              ],
            ];
          const found = files.get(decodeURIComponent(uri).split('/').at(-1)!);
          if (!found) throw new Error(`Resource ${uri} was not chosen`);
          return [[uri, found]];
        }),
      );
      document = await io.readJSON({ json, resources });
    }
  } catch (error) {
    throw new Error(`${main} cannot be read: ${plainly(error)}.`, { cause: error });
  }
  progress(0.4);
  const root = document.getRoot();
  if (root.listNodes().length > MOST_NODES)
    throw new Error(
      `${main} has ${root.listNodes().length.toLocaleString('en')} nodes; at most ${MOST_NODES.toLocaleString('en')} are read.`,
    );
  const notes: string[] = [];
  const moving = readMoving(root, notes);
  const groups = new Map<
    string,
    { name: string; material: Material | null; morphed: Node | null; isMoved: boolean; corners: Corners[] }
  >();
  const materials = root.listMaterials();
  const visit = (node: Node): void => {
    const mesh = node.getMesh();
    const world = new Matrix4().fromArray(node.getWorldMatrix());
    for (const primitive of mesh?.listPrimitives() ?? []) {
      const name = node.getName() || mesh!.getName() || 'A mesh';
      if (primitive.getMode() !== TRIANGLES) {
        notes.push(`${name}: lines, points and strips are left out.`);
        continue;
      }
      const material = primitive.getMaterial();
      const corners = cornersOf(primitive, name);
      const isMoved = moving.moves(node);
      const isCarried = isMoved || node.getSkin() !== null || primitive.listTargets().length > 0;
      const morphed = isCarried && primitive.listTargets().length ? node : null;
      // What is moved is a piece of its own; so is what has targets, since its weights are its node’s.
      const key = [
        ...[material ? materials.indexOf(material) : -1, isMoved, isCarried],
        morphed && root.listNodes().indexOf(morphed),
      ].join();
      const group = groups.get(key) ?? {
        ...{ name: material?.getName() || name, material, morphed, isMoved, corners: [] },
      };
      groups.set(key, group);
      const carried = isCarried ? moving.carry(node, primitive, corners.positions.length / 3) : null;
      const isMirrored = !node.getSkin() && world.determinant() < 0;
      group.corners.push(
        !carried
          ? placed(corners, world)
          : { ...corners, carried, indices: isMirrored ? otherWayRound(corners.indices) : corners.indices },
      );
    }
    node.listChildren().forEach(visit);
  };
  try {
    const scene = root.getDefaultScene() ?? root.listScenes()[0];
    if (scene) scene.listChildren().forEach(visit);
    else
      root
        .listNodes()
        .filter((node) => !node.getParentNode())
        .forEach(visit);
  } catch (error) {
    throw new Error(`${main} cannot be read: ${plainly(error)}.`, { cause: error });
  }
  if (groups.size > MOST_PIECES)
    throw new Error(`${main} has ${groups.size} materials; at most ${MOST_PIECES} are taken.`);
  let done = 0;
  const pieces = [...groups.values()].map(({ name, material, morphed, isMoved, corners }): Piece => {
    const left = leftOut(material);
    if (left.length) notes.push(`${name}: ${left.join(', ')} left out.`);
    const made = meshOf(joined(corners), name, notes);
    let mesh: Mesh;
    try {
      mesh = moving.moved(made, morphed, isMoved);
    } catch (error) {
      throw new Error(`${main} cannot be read: ${(error as Error).message}.`, { cause: error });
    }
    progress(0.4 + (0.6 * (done += 1)) / groups.size);
    const picture: Picture | null = material?.getBaseColorTexture() ?? null;
    const [r, g, b] = material?.getBaseColorFactor() ?? [0.8, 0.8, 0.8];
    return {
      ...{ name, mesh, color: [r, g, b] },
      metallic: material?.getMetallicFactor() ?? 0,
      roughness: material?.getRoughnessFactor() ?? 0.8,
      picture: picture?.getImage() ?? null,
    };
  });
  return { pieces, notes };
};

/** What can be read, by the endings of files. */
export const MODEL_ENDINGS = ['.glb', '.gltf', '.obj'] as const;
export const isModel = (file: string): boolean =>
  MODEL_ENDINGS.some((ending) => file.toLowerCase().endsWith(ending));

/**
 * Reads a model from the files that were chosen together: a glTF 2.0 with what it names, or an OBJ.
 * @throws Error that says in a sentence what is wrong with which file
 */
export const readModel = async (
  files: ReadonlyMap<string, Uint8Array<ArrayBuffer>>,
  progress: (share: number) => void = () => undefined,
): Promise<Model> => {
  const main = [...files.keys()].find(isModel);
  if (main === undefined)
    throw new Error(
      `${[...files.keys()].join(', ') || 'Nothing'} is no model; ${MODEL_ENDINGS.join(', ')} are read.`,
    );
  progress(0.05);
  const model = main.toLowerCase().endsWith('.obj')
    ? readObj(files.get(main)!, main, progress)
    : await readGltf(files, main, progress);
  if (!model.pieces.length) throw new Error(`${main} has no triangles to stand on a stage.`);
  return model;
};
