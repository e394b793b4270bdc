import {
  newQuickJSWASMModuleFromVariant,
  newVariant,
  shouldInterruptAfterDeadline,
  type QuickJSContext,
  type QuickJSHandle,
} from 'quickjs-emscripten-core';
import variant from '@jitl/quickjs-wasmfile-release-sync';
import { nearestName } from '#core/language/nearest.ts';
import { markLoops, type Marked } from './markLoops.ts';
import type { ScriptInput, ScriptMaterial, ScriptMistake, ScriptWrite, TickResult } from './protocol.ts';

/** A script may not hold more than this, the engine's own state among it. */
const MEMORY_BYTES = 64 * 1024 * 1024;
const PAGE_BYTES = 65_536;
const STACK_BYTES = 256 * 1024;
/** One tick, or one start, may not take longer. */
const DEADLINE_MS = 200;
/** Reading what a tick left behind may not take longer. */
const READING_MS = 50;
/** Promises that may be carried on in one tick. */
const MOST_JOBS = 10_000;

/** A gameplay script in its own JavaScript engine, with no page, no network and no clock. */
export interface Sandbox {
  /** Runs an author's script from its beginning; handlers of the one before are forgotten, values stay. */
  readonly load: (source: string) => TickResult;
  readonly tick: (inputs: readonly ScriptInput[]) => TickResult;
  readonly dispose: () => void;
}

export interface SandboxSetup {
  readonly materials: readonly ScriptMaterial[];
  readonly seed: number;
  /** The text of prelude.js, which each host loads in its own way. */
  readonly prelude: string;
}

const NAME = 'script.js';
/** Each script has a scope of its own, so that a changed one may declare the same names again. */
const OPEN = '(()=>{';
const CLOSE = '\n})()';

interface Thrown {
  readonly name: string;
  readonly message: string;
  readonly stack: string;
}

/** What the engine says, as a sentence, and where in the author's script. */
const readMistake = ({ name, message: text, stack }: Thrown, marked: Marked): ScriptMistake => {
  const place = new RegExp(`${NAME}:(\\d+)(?::(\\d+))?`).exec(stack);
  const message = /^interrupted$/.test(text)
    ? `This ran for more than ${DEADLINE_MS} ms in one tick and was stopped: does a loop here ever end?`
    : /out of memory/.test(text)
      ? `This used more than ${MEMORY_BYTES / 1024 / 1024} MB of memory and was stopped.`
      : /stack overflow|call stack/i.test(text)
        ? 'Functions here call each other too deep and were stopped: does the recursion ever end?'
        : name === 'SyntaxError'
          ? `This cannot be read as JavaScript: ${text}.`
          : text;
  const line = Number(place?.[1] ?? 0);
  const column = Number(place?.[2] ?? 0);
  const inScript = line === 1 ? Math.max(column - OPEN.length, 0) : column;
  return { message, line, column: Math.max(marked.columnAt(line, inScript), Math.min(inScript, 1)) };
};

const nothing = { writes: [], logs: [] } as const;

/** Takes from what a script left only what the materials have: the right number of finite numbers. */
const checkedWrites = (given: unknown, materials: readonly ScriptMaterial[]): ScriptWrite[] => {
  const sizes = new Map(
    materials.flatMap(({ id, parameters }) =>
      parameters.map(({ name, value }) => [`${id} ${name}`, value.length] as const),
    ),
  );
  if (!Array.isArray(given)) return [];
  return given.flatMap((each: unknown) => {
    if (!Array.isArray(each)) return [];
    const [material, parameter, value] = each as unknown[];
    const size = sizes.get(`${String(material)} ${String(parameter)}`);
    const fits =
      Array.isArray(value) &&
      value.length === size &&
      value.every((x) => typeof x === 'number' && Number.isFinite(x));
    return fits
      ? [{ material: String(material), parameter: String(parameter), value: value as number[] }]
      : [];
  });
};

const WORDS = ['describe', 'take', 'forget', 'tick', 'loopLine'] as const;

