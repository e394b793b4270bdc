import type { Accessor, Animation, Node, Primitive, Root } from '@gltf-transform/core';
import { MOST_CLIPS, MOST_NODES } from '#core/meshes/imported.ts';
import type { Mesh } from '#core/meshes/mesh.ts';
import type { Affine } from '#core/numbers/placement.ts';
import { deform, type Skin } from '#core/rigs/deform.ts';
import { poseOf } from '#core/rigs/poseOf.ts';
import { MODES, PATHS, type Channel, type Clip, type RigNode } from '#core/rigs/rig.ts';

/** What carries corners: nodes of the model with what brings a corner into their spaces, and targets that move them. */
export interface Carried {
  readonly bones: readonly { readonly node: Node; readonly inverse: Affine }[];
  /** Four to a corner. */
  readonly joints: Uint16Array;
  readonly weights: Float32Array;
  readonly targets: Skin['targets'];
}

const SAME: Affine = [1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0];

const elements = (accessor: Accessor | null, size: number): Float32Array | null => {
  if (!accessor) return null;
  const made = new Float32Array(accessor.getCount() * size);
  const element: number[] = [];
  for (let i = 0; i < accessor.getCount(); i += 1)
    made.set(accessor.getElement(i, element).slice(0, size), i * size);
  return made;
};

/** Several, one after another: each with bones of its own. */
export const joinedCarried = (all: readonly Carried[]): Carried | undefined => {
  if (!all.length) return undefined;
  let first = 0;
  const joints = all.map((each) => {
    const moved = each.joints.map((x) => x + first);
    first += each.bones.length;
    return moved;
  });
  const floats = (of: (each: Carried) => Float32Array): Float32Array =>
    Float32Array.from(all.flatMap((each) => [...of(each)]));
  const counts = Math.max(...all.map(({ targets }) => targets.length));
  return {
    bones: all.flatMap(({ bones }) => bones),
    joints: Uint16Array.from(joints.flatMap((each) => [...each])),
    weights: floats(({ weights }) => weights),
    targets: Array.from({ length: counts }, (_, k) => ({
      positions: floats(
        (each) => each.targets[k]?.positions ?? new Float32Array((each.joints.length / 4) * 3),
      ),
      normals: all.every(({ targets }) => targets[k]?.normals)
        ? floats((each) => each.targets[k]!.normals!)
        : null,
    })),
  };
};

/** A mesh as what carries it: its rig is not known yet. @param from which corner each of its corners was; as they were, where null */
export const skinned = (mesh: Mesh, carried: Carried, from: readonly number[] | null): Mesh => {
  const count = mesh.positions.length / 3;
  const taken = <T extends Float32Array | Uint16Array>(numbers: T, size: number): T => {
    if (!from) return numbers;
    const made = numbers.slice(0, 0).constructor as new (length: number) => T;
    const list = new made(count * size);
    from.forEach((old, to) => list.set(numbers.subarray(old * size, (old + 1) * size), to * size));
    return list;
  };
  const { positions, normals, tangents } = mesh;
  return {
    ...mesh,
    skin: {
      base: { positions, normals, ...(tangents ? { tangents } : {}) },
      joints: taken(carried.joints, 4),
      weights: taken(carried.weights, 4),
      targets: carried.targets.map((target) => ({
        positions: taken(target.positions, 3),
        normals: target.normals && taken(target.normals, 3),
      })),
      // Filled in by who knows the nodes.
      ...{ bones: carried.bones as unknown as Skin['bones'], rig: { nodes: [], weights: [], clips: [] } },
    },
  };
};

