import { setPictures, setValues } from '#core/edits/materialEdits.ts';
import { minus, unit } from '#core/numbers/vectors.ts';
import { isTable, type ParameterValue } from '#core/document/shader.ts';
import { fewerKeys } from '#core/numbers/mixTables.ts';
import type { RehearsalInput } from '#core/time/inputs.ts';
import type { LayerNow } from '#core/time/playFlourishes.ts';
import { layersAt, layersBesideCue } from '#core/time/layersAt.ts';
import { playedOf, type PlayedSet } from '#core/time/remarksOn.ts';
import { createRehearsing, type MovedSet } from '#core/time/rehearse.ts';
import { frameOf, type Standing } from '#core/time/takes.ts';
import type { Layer } from '#core/time/resolveValues.ts';
import { propsNow } from '#core/time/world.ts';
import type { CuesNow, FromScriptWorker, ScriptMistake, Tape, ToScriptWorker } from '#script/protocol.ts';
import { setupOf } from '#script/setupOf.ts';
import { createEngineWatch, LOOK_MS, stuckMessage, type LastKnown } from '#script/watchEngine.ts';
import { startOf } from '#script/startOf.ts';
import type { Seen } from '#stage/stage.ts';
import { bringRigs, missingRigs } from './bringRigs.ts';
import { picturesChosen } from './picturesOf.ts';
import type { Session } from './state/session.svelte.ts';

/** The same chance every time, so that a rehearsal repeats. */
const SEED = 1;
const MOST_LINES = 500;
/** Values kept of what is driven, to be seen beside it. */
const TRACE = 240;

/** What of a set is moved, to be compared. */
const told = ({ props, lights, camera }: MovedSet): string =>
  JSON.stringify([[...props], [...lights], camera]);

