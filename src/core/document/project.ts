import type { PartBodies, PartKind } from './documentKinds.ts';

export { PART_KINDS, type PartBodies, type PartKind } from './documentKinds.ts';
export type { MaterialDocument, Preset } from './kinds/material.ts';
export type { Cue, CueKey, CueStart, Track } from './cues.ts';
export type { SetDrive } from './drives.ts';
export type { Flourish, FlourishLayer } from './flourishes.ts';
export type { TextureDocument, TextureStep } from './kinds/texture.ts';
export type { TakeDocument } from './kinds/take.ts';
export type { ScriptDocument } from './kinds/script.ts';
export type { Environment, FrameLayer, Light, Pin, Prop, Reference, StageDocument } from './kinds/stage.ts';
export { MOST_PINS, MOST_REFERENCES } from './kinds/stage.ts';

/** What a part may be called by others and in an address. */
export const PART_ID = /^[A-Za-z0-9][A-Za-z0-9_-]{0,63}$/;

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

/** A project’s sets in their own order; those that have no place in it come last, as they are listed. */
export const setsOf = (project: Pick<Project, 'parts'>): PartOf<'stage'>[] =>
  partsOf(project, 'stage').sort((a, b) => (a.body.order ?? Infinity) - (b.body.order ?? Infinity) || 0);

export const partById = (project: Pick<Project, 'parts'>, id: string): Part | undefined =>
  project.parts.find((part) => part.id === id);

/** A part that no server has yet. */
export const newPart = <K extends PartKind>(kind: K, id: string, name: string, body: PartBodies[K]): Part =>
  ({ id, kind, name, body, revision: 0 }) as unknown as Part;
