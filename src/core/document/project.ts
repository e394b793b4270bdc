import type { MeshRecipe } from '../meshes/makeMesh.ts';
import type { MotifDocument, SharedDocument } from './motif.ts';
import type { ParameterValue, ShaderDocument } from './shader.ts';

/** Values kept under a name, to be taken up again at one press. */
export interface Preset {
  readonly name: string;
  readonly values: Readonly<Record<string, ParameterValue>>;
}

/** A look: one shader and the values its parameters stand at. Names without a value stand at the default. */
export interface MaterialDocument {
  readonly format: 'wicked-veil/material';
  readonly version: 1;
  /** The shader part's id. */
  readonly shader: string;
  readonly values: Readonly<Record<string, ParameterValue>>;
  /** The picture each texture parameter reads, by its SHA-256. */
  readonly pictures?: Readonly<Record<string, string>>;
  readonly presets?: readonly Preset[];
}

export interface Prop {
  readonly id: string;
  readonly name: string;
  readonly mesh: MeshRecipe;
  /** The material part's id. */
  readonly material: string;
  /** Metres, in the world. */
  readonly position: readonly [number, number, number];
  /** Degrees about x, then y, then z. */
  readonly rotation: readonly [number, number, number];
}

export interface Light {
  readonly kind: 'direction' | 'point';
  /** Where a point light is, or where a directional light comes from. */
  readonly position: readonly [number, number, number];
  /** Linear. */
  readonly color: readonly [number, number, number];
  readonly intensity: number;
}

export interface StageDocument {
  readonly format: 'wicked-veil/stage';
  readonly version: 1;
  readonly props: readonly Prop[];
  readonly lights: readonly Light[];
  /** Linear light from above and from below. */
  readonly ambientUp: readonly [number, number, number];
  readonly ambientDown: readonly [number, number, number];
  readonly camera: {
    readonly position: readonly [number, number, number];
    readonly target: readonly [number, number, number];
    /** Vertical, in degrees. */
    readonly fieldOfView: number;
  };
  readonly bloom: {
    /** Linear luminance from which light spreads. */
    readonly threshold: number;
    readonly intensity: number;
  };
  readonly exposure: number;
}

export interface ScriptDocument {
  readonly format: 'wicked-veil/script';
  readonly version: 1;
  readonly source: string;
}

export interface PartBodies {
  readonly shader: ShaderDocument;
  readonly material: MaterialDocument;
  readonly stage: StageDocument;
  readonly script: ScriptDocument;
  readonly motif: MotifDocument;
  readonly shared: SharedDocument;
}
export type PartKind = keyof PartBodies;
export const PART_KINDS: readonly PartKind[] = ['shader', 'material', 'stage', 'script', 'motif', 'shared'];

/** One saved document of a project, and the revision it is at. */
export type Part = {
  readonly [kind in PartKind]: {
    readonly id: string;
    readonly kind: kind;
    readonly name: string;
    readonly revision: number;
    readonly body: PartBodies[kind];
  };
}[PartKind];

export type PartOf<K extends PartKind> = Extract<Part, { kind: K }>;

export interface Project {
  readonly id: string;
  readonly name: string;
  readonly parts: readonly Part[];
}

export const partsOf = <K extends PartKind>(project: Pick<Project, 'parts'>, kind: K): PartOf<K>[] =>
  project.parts.filter((part): part is PartOf<K> => part.kind === kind);

export const partById = (project: Pick<Project, 'parts'>, id: string): Part | undefined =>
  project.parts.find((part) => part.id === id);

/** A part that no server has yet. */
export const newPart = <K extends PartKind>(kind: K, id: string, name: string, body: PartBodies[K]): Part =>
  ({ id, kind, name, body, revision: 0 }) as unknown as Part;
