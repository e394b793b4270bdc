import type { ParameterValue } from '#core/document/shader.ts';
import { setValues } from '#core/document/edits/materialEdits.ts';
import { currentValue } from '#core/rehearse/values.ts';
import type { FromScriptWorker, ScriptMaterial, ScriptMistake, ToScriptWorker } from '#script/protocol.ts';
import type { Session } from './session.svelte.ts';

/** Parameters driven now, by material and then by name. */
export type DrivenByMaterial = ReadonlyMap<string, ReadonlyMap<string, ParameterValue>>;

/** The same chance every time, so that a rehearsal repeats. */
const SEED = 1;
const MOST_LINES = 500;

/** Runs the project's script against the stage. Nothing it does is authored; stopping puts everything back. */
export const createRehearsal = (session: Session) => {
  let running = $state(false);
  let tick = $state(0);
  let driven = $state.raw<DrivenByMaterial>(new Map());
  let logs = $state.raw<readonly string[]>([]);
  let mistake = $state.raw<ScriptMistake | null>(null);
  let worker: Worker | null = null;

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
            .filter((each) => each.kind !== 'texture')
            .map((each) => ({
              name: each.name,
              kind: each.kind,
              value: currentValue(each, part.body.values),
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
        if (!message.writes.length) return;
        const next = new Map(driven);
        for (const { material, parameter, value } of message.writes)
          next.set(material, new Map(next.get(material)).set(parameter, value));
        driven = next;
        return;
      }
      case 'failed':
        mistake = message.mistake;
        addLogs(message.logs);
    }
  };

  const stop = () => {
    worker?.terminate();
    worker = null;
    running = false;
    tick = 0;
    driven = new Map();
  };

  const start = () => {
    stop();
    mistake = null;
    logs = [];
    running = true;
    worker = new Worker(new URL('../../workers/script.worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<FromScriptWorker>) => receive(data);
    worker.onerror = (event) => {
      mistake = { message: `The script engine stopped: ${event.message}.`, line: 0, column: 0 };
    };
    send({
      type: 'start',
      source: session.script?.body.source ?? '',
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
    get driven() {
      return driven;
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
      for (const [id, values] of driven)
        if (material === undefined || material === id)
          session.apply(setValues(id, values, 'Keep driven values'));
    },
    key: (kind: 'down' | 'up', code: string) => send({ type: 'input', input: { kind, code } }),
  };
};

export type Rehearsal = ReturnType<typeof createRehearsal>;
