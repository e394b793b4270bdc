import { isTable } from '#core/document/shader.ts';
import { setValues } from '#core/edits/materialEdits.ts';
import { currentValue } from '#core/time/values.ts';
import type { FromScriptWorker, ScriptMaterial, ScriptMistake, ToScriptWorker } from '#script/protocol.ts';
import type { Session } from './state/session.svelte.ts';

/** The same chance every time, so that a rehearsal repeats. */
const SEED = 1;
const MOST_LINES = 500;
/** How often the worker is looked after, and for how many looks it may be silent. */
const WATCH_MS = 250;
const MOST_SILENT = 8;

/** Runs the project's script against the stage. Nothing it does is authored; stopping puts everything back. */
export const createRehearsal = (session: Session) => {
  let running = $state(false);
  let tick = $state(0);
  let logs = $state.raw<readonly string[]>([]);
  let mistake = $state.raw<ScriptMistake | null>(null);
  let worker: Worker | null = null;
  const held = new Set<string>();
  let watchdog: ReturnType<typeof setInterval> | undefined;
  /** Looks since the worker was last heard of. */
  let silent = 0;

  const send = (message: ToScriptWorker) => worker?.postMessage(message);

  const describeMaterials = (): ScriptMaterial[] =>
    session.materials.flatMap((part) => {
      const shader = session.part(part.body.shader);
      if (shader?.kind !== 'shader') return [];
      return [
        {
          id: part.id,
          name: part.name,
          parameters: shader.body.parameters
            .filter((each) => each.kind !== 'texture' && !isTable(each.kind))
            .map((each) => ({
              name: each.name,
              kind: each.kind,
              value: currentValue(each, session.authored(part.body.values)),
              shared: each.scope === 'shared',
            })),
        },
      ];
    });

  const addLogs = (lines: readonly string[]) => {
    if (lines.length) logs = [...logs, ...lines].slice(-MOST_LINES);
  };

  const receive = (message: FromScriptWorker) => {
    switch (message.type) {
      case 'ticked': {
        tick = message.tick;
        addLogs(message.logs);
        session.values.drive('script', message.writes);
        return;
      }
      case 'failed':
        mistake = message.mistake;
        addLogs(message.logs);
    }
  };

  /** A worker that is in a loop of its engine's own never answers: it is ended from here. */
  const watch = () => {
    if (!running || mistake) return;
    silent += 1;
    if (silent < MOST_SILENT) return;
    worker?.terminate();
    worker = null;
    mistake = {
      ...{ line: 0, column: 0 },
      message:
        'The script did not answer for two seconds and was ended: something in it goes on without end.',
    };
  };

  const stop = () => {
    clearInterval(watchdog);
    held.clear();
    worker?.terminate();
    worker = null;
    running = false;
    tick = 0;
    session.values.clear('set', 'cue', 'script', 'hand');
  };

  const start = () => {
    stop();
    mistake = null;
    logs = [];
    running = true;
    worker = new Worker(new URL('../../workers/script.worker.ts', import.meta.url), { type: 'module' });
    silent = 0;
    watchdog = setInterval(watch, WATCH_MS);
    worker.onmessage = ({ data }: MessageEvent<FromScriptWorker>) => {
      silent = 0;
      receive(data);
    };
    worker.onerror = (event) => {
      mistake = { message: `The script engine stopped: ${event.message}.`, line: 0, column: 0 };
    };
    send({
      type: 'start',
      source: session.playing?.body.source ?? '',
      materials: structuredClone(describeMaterials()),
      seed: SEED,
    });
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
    get mistake() {
      return mistake;
    },
    start,
    stop,
    toggle: () => (running ? stop() : start()),
    /** Runs a changed script in the place of the old one; values stay where they are. */
    swap: (source: string) => {
      mistake = null;
      send({ type: 'swap', source });
    },
    /** Takes what is driven now into the materials, as one edit each. */
    keep: (material?: string) => {
      for (const [id, drives] of session.values.driven) {
        if (material !== undefined && material !== id) continue;
        const values = [...drives].map(([name, { value }]) => [name, value] as const);
        const own = values.filter(([name]) => !session.values.isShared(id, name));
        const common = values.filter(([name]) => session.values.isShared(id, name));
        session.apply(setValues(id, own, 'Keep driven values'));
        if (common.length)
          void session
            .ensureShared()
            .then((shared) => session.apply(setValues(shared, common, 'Keep shared values')));
      }
    },
    key: (kind: 'down' | 'up', code: string) => {
      if (kind === 'down') held.add(code);
      else held.delete(code);
      send({ type: 'input', input: { kind, code } });
    },
    /** A window that loses the focus hears of no key that is let go. */
    releaseKeys: () => {
      for (const code of held) send({ type: 'input', input: { kind: 'up', code } });
      held.clear();
    },
  };
};

export type Rehearsal = ReturnType<typeof createRehearsal>;
