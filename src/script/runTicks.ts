import { ticksDue } from '#core/time/tick.ts';
import type { Sandbox, SandboxSetup } from './createSandbox.ts';
import type { FromScriptWorker, ScriptInput, ScriptWrite, TickResult, ToScriptWorker } from './protocol.ts';

/** How often the worker looks whether a tick is due, in milliseconds. */
const LOOK_EVERY = 4;

/** Runs a sandbox at the fixed pace, and speaks the worker's protocol. */
export const runTicks = (
  post: (message: FromScriptWorker) => void,
  start: (setup: Omit<SandboxSetup, 'prelude'>) => Promise<Sandbox>,
) => {
  let sandbox: Sandbox | null = null;
  let timer: ReturnType<typeof setInterval> | null = null;
  let began = 0;
  let ticks = 0;
  let waiting: ScriptInput[] = [];
  /** A script that came while the engine was starting. */
  let next: string | null = null;
  let starts = 0;

  const stop = () => {
    if (timer !== null) clearInterval(timer);
    timer = null;
    sandbox?.dispose();
    sandbox = null;
  };
  const fail = ({ mistake, logs }: TickResult) => {
    if (mistake) post({ type: 'failed', mistake, logs });
    if (timer !== null) clearInterval(timer);
    timer = null;
  };
  const advance = () => {
    if (!sandbox) return;
    const { due, forgiven } = ticksDue(performance.now() - began, ticks);
    began += forgiven;
    if (!due) return;
    const writes = new Map<string, ScriptWrite>();
    const logs: string[] = [];
    for (let i = 0; i < due; i += 1) {
      const result = sandbox.tick(waiting);
      waiting = [];
      ticks += 1;
      for (const write of result.writes) writes.set(`${write.material} ${write.parameter}`, write);
      logs.push(...result.logs);
      if (result.mistake) {
        post({ type: 'ticked', tick: ticks, writes: [...writes.values()], logs });
        fail({ ...result, logs: [] });
        return;
      }
    }
    post({ type: 'ticked', tick: ticks, writes: [...writes.values()], logs });
  };
  const run = (source: string) => {
    const result = sandbox!.load(source);
    if (result.mistake) return fail(result);
    post({ type: 'ticked', tick: ticks, writes: result.writes, logs: result.logs });
    if (timer === null) {
      began = performance.now() - (ticks * 1000) / 60;
      timer = setInterval(advance, LOOK_EVERY);
    }
  };

  const receive = async (message: ToScriptWorker): Promise<void> => {
    switch (message.type) {
      case 'start':
        return begin(message);
      case 'swap':
        if (sandbox) run(message.source);
        else next = message.source;
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
    [ticks, waiting, next] = [0, [], null];
    const made = await start({ materials: message.materials, seed: message.seed });
    if (own !== starts) return made.dispose();
    sandbox = made;
    post({ type: 'started' });
    run(next ?? message.source);
  };
  return {
    receive: (message: ToScriptWorker) =>
      void receive(message).catch((error: unknown) =>
        post({
          type: 'failed',
          logs: [],
          mistake: { message: `The script engine could not start: ${String(error)}.`, line: 0, column: 0 },
        }),
      ),
  };
};