/** Runs the project's script against the stage. Nothing it does is authored; stopping puts everything back. */
export const createRehearsal = (session: Session, say: (sentence: string) => void = () => undefined) => {
  let running = $state(false);
  let tick = $state(0);
  let logs = $state.raw<readonly string[]>([]);
  /** What went wrong in scripts, by their ids; '' is the engine itself. */
  let mistakes = $state.raw<ReadonlyMap<string, ScriptMistake>>(new Map());
  /** The scripts that are rehearsed, by id. */
  let scripts: readonly string[] = [];
  /** What of the set stands otherwise than it is authored, and where its cues stand. */
  let moved = $state.raw<MovedSet | null>(null);
  let standing = $state.raw<CuesNow>(new Map());
  /** What there is of flourishes, and how far those that play have come. */
  let layers = $state.raw<readonly LayerNow[]>([]);
  let playing = $state.raw<ReadonlyMap<string, number>>(new Map());
  let [followsPointer, followsWalker] = [false, false];
  /** Where who looks was last told to stand. */
  let stoodAt = '';
  let traces = $state.raw<ReadonlyMap<string, readonly number[]>>(new Map());
  /** The cues, rules and flourishes that are rehearsed. */
  let played: PlayedSet = {};
  let worker: Worker | null = null;
  /** Who waits for what was recorded. */
  let taped: ((tape: Tape | { readonly why: string }) => void) | null = null;
  /** The take that is shown, by name. */
  let shows = $state<string | null>(null);
  let hearsKeys: ((code: string, down: boolean) => void) | null = null;
  const held = new Set<string>();
  /** What was told last of what is held by hand, by “material name”. */
  let holds = new Map<string, ParameterValue>();
  let watchdog: ReturnType<typeof setInterval> | undefined;
  let watched = createEngineWatch();

  const send = (message: ToScriptWorker) => worker?.postMessage(message);

  const addLogs = (lines: readonly string[]) => {
    if (lines.length) logs = [...logs, ...lines].slice(-MOST_LINES);
  };

  const fail = (mistake: ScriptMistake) => {
    mistakes = new Map([...mistakes, [scripts[mistake.script] ?? '', mistake]]);
  };

  const receive = (message: FromScriptWorker) => {
    switch (message.type) {
      case 'ticked': {
        queueMicrotask(note);
        tick = message.tick;
        addLogs(message.logs);
        session.values.drive('script', message.writes);
        if (!message.driven) return;
        session.values.put('set', message.driven.rules);
        session.values.put('cue', message.driven.cues);
        ({ standing, layers, playing } = message.driven);
        // What stands as it stood is not put on the stage anew.
        if (!moved || told(moved) !== told(message.driven.moved)) moved = message.driven.moved;
        return;
      }
      case 'tape':
        taped?.(message.tape);
        taped = null;
        return;
      case 'failed':
        if (message.mistake.script < 0) return endWith(message.mistake.message);
        fail(message.mistake);
        addLogs(message.logs);
    }
  };

  /** Ends the rehearsal for a reason of the engine's own. */
  const endWith = (message: string, { script, line }: LastKnown = { script: -1, line: 0 }): void => {
    stop();
    fail({ script, line, column: 0, message });
    const part = session.part(scripts[script] ?? '');
    say(part ? `${part.name}: ${message}` : message);
  };

  /** A worker that is in a loop of its engine's own never answers: it is killed, and the rehearsal ends. */
  const watch = () => {
    const stuck = running && worker ? watched.look() : null;
    if (stuck) endWith(stuckMessage(stuck), stuck);
  };

  /** What driven numbers stood at lately, by material and name. */
  const note = (): void => {
    if (!running) return;
    const now = new Map<string, readonly number[]>();
    for (const [material, drives] of session.values.driven)
      for (const [name, { value }] of drives)
        if (value.length === 1) {
          const key = `${material} ${name}`;
          now.set(key, [...(traces.get(key) ?? []), value[0]!].slice(-TRACE));
        }
    traces = now;
  };
  /** Whether a rule, a cue’s start or a script asks where the pointer is, or the walker. */
  const asksFor = (what: 'pointer' | 'walker'): boolean => {
    const { drives = [], cues = [], flourishes = [] } = session.stage?.body ?? {};
    return (
      [...drives, ...[...cues, ...flourishes].flatMap((each) => each.starts)].some((each) =>
        [each.of, each.to].includes(what),
      ) ||
      flourishes.some(
        ({ of, layers }) =>
          of === what || layers.some(({ ribbon }) => [ribbon?.from.of, ribbon?.to?.of].includes(what)),
      ) ||
      session.played.some(({ body }) => new RegExp(`\\b${what}\\b`).test(body.source))
    );
  };
  const stop = () => {
    clearInterval(watchdog);
    held.clear();
    holds = new Map();
    worker?.terminate();
    worker = null;
    running = false;
    tick = 0;
    moved = null;
    standing = new Map();
    layers = [];
    playing = new Map();
    traces = new Map();
    shows = null;
    taped?.({ why: 'The rehearsal was stopped.' });
    taped = null;
    session.values.clear('set', 'cue', 'script', 'hand');
  };

  const start = () => {
    stop();
    mistakes = new Map();
    logs = [];
    running = true;
    played = playedOf(session.stage?.body ?? {});
    followsPointer = asksFor('pointer');
    followsWalker = asksFor('walker');
    stoodAt = '';
    worker = new Worker(new URL('../../workers/script.worker.ts', import.meta.url), { type: 'module' });
    watched = createEngineWatch();
    watchdog = setInterval(watch, LOOK_MS);
    worker.onmessage = ({ data }: MessageEvent<FromScriptWorker>) => {
      watched.hear(data.type === 'entered' ? data : null);
      receive(data);
    };
    worker.onerror = (event) => {
      // A file that did not arrive has no message.
      const why = (event as Partial<ErrorEvent>).message;
      endWith(
        why
          ? `The script engine stopped: ${why}.`
          : 'The script engine could not be loaded: the server does not answer. Try again when it is back.',
      );
    };
    const begin = () => {
      const from = startOf(session.parts, session.stage?.id ?? null);
      scripts = from.scripts.map(({ id }) => id);
      send({ type: 'start', ...structuredClone(from), seed: SEED });
    };
    const mine = worker;
    const missing = missingRigs(session.stage?.body.props ?? []);
    if (!missing.length) begin();
    else
      void bringRigs(missing)
        .catch((error: unknown) =>
          fail({ script: -1, line: 0, column: 0, message: (error as Error).message }),
        )
        .then(() => mine === worker && begin());
  };

  return {
    get running() {
      return running;
    },
    /** Seconds rehearsed: ticks over sixty, never the wall clock. */
    get time() {
      return tick / 60;
    },
    get logs() {
      return logs;
    },
    /** What went wrong in scripts, by their ids; '' is the engine itself. */
    get mistakes() {
      return mistakes;
    },
    start,
    stop,
    toggle: () => (running ? stop() : start()),
    /** Runs a changed script in the place of the old one; values stay where they are. */
    swap: (id: string, source: string) => {
      const script = scripts.indexOf(id);
      if (script < 0) return;
      mistakes = new Map([...mistakes].filter(([of]) => of !== id));
      send({ type: 'swap', script, source });
    },
    /** Takes what is driven now into the materials, as one edit each: of all, of one, or one parameter of it. */
    keep: (material?: string, only?: string) => {
      for (const [id, drives] of session.values.driven) {
        if (material !== undefined && material !== id) continue;
        const part = session.part(id);
        const shader = part?.kind === 'material' ? session.part(part.body.shader) : undefined;
        if (part?.kind !== 'material' || shader?.kind !== 'shader') continue;
        const all = [...drives]
          .filter(([name]) => only === undefined || name === only)
          .map(([name, { value }]) => [name, value] as const);
        const parameterOf = (name: string) => shader.body.parameters.find((each) => each.name === name);
        const chosen = picturesChosen(id, shader.body.parameters, session.stage?.body.choices, drives);
        if (chosen.size) session.apply(setPictures(id, part.body, [...chosen]));
        const values = all.flatMap(([name, value]) => {
          const parameter = parameterOf(name);
          if (!parameter || parameter.kind === 'texture') return [];
          const { kind } = parameter;
          return [[parameter, isTable(kind) ? fewerKeys(kind, value) : value] as const];
        });
        const own = values.filter(([{ scope }]) => scope !== 'shared');
        const common = values.filter(([{ scope }]) => scope === 'shared');
        const label = only === undefined ? 'Keep driven values' : `Keep ${only}`;
        if (own.length) session.apply(setValues(id, own, label));
        if (common.length)
          void session
            .ensureShared()
            .then((shared) => session.apply(setValues(shared, common, 'Keep shared values')));
      }
    },
    get moved() {
      return moved;
    },
    /** Where cues stand that were started, by id. */
    get standing() {
      return standing;
    },
    /** Shows the set as a cue has it at a time, without rehearsing; null shows it as it stands. */
    scrub: (to: { readonly cue: string; readonly at: number } | null) => {
      if (running) return;
      const { set, materials } = startOf(session.parts, session.stage?.id ?? null);
      const setup = set && setupOf(set, materials);
      const driven = to && setup ? createRehearsing(setup).tick([{ kind: 'seek', ...to }]) : null;
      session.values.put('set', driven?.rules ?? []);
      session.values.put('cue', driven?.cues ?? []);
      moved = driven?.moved ?? null;
      layers =
        to && setup && driven
          ? layersBesideCue(setup, to.cue, to.at, propsNow(setup.set.props, driven.moved.props))
          : [];
    },
    /** Shows a flourish as it is at a time of it, without rehearsing; null shows none. */
    scrubFlourish: (to: { readonly flourish: string; readonly at: number } | null) => {
      if (running) return;
      const { set, materials } = startOf(session.parts, session.stage?.id ?? null);
      layers = to && set ? layersAt(setupOf(set, materials), to.flourish, to.at) : [];
      playing = to ? new Map([[to.flourish, to.at]]) : new Map();
    },
    /** What there is of flourishes now. */
    get layers() {
      return layers;
    },
    /** Seconds into the flourishes that play, by id. */
    get playing() {
      return playing;
    },
    /** What was recorded since the rehearsal began; or why nothing was. */
    tape: (): Promise<Tape | { readonly why: string }> =>
      new Promise((resolve) => {
        if (!worker) return resolve({ why: 'Nothing is rehearsed.' });
        taped = resolve;
        send({ type: 'tape' });
      }),
    /** Shows a tick of a take, without rehearsing; null shows the set as it stands. */
    show: (take: { readonly name: string; readonly tick: number; readonly standing: Standing } | null) => {
      if (running) return;
      const frame = frameOf(take?.standing ?? new Map());
      shows = take?.name ?? null;
      tick = take?.tick ?? 0;
      moved = take ? frame.moved : null;
      layers = frame.layers;
      session.values.put('script', frame.writes);
    },
    /** The name of the take that is shown. */
    get shows() {
      return shows;
    },
    /** What driven numbers stood at lately, the newest last, by “material name”. */
    get traces() {
      return traces;
    },
    /** Whether anything that is rehearsed asks where the pointer is. */
    get followsPointer() {
      return followsPointer;
    },
    /** Who looks stands there: told where something asks, once it is another place. */
    look: ({ position, target }: Seen) => {
      const way = unit(minus(target, position));
      const now = [...position, ...way].join();
      if (!running || !followsWalker || now === stoodAt) return;
      stoodAt = now;
      send({ type: 'input', input: { kind: 'walker', position, direction: way } });
    },
    /** The set’s cues, rules and flourishes as they are now: what is rehearsed goes on with them. */
    follow: (now: PlayedSet) => {
      const isSame = (['cues', 'choices', 'drives', 'flourishes'] as const).every(
        (each) => now[each] === played[each],
      );
      if (!running || isSame) return;
      played = playedOf(now);
      send({ type: 'change', ...structuredClone(played) });
    },
    /** What the author’s hand holds now: it is recorded, as what comes from outside. */
    hold: (layer: Layer | undefined) => {
      if (!running) return;
      const now = new Map<string, ParameterValue>();
      for (const [material, values] of layer ?? [])
        for (const [parameter, value] of values) {
          const key = `${material} ${parameter}`;
          now.set(key, value);
          if (holds.get(key)?.join() !== value.join())
            send({ type: 'input', input: { kind: 'hold', material, parameter, value: [...value] } });
        }
      if (holds.size && !now.size) send({ type: 'input', input: { kind: 'release' } });
      holds = now;
    },
    /** Something that came from outside. */
    input: (input: RehearsalInput) => send({ type: 'input', input }),
    /** Who hears keys besides the script. */
    hearKeys: (heard: ((code: string, down: boolean) => void) | null) => {
      hearsKeys = heard;
    },
    key: (kind: 'down' | 'up', code: string) => {
      hearsKeys?.(code, kind === 'down');
      if (kind === 'down') held.add(code);
      else held.delete(code);
      send({ type: 'input', input: { kind, code } });
    },
    /** A window that loses the focus hears of no key that is let go. */
    releaseKeys: () => {
      for (const code of held) {
        hearsKeys?.(code, false);
        send({ type: 'input', input: { kind: 'up', code } });
      }
      held.clear();
    },
  };
};

export type Rehearsal = ReturnType<typeof createRehearsal>;
