import { compileMotif, compileShader, type Compilation, type CompiledShader } from './compileShader.ts';
import { reaches, type Library } from './document/motif.ts';
import type { Part, PartOf } from './document/project.ts';
import type { LiveSlot } from './emit/glsl/liveLayout.ts';
import { packProgram, unpackProgram, type PackedProgram } from './program/packProgram.ts';

/** A part whose strands can be compiled. */
export type ScorePart = PartOf<'shader'> | PartOf<'motif'>;
export const isScore = (part: Part | undefined): part is ScorePart =>
  part?.kind === 'shader' || part?.kind === 'motif';

/** What a compiler on another thread is told. Versions count up; what is kept is not compiled for its own sake. */
export type ToCompiler =
  | { readonly type: 'compile' | 'keep'; readonly part: ScorePart; readonly version: number }
  | { readonly type: 'forget'; readonly id: string; readonly version: number };

/** What it answers: a part as it stood at a version, or that nothing is left to do. */
export type FromCompiler =
  | {
      readonly type: 'compiled';
      readonly id: string;
      readonly version: number;
      readonly compilation: PackedCompilation;
    }
  | { readonly type: 'idle'; readonly version: number };

type PackedSlot = Omit<LiveSlot, 'value'> & { readonly value: number };
type PackedShader = Omit<CompiledShader, 'program' | 'live'> & {
  readonly program: PackedProgram;
  readonly live: Omit<CompiledShader['live'], 'layout'>;
  readonly layout: Omit<CompiledShader['live']['layout'], 'slots'> & {
    readonly slots: readonly PackedSlot[];
  };
};
export type PackedCompilation = Pick<Compilation, 'notes' | 'diagnostics'> & {
  readonly shader: PackedShader | null;
};

const pack = ({ shader, notes, diagnostics }: Compilation): PackedCompilation => {
  if (!shader) return { shader, notes, diagnostics };
  const { packed, numberOf } = packProgram(shader.program);
  const { layout, ...live } = shader.live;
  const slots = layout.slots.map((slot) => ({ ...slot, value: numberOf(slot.value) }));
  const { knobs, taps } = shader;
  return {
    shader: { ...{ program: packed, knobs, taps, live }, layout: { ...layout, slots } },
    ...{ notes, diagnostics },
  };
};

/** What was compiled elsewhere, as if it had been here. */
export const unpackCompilation = ({ shader, notes, diagnostics }: PackedCompilation): Compilation => {
  if (!shader) return { shader, notes, diagnostics };
  const { program, values } = unpackProgram(shader.program);
  const { knobs, taps, live } = shader;
  const slots = shader.layout.slots.map((slot) => ({ ...slot, value: values[slot.value]! }));
  return {
    shader: { ...{ program, knobs, taps }, live: { ...live, layout: { ...shader.layout, slots } } },
    ...{ notes, diagnostics: [] },
  };
};

/**
 * Compiles parts as they change, on whichever thread it stands. Of what waits only the newest is compiled: `later` lets
 * messages in between one part and the next.
 */
export const createPartCompiler = (
  post: (message: FromCompiler) => void,
  later: (work: () => void) => void,
) => {
  const parts = new Map<string, ScorePart>();
  const waiting = new Set<string>();
  let version = 0;
  let isDue = false;

  const libraryNow = (): Library =>
    new Map([...parts.values()].flatMap((part) => (part.kind === 'motif' ? [[part.id, part] as const] : [])));

  const compile = (part: ScorePart): Compilation =>
    part.kind === 'shader'
      ? compileShader(part.body, part.name, libraryNow())
      : compileMotif({ id: part.id, name: part.name, body: part.body }, libraryNow());

  const work = (): void => {
    isDue = false;
    const [id] = waiting;
    const part = id === undefined ? undefined : parts.get(id);
    if (id !== undefined) waiting.delete(id);
    if (part) post({ type: 'compiled', id: part.id, version, compilation: pack(compile(part)) });
    if (waiting.size) goOn();
    else post({ type: 'idle', version });
  };
  const goOn = (): void => {
    if (isDue) return;
    isDue = true;
    later(work);
  };

  /** A part, and all that uses it. */
  const isTouched = (part: ScorePart, by: ScorePart, library: Library): boolean =>
    part.id === by.id ||
    (by.kind === 'motif' &&
      part.body.strands.some((strand) =>
        strand.steps.some((step) => step.motif !== undefined && reaches(library, step.motif, by.id)),
      ));

  return {
    receive: (message: ToCompiler): void => {
      ({ version } = message);
      if (message.type === 'forget') parts.delete(message.id);
      else parts.set(message.part.id, message.part);
      if (message.type === 'compile') {
        const library = libraryNow();
        for (const part of parts.values()) if (isTouched(part, message.part, library)) waiting.add(part.id);
      }
      goOn();
    },
  };
};