/** Reads what moves a glTF: its nodes, its skins, its targets and its animations. */
export const readMoving = (root: Root, notes: string[]) => {
  const nodes = root.listNodes();
  const animations = root.listAnimations().slice(0, MOST_CLIPS);
  if (root.listAnimations().length > MOST_CLIPS)
    notes.push(`Of its ${root.listAnimations().length} animations the first ${MOST_CLIPS} are taken.`);
  const channels = animations.flatMap((each) => each.listChannels());
  const isTurned = new Set(
    channels.flatMap((each) => (each.getTargetPath() === 'weights' ? [] : (each.getTargetNode() ?? []))),
  );
  const isMorphed = new Set(
    channels.flatMap((each) => (each.getTargetPath() === 'weights' ? (each.getTargetNode() ?? []) : [])),
  );
  const upwards = (node: Node): Node[] => {
    const found = [node];
    for (let at = node.getParentNode(); at; at = at.getParentNode()) found.push(at);
    return found;
  };
  const carriers = (node: Node): Node[] => node.getSkin()?.listJoints() ?? [node];

  /** The nodes of a rig, each after what it stands on: all there are, or where these are too many what its bones stand on. */
  const nodesFor = (bones: readonly Node[]): Node[] => {
    const wanted =
      nodes.length <= MOST_NODES ? new Set(nodes) : new Set(bones.flatMap((each) => upwards(each)));
    if (wanted.size > MOST_NODES)
      throw new Error(`it is carried by ${wanted.size} nodes; at most ${MOST_NODES} are taken`);
    const order: Node[] = [];
    const visit = (node: Node): void => {
      if (!wanted.has(node)) return;
      order.push(node);
      node.listChildren().forEach(visit);
    };
    nodes.filter((each) => !each.getParentNode()).forEach(visit);
    return order;
  };
  const clipOf = (
    animation: Animation,
    order: readonly Node[],
    morphed: Node | null,
    number: number,
  ): Clip => {
    const read = animation.listChannels().flatMap((each): Channel[] => {
      const [target, path, sampler] = [each.getTargetNode(), each.getTargetPath(), each.getSampler()];
      const known = PATHS.find((one) => one === path);
      const mode = MODES.find((one) => one === (sampler?.getInterpolation() ?? 'LINEAR'));
      const node = known === 'weights' ? (target === morphed ? -1 : -2) : order.indexOf(target!);
      if (!target || !known || !mode || (known === 'weights' ? node !== -1 : node < 0)) return [];
      const size = known === 'weights' ? 1 : known === 'rotation' ? 4 : 3;
      const times = elements(sampler!.getInput(), 1);
      const values = elements(sampler!.getOutput(), size);
      if (!times?.length || !values || ![...times, ...values].every(Number.isFinite))
        throw new Error(`its animation ${animation.getName() || number} holds what is no number`);
      if (times.some((t, i) => i > 0 && t <= times[i - 1]!))
        throw new Error(`the keys of its animation ${animation.getName() || number} are not in order`);
      return [{ node, path: known, mode, times, values }];
    });
    return {
      name: (animation.getName() || `Clip ${number}`).slice(0, 120),
      length: Math.max(
        0,
        ...animation.listSamplers().flatMap((each) => elements(each.getInput(), 1)?.at(-1) ?? []),
      ),
      channels: read,
    };
  };

  return {
    /** Whether an animation moves what a node shows. */
    moves: (node: Node): boolean =>
      isMorphed.has(node) || carriers(node).some((each) => upwards(each).some((one) => isTurned.has(one))),
    /** What carries the corners of a primitive of a node. */
    carry: (node: Node, primitive: Primitive, count: number): Carried => {
      const skin = node.getSkin();
      const targets = primitive.listTargets().map((target) => ({
        positions: elements(target.getAttribute('POSITION'), 3) ?? new Float32Array(count * 3),
        normals: elements(target.getAttribute('NORMAL'), 3),
      }));
      const joints = new Uint16Array(count * 4);
      const weights = new Float32Array(count * 4);
      const given = [primitive.getAttribute('JOINTS_0'), primitive.getAttribute('WEIGHTS_0')] as const;
      if (!skin || !given[0] || !given[1]) {
        for (let i = 0; i < count; i += 1) weights[i * 4] = 1;
        return { bones: [{ node, inverse: SAME }], joints, weights, targets };
      }
      if (primitive.getAttribute('JOINTS_1'))
        notes.push(`${node.getName() || 'A skin'}: of more than four joints a corner, four are taken.`);
      joints.set(elements(given[0], 4)!);
      weights.set(elements(given[1], 4)!);
      for (let i = 0; i < count; i += 1) {
        const own = weights.subarray(i * 4, i * 4 + 4);
        const sum = own[0]! + own[1]! + own[2]! + own[3]!;
        if (sum > 0) for (let k = 0; k < 4; k += 1) own[k]! /= sum;
        else own[0] = 1;
      }
      const inverses = elements(skin.getInverseBindMatrices(), 16);
      const bones = skin.listJoints().map((joint, i) => ({
        node: joint,
        inverse: inverses
          ? [0, 4, 8, 12].flatMap((at) => [...inverses.subarray(i * 16 + at, i * 16 + at + 3)])
          : SAME,
      }));
      if (joints.some((x) => x >= bones.length))
        throw new Error('a corner is carried by a joint that is not there');
      return { bones, joints, weights, targets };
    },
    /** A mesh with the rig that carries it, or as it stands at rest where no animation moves it. */
    moved: (mesh: Mesh, morphed: Node | null, isMoved: boolean): Mesh => {
      if (!mesh.skin) return mesh;
      const bones = mesh.skin.bones as unknown as Carried['bones'];
      const order = nodesFor(bones.map(({ node }) => node));
      const skin: Skin = {
        ...mesh.skin,
        bones: bones.map(({ node, inverse }) => ({ node: order.indexOf(node), inverse })),
        rig: {
          nodes: order.map((node, i): RigNode => {
            const parent = node.getParentNode();
            return {
              name: (node.getName() || `Node ${i + 1}`).slice(0, 120),
              parent: parent ? order.indexOf(parent) : -1,
              translation: node.getTranslation(),
              rotation: node.getRotation(),
              scale: node.getScale(),
            };
          }),
          weights: mesh.skin.targets.map(
            (_, k) => morphed?.getWeights()[k] ?? morphed?.getMesh()?.getWeights()[k] ?? 0,
          ),
          clips: animations.map((each, i) => clipOf(each, order, morphed, i + 1)),
        },
      };
      const { uvs, indices } = mesh;
      const resting = { ...deform(skin, poseOf(skin.rig)), uvs, indices };
      return isMoved ? { ...resting, skin } : resting;
    },
  };
};
