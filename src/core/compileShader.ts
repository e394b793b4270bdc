import { NO_MOTIFS, type Library, type NamedMotif } from './document/motif.ts';
import type { ShaderDocument } from './document/shader.ts';
import { emitGlsl, type GlslSource } from './emit/glsl/emitGlsl.ts';
import { lowerMotif, lowerShader, type Diagnostic, type Lowered } from './lower/lowerShader.ts';
import { freeze } from './program/passes/freeze.ts';
import { settle } from './program/passes/settle.ts';
import type { Program } from './program/value.ts';

/** A shader ready to be drawn, looked into, or handed over. */
export interface CompiledShader {
  /** With knobs still live. */
  readonly program: Program;
  readonly knobs: ReadonlyMap<string, readonly number[]>;
  readonly live: GlslSource;
  /** The tap number of each step and surface output, by `strandId/stepId`; the first is 1. */
  readonly taps: ReadonlyMap<string, number>;
}

export type Compilation = { readonly notes: readonly Diagnostic[] } & (
  | { readonly shader: CompiledShader; readonly diagnostics: readonly [] }
  | { readonly shader: null; readonly diagnostics: readonly Diagnostic[] }
);

export const tapKey = (strand: string, step: string): string => `${strand}/${step}`;

/** Authored document to something that can be drawn: lower, simplified as it is built, and emit. */
export const compileShader = (
  document: ShaderDocument,
  title = 'untitled',
  library: Library = NO_MOTIFS,
): Compilation => compile(lowerShader(document, library), title);

/** A motif by itself, unlit, as it is worked on. */
export const compileMotif = (motif: NamedMotif, library: Library): Compilation =>
  compile(lowerMotif(motif, library), motif.name);

const compile = (lowered: Lowered, title: string): Compilation => {
  const { program, knobs, diagnostics, notes } = lowered;
  if (diagnostics.length) return { shader: null, diagnostics, notes };
  const live = emitGlsl(program, { purpose: 'live', title });
  const taps = new Map(program.taps.map((tap, i) => [tapKey(tap.strand, tap.step), i + 1]));
  return { shader: { program, knobs, live, taps }, diagnostics: [], notes };
};

export type HandoverProgram =
  | { readonly program: Program; readonly diagnostics: readonly [] }
  | { readonly program: null; readonly diagnostics: readonly Diagnostic[] };

/** The program a game takes: knobs are constants, parameters stay. */
export const programOf = (document: ShaderDocument, library: Library = NO_MOTIFS): HandoverProgram => {
  const { program, knobs, diagnostics } = lowerShader(document, library);
  if (diagnostics.length) return { program: null, diagnostics };
  return { program: settle(freeze(program, knobs)), diagnostics: [] };
};

export type HandoverSource =
  | { readonly source: GlslSource; readonly diagnostics: readonly [] }
  | { readonly source: null; readonly diagnostics: readonly Diagnostic[] };

/** The source a game takes: knobs are constants, parameters are uniforms, names are the author's. */
export const handOver = (
  document: ShaderDocument,
  title: string,
  library: Library = NO_MOTIFS,
): HandoverSource => {
  const { program, diagnostics } = programOf(document, library);
  if (!program) return { source: null, diagnostics };
  const notes = new Map(document.strands.map((strand) => [strand.name, strand.note]));
  return {
    source: emitGlsl(program, { purpose: 'handover', title, notes }),
    diagnostics: [],
  };
};
