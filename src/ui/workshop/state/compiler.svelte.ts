import { compileMotif, compileShader, type Compilation, type CompiledShader } from '#core/compileShader.ts';
import { reaches, type Library } from '#core/document/motif.ts';
import type { Edit } from '#core/document/patch.ts';
import type { Part, PartOf } from '#core/document/project.ts';
import type { SurfaceSettings } from '#core/document/shader.ts';
import { knobName, knobNumbers, MOTIF_SURFACE, type Diagnostic } from '#core/lower/lowerShader.ts';
import { operatorOf } from '#core/lower/stepOperator.ts';
import { driverMistakes } from './driverMistakes.ts';

/** How a shader or a motif stands: the last version that worked, and what is wrong with the present one. */
export interface ShaderState {
  readonly good: CompiledShader | null;
  readonly settings: SurfaceSettings;
  readonly knobs: ReadonlyMap<string, readonly number[]>;
  readonly diagnostics: readonly Diagnostic[];
  /** What is worth knowing and not wrong. */
  readonly notes: readonly Diagnostic[];
}

/** A part whose strands can be worked on. */
export type ScorePart = PartOf<'shader'> | PartOf<'motif'>;

export const isScore = (part: Part | undefined): part is ScorePart =>
  part?.kind === 'shader' || part?.kind === 'motif';
const settingsOf = (part: ScorePart): SurfaceSettings =>
  part.kind === 'shader' ? part.body.surface : MOTIF_SURFACE;

const compilationOf = (part: ScorePart, library: Library): Compilation =>
  part.kind === 'shader'
    ? compileShader(part.body, part.name, library)
    : compileMotif({ id: part.id, name: part.name, body: part.body }, library);

const compile = (part: ScorePart, library: Library, before?: ShaderState): ShaderState => {
  const { shader, diagnostics, notes } = compilationOf(part, library);
  if (!shader)
    return {
      good: before?.good ?? null,
      settings: before?.settings ?? settingsOf(part),
      knobs: before?.knobs ?? new Map(),
      ...{ diagnostics, notes },
    };
  // The same source needs no new program: keep the one that is linked.
  const same =
    before?.good?.live.fragment === shader.live.fragment &&
    before.good.live.vertex === shader.live.vertex &&
    [...before.good.taps.keys()].join() === [...shader.taps.keys()].join() &&
    [...before.good.knobs.keys()].join() === [...shader.knobs.keys()].join();
  return {
    good: same ? before.good : shader,
    settings: settingsOf(part),
    knobs: shader.knobs,
    ...{ diagnostics, notes },
  };
};

/** What the project's shaders and motifs compile to, kept in step with their documents. */
export const createCompiler = (parts: () => ReadonlyMap<string, Part>, library: () => Library) => {
  let shaders = $state.raw<ReadonlyMap<string, ShaderState>>(
    new Map([...parts().values()].filter(isScore).map((part) => [part.id, compile(part, library())])),
  );

  /** A dragged number that is a knob already only moves the knob, here and wherever the motif is used; anything else compiles. */
  const moveKnob = (part: ScorePart, edit: Edit): boolean => {
    const state = shaders.get(part.id);
    const [patch] = edit.patches;
    if (!state?.good || state.diagnostics.length || edit.patches.length !== 1 || patch?.op === 'remove')
      return false;
    const [root, strand, , step, field, input] = patch!.path;
    if (root !== 'strands' || field !== 'arguments' || typeof patch!.value === 'string') return false;
    const authored = part.body.strands[strand as number]?.steps[step as number];
    const found = authored ? operatorOf(authored, library()) : null;
    if (!authored || !found || found.kind === 'unknown') return false;
    if (found.signature.inputs[input as string]?.type === 'choice') return false;
    const numbers = knobNumbers(found.signature, input as string, patch!.value as number);
    const knob = knobName(authored.id, input as string);
    if (state.knobs.get(knob)?.length !== numbers.length) return false;
    const moved = new Map(shaders);
    for (const [id, each] of shaders) {
      const name = id === part.id ? knob : `${part.id}/${knob}`;
      if (each.knobs.has(name)) moved.set(id, { ...each, knobs: new Map(each.knobs).set(name, numbers) });
    }
    shaders = moved;
    return true;
  };

  /** Compiles a part, and what uses it. */
  const recompile = (part: ScorePart) => {
    const made = new Map(shaders);
    for (const each of parts().values()) {
      if (!isScore(each)) continue;
      const uses =
        each.id === part.id ||
        (part.kind === 'motif' &&
          each.body.strands.some((strand) =>
            strand.steps.some((step) => step.motif !== undefined && reaches(library(), step.motif, part.id)),
          ));
      if (uses) made.set(each.id, compile(each, library(), shaders.get(each.id)));
    }
    shaders = made;
  };

  /** The driver's word on a shader: at the author's lines where it is about their code. @returns what has no place */
  const noteRefusal = (id: string, compiled: CompiledShader, log: string | null): string | null => {
    const state = shaders.get(id);
    const part = parts().get(id);
    if (!state || !isScore(part)) return log;
    const kept = state.diagnostics.filter((each) => each.by !== 'driver');
    const found = log === null ? [] : driverMistakes(compiled, part.body, log);
    if (found.length || kept.length !== state.diagnostics.length)
      shaders = new Map(shaders).set(id, { ...state, diagnostics: [...kept, ...found] });
    return found.length ? null : log;
  };

  return {
    get shaders() {
      return shaders;
    },
    /** Follows a part that was changed: by an edit, or as a whole. */
    follow: (part: Part, edit: Edit | null = null): void => {
      if (isScore(part) && !(edit && moveKnob(part, edit))) recompile(part);
    },
    forget: (id: string): void => {
      const rest = new Map(shaders);
      rest.delete(id);
      shaders = rest;
    },
    noteRefusal,
  };
};
