import type { MotifDocument } from './kinds/motif.ts';
import { emptyShader, type ShaderDocument, type Strand } from './shader.ts';

export type { MotifDocument, MotifInput, MotifOutput } from './kinds/motif.ts';
export type { SharedDocument } from './kinds/shared.ts';

export const emptyMotif = (): MotifDocument => ({
  format: 'wicked-veil/motif',
  version: 1,
  description: '',
  parameters: [],
  strands: [],
  outputs: [],
});

/** A motif as the compiler needs it: where it is kept, and what it is called. */
export interface NamedMotif {
  readonly id: string;
  readonly name: string;
  readonly body: MotifDocument;
}

/** The motifs of a project, by part id. */
export type Library = ReadonlyMap<string, NamedMotif>;

export const NO_MOTIFS: Library = new Map();

/** Every motif that a list of strands uses itself. */
export const motifsIn = (strands: readonly Strand[]): Set<string> =>
  new Set(
    strands.flatMap((strand) =>
      strand.steps.flatMap((step) => (step.operator === 'motif' && step.motif ? [step.motif] : [])),
    ),
  );

/** True where using `motif` would sooner or later use `target`. */
export const reaches = (
  library: Library,
  motif: string,
  target: string,
  seen = new Set<string>(),
): boolean => {
  if (motif === target) return true;
  if (seen.has(motif)) return false;
  seen.add(motif);
  const found = library.get(motif);
  return !!found && [...motifsIn(found.body.strands)].some((each) => reaches(library, each, target, seen));
};

/** A motif laid out as a shader, to be looked at and worked on by itself: its first output is the surface's light. */
export const motifAsShader = (motif: MotifDocument): ShaderDocument => {
  const empty = emptyShader();
  const [first] = motif.outputs;
  return {
    ...empty,
    parameters: motif.parameters,
    strands: motif.strands,
    surface: {
      ...empty.surface,
      lit: false,
      sides: 'both',
      outputs: first ? { baseColor: first.expression } : {},
    },
  };
};
