import type { Affine } from '../numbers/placement.ts';

type Three = readonly [number, number, number];
type Four = readonly [number, number, number, number];

/** A node of a moved model, as glTF tells one. */
export interface RigNode {
  readonly name: string;
  /** Before it in the list; −1 of one that stands on nothing. */
  readonly parent: number;
  /** How it stands where nothing moves it: metres, a unit quaternion x y z w, sizes. */
  readonly translation: Three;
  readonly rotation: Four;
  readonly scale: Three;
}

export const PATHS = ['translation', 'rotation', 'scale', 'weights'] as const;
export type RigPath = (typeof PATHS)[number];
export const MODES = ['LINEAR', 'STEP', 'CUBICSPLINE'] as const;

/** What of a node a clip moves: times in seconds, rising, and values one after another as glTF lays them. */
export interface Channel {
  /** −1 of the mesh’s own weights. */
  readonly node: number;
  readonly path: RigPath;
  readonly mode: (typeof MODES)[number];
  readonly times: Float32Array;
  readonly values: Float32Array;
}

export interface Clip {
  readonly name: string;
  /** Seconds. */
  readonly length: number;
  readonly channels: readonly Channel[];
}

/** What moves a model: its nodes, the weights of its targets at rest, and its clips. */
export interface Rig {
  readonly nodes: readonly RigNode[];
  readonly weights: readonly number[];
  readonly clips: readonly Clip[];
}

/** How clips stand, by their places in the rig: seconds into each, and how much of it counts, from 0 to 1. */
export type ClipsNow = Readonly<Record<string, readonly [seconds: number, weight: number]>>;

/** How a rig stands: each node in the model’s space, and the weights of its targets. */
export interface Pose {
  readonly nodes: readonly Affine[];
  readonly weights: readonly number[];
}

/** Rigs are what their bytes are: what has arrived once is known from then on. */
const arrived = new Map<string, Rig>();
export const arriveRig = (blob: string, rig: Rig): void => void arrived.set(blob, rig);
export const rigOf = (blob: string): Rig | null => arrived.get(blob) ?? null;
