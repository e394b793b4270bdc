import { createMarker, keptInput } from '#core/time/takes.ts';
import { TICKS_PER_SECOND, ticksDue } from '#core/time/tick.ts';
import { LONGEST_TAKE, MOST_TAKE_INPUTS, type TakeInput } from '#core/document/kinds/take.ts';
import type { RehearsalInput } from '#core/time/inputs.ts';
import { reportEntries } from './reportEntries.ts';
import type { Ticked, Ticker } from './createTicker.ts';
import type { FromScriptWorker, RehearsalStart, ScriptWrite, Tape, ToScriptWorker } from './protocol.ts';

/** How often the worker looks whether a tick is due, in milliseconds. */
const LOOK_EVERY = 4;

/** Whether what rules, cues and flourishes drive is nothing, as it was. */
const isIdle = ({ driven, standing, playing }: Ticked): boolean =>
  !driven.rules.length &&
  !driven.cues.length &&
  !standing.size &&
  !playing.size &&
  !driven.moved.props.size &&
  !driven.moved.lights.size &&
  driven.moved.camera === null;

/** Runs a rehearsal at the fixed pace, and speaks the worker's protocol. */
export const runTicks = (
  post: (message: FromScriptWorker) => void,
  start: (
    setup: Omit<RehearsalStart, 'scripts'> & {
      readonly onEnter: (script: number, line: number) => void;
    },
  ) => Promise<Ticker>,
) => {
  let ticker: Ticker | null = null;
  const entries = reportEntries((now) => post({ type: 'entered', ...now }));
  let timer: ReturnType<typeof setInterval> | null = null;
  let began = 0;
  let ticks = 0;
  let waiting: RehearsalInput[] = [];
  /** Whether the last tick that was told of drove nothing by rules and cues. */
  let idle = true;
  /** Scripts that came while the engine was starting, by their places. */
  const next = new Map<number, string>();
  let starts = 0;
  /** What is recorded: what came in, and what that drove. */
  let taped: TakeInput[] = [];
  let marker = createMarker();
  /** What a script set as it began, which belongs to its first tick. */
  let begun: readonly ScriptWrite[] = [];
  let [seed, why] = [1, null as string | null];

  const stop = () => {
    if (timer !== null) clearInterval(timer);
    timer = null;
    ticker?.dispose();
    ticker = null;
  };
  const tell = (writes: readonly ScriptWrite[], logs: readonly string[], last: Ticked): void => {
    const quiet = isIdle(last);
    const driven = quiet && idle ? null : { ...last.driven, standing: last.standing, playing: last.playing };
    idle = quiet;
    post({ type: 'ticked', tick: ticks, writes, driven, logs });
    entries.left();
  };
  const record = (result: Ticked): void => {
    if (why !== null) return;
    if (ticks >= LONGEST_TAKE || taped.length + waiting.length > MOST_TAKE_INPUTS) {
      why = `A take lasts up to ${LONGEST_TAKE / TICKS_PER_SECOND / 60} minutes and ${MOST_TAKE_INPUTS} inputs; this rehearsal went on longer.`;
      taped = [];
      return;
    }
    for (const input of waiting) taped.push(keptInput(ticks, input));
    marker.follow({ driven: result.driven, writes: [...begun, ...result.writes] });
    begun = [];
  };
  const tape = (): Tape | { readonly why: string } =>
    why !== null
      ? { why }
      : ticks
        ? { ticks, inputs: taped, marks: marker.marks(), seed }
        : { why: 'Nothing was rehearsed yet.' };
  const advance = () => {
    if (!ticker) return;
    const { due, forgiven } = ticksDue(performance.now() - began, ticks);
    began += forgiven;
    if (!due) return;
    const writes = new Map<string, ScriptWrite>();
    const logs: string[] = [];
    for (let i = 0; i < due; i += 1) {
      const result = ticker.tick(waiting);
      record(result);
      waiting = [];
      ticks += 1;
      for (const write of result.writes) writes.set(`${write.material} ${write.parameter}`, write);
      logs.push(...result.logs);
      // The set goes on without what failed.
      const { mistakes } = result;
      if (mistakes.length || i === due - 1) tell([...writes.values()], logs.splice(0), result);
      for (const mistake of mistakes) post({ type: 'failed', mistake, logs: [] });
    }
  };
  const run = (sources: Iterable<readonly [which: number, source: string]>) => {
    if (ticks) why ??= 'A script was changed while it ran; rehearse again to record a take.';
    for (const [which, source] of sources) {
      const result = ticker!.load(source, which);
      begun = [...begun, ...result.writes];
      tell(result.writes, result.logs, result);
      for (const mistake of result.mistakes) post({ type: 'failed', mistake, logs: [] });
    }
    if (timer === null) {
      began = performance.now() - (ticks * 1000) / 60;
      timer = setInterval(advance, LOOK_EVERY);
    }
  };

  const receive = async (message: ToScriptWorker): Promise<void> => {
    switch (message.type) {
      case 'start':
        return begin(message);
      case 'change':
        ticker?.change(message);
        if (ticks)
          why ??= 'Cues, rules or flourishes were changed while it ran; rehearse again to record a take.';
        break;
      case 'tape':
        post({ type: 'tape', tape: tape() });
        break;
      case 'swap':
        if (ticker) run([[message.script, message.source]]);
        else next.set(message.script, message.source);
        break;
      case 'input':
        waiting.push(message.input);
        break;
      case 'stop':
        starts += 1;
        stop();
    }
  };
  const begin = async (message: Extract<ToScriptWorker, { type: 'start' }>): Promise<void> => {
    stop();
    const own = (starts += 1);
    [ticks, waiting, idle] = [0, [], true];
    next.clear();
    [taped, marker, why, begun, seed] = [[], createMarker(), null, [], message.seed];
    const { materials, set, rigs = [] } = message;
    const made = await start({ materials, set, rigs, seed, onEnter: entries.enter });
    if (own !== starts) return made.dispose();
    ticker = made;
    post({ type: 'started' });
    run(message.scripts.map(({ source }, i) => [i, next.get(i) ?? source]));
  };
  return {
    receive: (message: ToScriptWorker) =>
      void receive(message).catch((error: unknown) =>
        post({
          type: 'failed',
          logs: [],
          mistake: {
            ...{ script: -1, line: 0, column: 0 },
            message: `The script engine could not start: ${String(error)}.`,
          },
        }),
      ),
  };
};