/** Starts an engine with the words of `prelude.js`. @throws Error when the engine itself cannot start */
export const createSandbox = async (setup: SandboxSetup): Promise<Sandbox> => {
  // The engine counts what it asks for one by one; its memory is what bounds the sum.
  const wasmMemory = new WebAssembly.Memory({
    initial: 256,
    maximum: MEMORY_BYTES / PAGE_BYTES,
  });
  const quickjs = await newQuickJSWASMModuleFromVariant(newVariant(variant, { wasmMemory }));
  const runtime = quickjs.newRuntime();
  runtime.setMemoryLimit(MEMORY_BYTES);
  runtime.setMaxStackSize(STACK_BYTES);
  const vm = runtime.newContext();
  provide(vm, setup);
  const own = vm.unwrapResult(vm.evalCode(setup.prelude, 'prelude.js'));
  const host = Object.fromEntries(WORDS.map((word) => [word, vm.getProp(own, word)])) as Record<
    (typeof WORDS)[number],
    QuickJSHandle
  >;
  own.dispose();
  let dead: ScriptMistake | null = null;
  let marked = markLoops('');

  /** Whatever runs in the engine runs until a deadline. */
  const within = <T>(milliseconds: number, work: () => T): T => {
    runtime.setInterruptHandler(shouldInterruptAfterDeadline(Date.now() + milliseconds));
    try {
      return work();
    } finally {
      runtime.removeInterruptHandler();
    }
  };
  /** The text that a function of the host's gives; null where even that had to be stopped. */
  const ask = (word: keyof typeof host, ...args: readonly QuickJSHandle[]): string | null =>
    within(READING_MS, () => {
      const result = vm.callFunction(host[word], vm.undefined, ...args);
      const text = result.error ? null : vm.getString(result.value);
      (result.error ?? result.value).dispose();
      return text;
    });
  const describe = (error: QuickJSHandle): Thrown => {
    const text = ask('describe', error);
    if (text === null) return { name: '', message: 'interrupted', stack: '' };
    const [name, message, stack] = JSON.parse(text) as [string, string, string];
    return { name, message, stack };
  };
  const mistakeOf = (error: QuickJSHandle): ScriptMistake => {
    const mistake = readMistake(describe(error), marked);
    error.dispose();
    return /was stopped|were stopped/.test(mistake.message) ? atItsLoop(mistake) : mistake;
  };

  const attempt = (work: () => ReturnType<QuickJSContext['evalCode']>): ScriptMistake | null => {
    const failed = within(DEADLINE_MS, () => {
      const result = work();
      if (result.error) return result.error;
      result.value.dispose();
      // What awaits goes on in the tick that it is ready in.
      const jobs = runtime.executePendingJobs(MOST_JOBS);
      if (jobs.error) return jobs.error;
      jobs.dispose();
      return null;
    });
    return failed && mistakeOf(failed);
  };
  /** A script that had to be stopped was most likely in the loop it entered last. */
  const atItsLoop = (mistake: ScriptMistake): ScriptMistake => {
    const line = Number(ask('loopLine') ?? 0);
    return line ? { ...mistake, line, column: 1 } : mistake;
  };
  const take = (): { writes: readonly ScriptWrite[]; logs: readonly string[] } => {
    const text = ask('take');
    if (text === null) return nothing;
    try {
      const { writes, logs } = JSON.parse(text) as { writes: unknown; logs: unknown };
      return {
        writes: checkedWrites(writes, setup.materials),
        logs: Array.isArray(logs) ? logs.filter((line) => typeof line === 'string') : [],
      };
    } catch {
      return nothing;
    }
  };
  const finish = (mistake: ScriptMistake | null): TickResult => {
    dead = mistake;
    return { ...take(), mistake };
  };

  return {
    load: (source) => {
      ask('forget');
      marked = markLoops(source);
      return finish(
        attempt(() => vm.evalCode(OPEN + marked.source + CLOSE, NAME, { type: 'global', strict: true })),
      );
    },
    tick: (inputs) => {
      if (dead) return { ...nothing, mistake: dead };
      const given = vm.newString(JSON.stringify(inputs));
      const result = finish(attempt(() => vm.callFunction(host.tick, vm.undefined, given)));
      given.dispose();
      return result;
    },
    dispose: () => {
      for (const word of WORDS) host[word].dispose();
      vm.dispose();
      runtime.dispose();
    },
  };
};

const provide = (vm: QuickJSContext, { materials, seed }: SandboxSetup): void => {
  const setup = vm.newString(JSON.stringify({ materials, seed }));
  vm.setProp(vm.global, '__setup', setup);
  setup.dispose();
  const nearest = vm.newFunction('__nearest', (wanted, known) =>
    vm.newString(nearestName(vm.getString(wanted), JSON.parse(vm.getString(known)) as string[]) ?? ''),
  );
  vm.setProp(vm.global, '__nearest', nearest);
  nearest.dispose();
};
