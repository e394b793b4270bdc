import { isScore, unpackCompilation, type FromCompiler, type ScorePart } from '#core/compileParts.ts';
import type { Compilation, CompiledShader } from '#core/compileShader.ts';
import type { Library } from '#core/document/motif.ts';
import type { Edit } from '#core/document/patch.ts';
import type { Part } from '#core/document/project.ts';
import type { SurfaceSettings } from '#core/document/shader.ts';
import { knobName, knobNumbers, MOTIF_SURFACE, type Diagnostic } from '#core/lower/lowerShader.ts';
import { operatorOf } from '#core/lower/stepOperator.ts';
import { connectCompiler, type ConnectCompiler } from '../../parts/connectCompiler.ts';
import { driverMistakes } from './driverMistakes.ts';

export { isScore, type ScorePart } from '#core/compileParts.ts';

/** How long the picture may stand still while newer answers are on their way. */
const MOST_BEHIND_MS = 200;
const MOST_RESTARTS = 3;

/** How a shader or a motif stands: the last version that worked, and what is wrong with the present one. */
export interface ShaderState {
  readonly good: CompiledShader | null;
  readonly settings: SurfaceSettings;
  readonly knobs: ReadonlyMap<string, readonly number[]>;
  readonly diagnostics: readonly Diagnostic[];
  /** What is worth knowing and not wrong. */
  readonly notes: readonly Diagnostic[];
}

const settingsOf = (part: ScorePart): SurfaceSettings =>
  part.kind === 'shader' ? part.body.surface : MOTIF_SURFACE;

/**
 * A part's state once it has been compiled: what no longer works keeps the last version that did. A new version is
 * always taken whole: its program and layout can differ where its text does not, and the stage links by text.
 */
const stateAfter = (
  part: ScorePart,
  { shader, diagnostics, notes }: Compilation,
  before: ShaderState | undefined,
): ShaderState => {
  if (!shader)
    return {
      good: before?.good ?? null,
      settings: before?.settings ?? settingsOf(part),
      knobs: before?.knobs ?? new Map(),
      ...{ diagnostics, notes },
    };
  return { good: shader, settings: settingsOf(part), knobs: shader.knobs, diagnostics, notes };
};

/** What the project's shaders and motifs compile to, kept in step with their documents. */
export const createCompiler = (
  parts: () => ReadonlyMap<string, Part>,
  library: () => Library,
  told: (sentence: string) => void,
  connect: ConnectCompiler = connectCompiler,
) => {
  let shaders = $state.raw<ReadonlyMap<string, ShaderState>>(new Map());
  /** The newest version sent, and the newest that all is done of. */
  let sent = $state(0);
  let done = $state(0);
  /** The version each part was last asked for at and answered for, and when it was last shown. */
  const asked = new Map<string, number>();
  const answered = new Map<string, number>();
  const shownAt = new Map<string, number>();
  /** Parts whose numbers moved since they were sent; of these, those that are to be compiled once more. */
  const moved = new Set<string>();
  const again = new Set<string>();
  /** Where each moved knob of a shader or motif stands, and the newest version sent by then: later ones know it. */
  const moves = new Map<string, Map<string, { readonly numbers: readonly number[]; readonly at: number }>>();
  let restarts = 0;

  const receive = (message: FromCompiler): void => {
    if (message.type === 'idle') {
      done = message.version;
      return;
    }
    const { id, version } = message;
    const part = parts().get(id);
    if (!isScore(part)) return;
    answered.set(id, version);
    // What is behind a newer request is dropped; in a long run of them the picture still follows.
    const isStale = version < (asked.get(id) ?? 0);
    if (isStale && performance.now() - (shownAt.get(id) ?? -Infinity) < MOST_BEHIND_MS) return;
    shownAt.set(id, performance.now());
    const state = stateAfter(part, unpackCompilation(message.compilation), shaders.get(id));
    shaders = new Map(shaders).set(id, { ...state, knobs: withMoves(id, state.knobs, version) });
    if (again.delete(id)) recompile(part);
  };
  /** Knobs of a version, with the numbers that moved after it was sent. */
  const withMoves = (id: string, knobs: ShaderState['knobs'], version: number): ShaderState['knobs'] => {
    const now = new Map(knobs);
    for (const [knob, { numbers, at }] of moves.get(id) ?? []) {
      if (at < version) moves.get(id)!.delete(knob);
      else if (now.get(knob)?.length === numbers.length) now.set(knob, numbers);
    }
    return now;
  };
  const broken = (why: string): void => {
    line.close();
    if ((restarts += 1) > MOST_RESTARTS) {
      told(`The compiler stopped and does not start again: ${why} Reload the page; nothing is lost.`);
      return;
    }
    line = connect(receive, broken);
    sendAll();
  };
  let line = connect(receive, broken);

  const send = (type: 'compile' | 'keep', part: ScorePart): void => {
    sent += 1;
    line.send({ type, part, version: sent });
  };
  const sendAll = (): void => {
    const all = [...parts().values()].filter(isScore);
    // Motifs first: what uses them is compiled with them.
    for (const part of all) if (part.kind === 'motif') send('keep', part);
    for (const part of all) {
      send('compile', part);
      asked.set(part.id, sent);
    }
  };
  sendAll();

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
    const now = new Map(shaders);
    for (const [id, each] of shaders) {
      const name = id === part.id ? knob : `${part.id}/${knob}`;
      if (!each.knobs.has(name)) continue;
      now.set(id, { ...each, knobs: new Map(each.knobs).set(name, numbers) });
      moves.set(id, (moves.get(id) ?? new Map()).set(name, { numbers, at: sent }));
    }
    shaders = now;
    moved.add(part.id);
    // What is on its way may have other knobs: what is shown here follows at once, and is compiled when that has come.
    if ((asked.get(part.id) ?? 0) > (answered.get(part.id) ?? 0)) again.add(part.id);
    return true;
  };

  /** Has a part compiled, and what uses it. */
  const recompile = (part: ScorePart) => {
    for (const id of moved) {
      const each = parts().get(id);
      if (isScore(each) && id !== part.id) send('keep', each);
    }
    moved.clear();
    again.delete(part.id);
    send('compile', part);
    asked.set(part.id, sent);
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
      sent += 1;
      line.send({ type: 'forget', id, version: sent });
    },
    /** True while something that was changed is not compiled yet. */
    get isBusy() {
      return done !== sent;
    },
    close: (): void => line.close(),
    noteRefusal,
  };
};
