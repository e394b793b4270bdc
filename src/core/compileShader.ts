import type { ShaderDocument } from './document/shader.ts';
import { emitGlsl, type GlslSource } from './emit/glsl/emitGlsl.ts';
import { lowerShader, type Diagnostic } from './program/lowerShader.ts';
import { freeze } from './program/passes/freeze.ts';
import { lean } from './program/passes/lean.ts';
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

export type Compilation =
  | { readonly shader: CompiledShader; readonly diagnostics: readonly [] }
  | { readonly shader: null; readonly diagnostics: readonly Diagnostic[] };

export const tapKey = (strand: string, step: string): string => `${strand}/${step}`;

/** Authored document to something that can be drawn: lower, make lean, emit. */
export const compileShader = (document: ShaderDocument, title = 'untitled'): Compilation => {
  const { program: whole, knobs, diagnostics } = lowerShader(document);
  if (diagnostics.length) return { shader: null, diagnostics };
  const program = lean(whole);
  const live = emitGlsl(program, { purpose: 'live', surface: document.surface, title });
  const taps = new Map(program.taps.map((tap, i) => [tapKey(tap.strand, tap.step), i + 1]));
  return { shader: { program, knobs, live, taps }, diagnostics: [] };
};

export type HandoverSource =
  | { readonly source: GlslSource; readonly diagnostics: readonly [] }
  | { readonly source: null; readonly diagnostics: readonly Diagnostic[] };

/** The source a game takes: knobs are constants, parameters are uniforms, names are the author's. */
export const handOver = (document: ShaderDocument, title: string): HandoverSource => {
  const { program: whole, knobs, diagnostics } = lowerShader(document);
  if (diagnostics.length) return { source: null, diagnostics };
  const program = lean(freeze(whole, knobs));
  const notes = new Map(document.strands.map((strand) => [strand.name, strand.note]));
  return {
    source: emitGlsl(program, { purpose: 'handover', surface: document.surface, title, notes }),
    diagnostics: [],
  };
};
