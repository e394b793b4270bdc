import {
  newQuickJSWASMModuleFromVariant,
  shouldInterruptAfterDeadline,
  type QuickJSContext,
  type QuickJSHandle,
} from 'quickjs-emscripten-core';
import variant from '@jitl/quickjs-wasmfile-release-sync';
import { nearestName } from '#core/language/nearest.ts';
import { markLoops, type Marked } from './markLoops.ts';
import type { ScriptInput, ScriptMaterial, ScriptMistake, ScriptWrite, TickResult } from './protocol.ts';

/** A script may not hold more than this. */
const MEMORY_BYTES = 32 * 1024 * 1024;
const STACK_BYTES = 256 * 1024;
/** One tick, or one start, may not take longer. */
const DEADLINE_MS = 200;

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

/** What the engine says, as a sentence, and where in the author's script. */
const readMistake = (error: unknown, marked: Marked): ScriptMistake => {
  const thrown = (typeof error === 'object' && error !== null ? error : {}) as Record<string, unknown>;
  const text = String(thrown['message'] ?? error);
  const name = String(thrown['name'] ?? '');
  const place = new RegExp(`${NAME}:(\\d+)(?::(\\d+))?`).exec(String(thrown['stack'] ?? ''));
  const message = /interrupted/.test(text)
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

/** Starts an engine with the words of `prelude.js`. @throws Error when the engine itself cannot start */
export const createSandbox = async (setup: SandboxSetup): Promise<Sandbox> => {
  const quickjs = await newQuickJSWASMModuleFromVariant(variant);
  const runtime = quickjs.newRuntime();
  runtime.setMemoryLimit(MEMORY_BYTES);
  runtime.setMaxStackSize(STACK_BYTES);
  const vm = runtime.newContext();
  provide(vm, setup);
  vm.unwrapResult(vm.evalCode(setup.prelude, 'prelude.js')).dispose();
  let dead: ScriptMistake | null = null;
  let marked = markLoops('');

  const attempt = (work: () => ReturnType<QuickJSContext['evalCode']>): ScriptMistake | null => {
    runtime.setInterruptHandler(shouldInterruptAfterDeadline(Date.now() + DEADLINE_MS));
    const result = work();
    runtime.removeInterruptHandler();
    if (result.error) {
      const mistake = readMistake(vm.dump(result.error), marked);
      result.error.dispose();
      return /was stopped/.test(mistake.message) ? atItsLoop(mistake) : mistake;
    }
    result.value.dispose();
    return null;
  };
  const callGlobal = (name: string, ...args: QuickJSHandle[]) => {
    const fn = vm.getProp(vm.global, name);
    try {
      return vm.callFunction(fn, vm.undefined, ...args);
    } finally {
      fn.dispose();
      for (const arg of args) arg.dispose();
    }
  };
  /** A script that had to be stopped was most likely in the loop it entered last. */
  const atItsLoop = (mistake: ScriptMistake): ScriptMistake => {
    const result = callGlobal('__loopLine');
    const line = result.error ? 0 : vm.getNumber(result.value);
    (result.error ?? result.value).dispose();
    return line ? { ...mistake, line, column: 1 } : mistake;
  };
  const take = (): { writes: readonly ScriptWrite[]; logs: readonly string[] } => {
    const result = callGlobal('__take');
    if (result.error) {
      result.error.dispose();
      return nothing;
    }
    const text = vm.getString(result.value);
    result.value.dispose();
    return JSON.parse(text) as { writes: ScriptWrite[]; logs: string[] };
  };
  const finish = (mistake: ScriptMistake | null): TickResult => {
    dead = mistake;
    return { ...take(), mistake };
  };

  return {
    load: (source) => {
      const forgotten = callGlobal('__forget');
      (forgotten.error ?? forgotten.value).dispose();
      marked = markLoops(source);
      return finish(
        attempt(() => vm.evalCode(OPEN + marked.source + CLOSE, NAME, { type: 'global', strict: true })),
      );
    },
    tick: (inputs) => {
      if (dead) return { ...nothing, mistake: dead };
      return finish(attempt(() => callGlobal('__tick', vm.newString(JSON.stringify(inputs)))));
    },
    dispose: () => {
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
