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
import type { RehearsalInput } from '#core/time/inputs.ts';
import type { ParameterValue } from '#core/document/shader.ts';
import type { MovedProp } from '#core/time/world.ts';
import type {
  CueCall,
  ScriptMaterial,
  ScriptMistake,
  ScriptSet,
  ScriptWrite,
  TickNews,
  TickResult,
} from './protocol.ts';

/** A script may not hold more than this, the engine's own state among it. */
const MEMORY_BYTES = 64 * 1024 * 1024;
const PAGE_BYTES = 65_536;
/** The engine's recursion in its own C code uses more of the host's stack than it counts: with 80 KB, the host's ends first. */
const STACK_BYTES = 64 * 1024;
/** Brackets, blocks and functions inside each other: the engine's parser recurses over them. */
const DEEPEST = 400;
/** One tick, or one start, may not take longer. */
const DEADLINE_MS = 200;
/** Reading what a tick left behind may not take longer. */
const READING_MS = 50;
/** Promises that may be carried on in one tick. */
const MOST_JOBS = 10_000;

/** Gameplay scripts in a JavaScript engine of their own, with no page, no network and no clock. */
export interface Sandbox {
  /**
   * Runs an author's script from its beginning; handlers of the one that was in its place are forgotten, values stay.
   * @param which its place among the scripts, from 0
   */
  readonly load: (source: string, which?: number) => TickResult;
  readonly tick: (inputs: readonly RehearsalInput[], news?: TickNews) => TickResult;
  readonly dispose: () => void;
}

export interface SandboxSetup {
  readonly materials: readonly ScriptMaterial[];
  readonly set?: ScriptSet;
  /** Where something of the set is in the world; null where it is nowhere. */
  readonly placeOf?: (what: string) => readonly number[] | null;
  /** What rules and cues drive a parameter to in this tick; null where they do not. */
  readonly drivenTo?: (material: string, parameter: string) => ParameterValue | null;
  readonly seed: number;
  /** Called with the script that runs, from 0, and the line of the handler or loop it entered; 0 where it has none. */
  readonly onEnter?: (script: number, line: number) => void;
  /** What `joinPrelude` makes, whose parts each host loads in its own way. */
  readonly prelude: string;
}

const nameOf = (which: number): string => `script-${which}.js`;
/** Each script has a scope of its own, so that a changed one may declare the same names again, and those of words too. */
const openWith = (names: string): string => `((__words)=>{const{${names}}=__words;{`;
const CLOSE = '\n}})';

interface Thrown {
  readonly name: string;
  readonly message: string;
  readonly stack: string;
}

/** What the engine says, as a sentence, and where in the author's script. */
const readMistake = (
  { name, message: text, stack }: Thrown,
  { script, marked, open }: { readonly script: number; readonly marked: Marked; readonly open: string },
): ScriptMistake => {
  const place = new RegExp(`${nameOf(script)}:(\\d+)(?::(\\d+))?`).exec(stack);
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
  const inScript = line === 1 ? Math.max(column - open.length, 0) : column;
  return { script, message, line, column: Math.max(marked.columnAt(line, inScript), Math.min(inScript, 1)) };
};

const nothing = {
  mistakes: [],
  writes: [],
  logs: [],
  moves: new Map<string, MovedProp>(),
  calls: [],
} as const;
const tooDeep = (script: number): ScriptMistake => ({
  ...{ script, line: 1, column: 1 },
  message: `This is nested more than ${DEEPEST} levels deep; move inner parts to functions of their own.`,
});
const isFinite = (x: unknown): x is number => typeof x === 'number' && Number.isFinite(x);

/** Takes from what a script left only props there are, and places they can have. */
const checkedMoves = (given: unknown, { props }: ScriptSet): ReadonlyMap<string, MovedProp> => {
  const moves = new Map<string, MovedProp>();
  const from = (given ?? {}) as Readonly<Record<string, Readonly<Record<string, unknown>> | undefined>>;
  for (const { id } of props) {
    const own = Object.hasOwn(from, id) ? from[id] : undefined;
    if (!own) continue;
    const three = ['position', 'rotation', 'scale'].flatMap((field) => {
      const value = own[field];
      return Array.isArray(value) && value.length === 3 && value.every(isFinite) ? [[field, value]] : [];
    });
    const hidden = typeof own['hidden'] === 'boolean' ? { hidden: own['hidden'] } : {};
    moves.set(id, { ...(Object.fromEntries(three) as MovedProp), ...hidden });
  }
  return moves;
};

const isTriple = (given: unknown): given is [number, number, number] =>
  Array.isArray(given) && given.length === 3 && given.every(isFinite);
const checkedCalls = (given: unknown, { cues, flourishes }: ScriptSet): readonly CueCall[] =>
  (Array.isArray(given) ? given : []).flatMap((each: unknown): CueCall[] => {
    const [kind, cue, at, up] = (Array.isArray(each) ? each : []) as unknown[];
    if (kind === 'flourish' || kind === 'douse') {
      const flourish = flourishes.find(({ id }) => id === cue)?.id;
      if (flourish === undefined) return [];
      if (kind === 'douse') return [{ kind, flourish }];
      return [{ kind, flourish, ...(isTriple(at) ? { point: at } : {}), ...(isTriple(up) ? { up } : {}) }];
    }
    if (typeof cue !== 'string' || !cues.some(({ id }) => id === cue)) return [];
    if (kind === 'play') return [{ kind, cue, ...(isFinite(at) ? { at } : {}) }];
    if (kind === 'end') return [{ kind, cue }];
    return kind === 'seek' && isFinite(at) ? [{ kind, cue, at }] : [];
  });

/** A parameter of a material, and where its numbers stand among those that cross from a script, as prelude/host.js lays them. */
interface Slot {
  readonly material: string;
  readonly parameter: string;
  readonly offset: number;
  readonly size: number;
}
const slotsOf = (materials: readonly ScriptMaterial[]): readonly Slot[] => {
  let offset = 0;
  return materials.flatMap(({ id, parameters }) =>
    parameters.map(({ name, value }) => {
      const slot = { material: id, parameter: name, offset, size: value.length };
      offset += value.length;
      return slot;
    }),
  );
};

const WORDS = ['describe', 'take', 'forget', 'begin', 'end', 'tick', 'check', 'running'] as const;
const EMPTY: ScriptSet = { props: [], cues: [], flourishes: [] };

/** Starts an engine with the words of the prelude. @throws Error when the engine itself cannot start */
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
  const [order, store] = [vm.getProp(own, 'order'), vm.getProp(own, 'store')];
  const open = openWith(vm.getProp(own, 'names').consume((names) => vm.getString(names)));
  own.dispose();
  const slots = slotsOf(setup.materials);
  /** The scripts as they run, and how many of them go on. */
  const all: Marked[] = [];
  const going = new Set<number>();
  /** Whether what ran last was stopped by its deadline: what the engine was in the middle of then says so in words of its own. */
  let late = false;

  /** Whatever runs in the engine runs until a deadline. */
  const within = <T>(milliseconds: number, work: () => T): T => {
    const isOver = shouldInterruptAfterDeadline(Date.now() + milliseconds);
    late = false;
    runtime.setInterruptHandler((running) => {
      const stops = isOver(running) === true;
      late ||= stops;
      return stops;
    });
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
  const numbered = <T>(which: number, work: (handle: QuickJSHandle) => T): T =>
    vm.newNumber(which).consume(work);
  const describe = (error: QuickJSHandle): Thrown => {
    const text = ask('describe', error);
    if (text === null) return { name: '', message: 'interrupted', stack: '' };
    const [name, message, stack] = JSON.parse(text) as [string, string, string];
    return { name, message, stack };
  };
  /** What the engine stopped at, and in which script: where its stack says so, else the one that ran last. */
  const mistakeOf = (error: QuickJSHandle, stopped: boolean): ScriptMistake => {
    const thrown = describe(error);
    error.dispose();
    const [last, loop] = (ask('running') ?? '0 0').split(' ').map(Number) as [number, number];
    const script = Number(/script-(\d+)\.js:/.exec(thrown.stack)?.[1] ?? last);
    const marked = all[script] ?? all[0]!;
    const read = readMistake(stopped ? { ...thrown, message: 'interrupted' } : thrown, {
      script,
      marked,
      open,
    });
    // A script that had to be stopped was most likely in the loop it entered last.
    const isLooping = /was stopped|were stopped/.test(read.message) && loop > 0 && script === last;
    numbered(script, (handle) => ask('end', handle));
    return isLooping ? { ...read, line: loop, column: 1 } : read;
  };
  /**
   * What went wrong in what scripts await. Where the engine was stopped in there, the last of it is that, told in words of
   * whatever it was in the middle of.
   */
  const readChecked = (text: string, stopped: boolean): ScriptMistake[] => {
    const thrown = text ? (JSON.parse(text) as [number, [string, string, string]][]) : [];
    return thrown.map(([script, [name, message, stack]], i) =>
      readMistake(
        { name, message: stopped && i === thrown.length - 1 ? 'interrupted' : message, stack },
        { script, marked: all[script]!, open },
      ),
    );
  };

  const attempt = (work: () => ReturnType<QuickJSContext['evalCode']>): ScriptMistake[] => {
    let told = '';
    const failed = within(DEADLINE_MS, () => {
      const result = work();
      if (result.error) return result.error;
      result.value.dispose();
      // What awaits goes on in the tick that it is ready in.
      const jobs = runtime.executePendingJobs(MOST_JOBS);
      if (jobs.error) return jobs.error;
      jobs.dispose();
      const left = vm.callFunction(host.check, vm.undefined);
      if (left.error) return left.error;
      told = left.value.consume((text) => vm.getString(text));
      return null;
    });
    const stopped = late;
    const mistakes = [...(failed ? [mistakeOf(failed, stopped)] : []), ...readChecked(told, stopped)];
    for (const { script } of mistakes) going.delete(script);
    return mistakes;
  };
  /** The bytes of a buffer of the engine's. */
  const bytesOf = (buffer: QuickJSHandle): ArrayBuffer =>
    vm.getArrayBuffer(buffer).consume(({ value }) => value.slice().buffer as ArrayBuffer);
  /** What was set: of places there are, and finite numbers alone. */
  const takeWrites = (): ScriptWrite[] => {
    const places = new Int32Array(bytesOf(order));
    const count = places[0]!;
    if (!count) return [];
    const numbers = new Float64Array(bytesOf(store));
    return [...places.subarray(1, 1 + count)].flatMap((place): ScriptWrite[] => {
      const slot = slots[place];
      if (!slot) return [];
      const { material, parameter, offset, size } = slot;
      const value = [...numbers.subarray(offset, offset + size)];
      return value.every(isFinite) ? [{ material, parameter, value }] : [];
    });
  };
  const set = setup.set ?? EMPTY;
  const take = (): Omit<TickResult, 'mistakes'> => {
    const text = ask('take');
    if (text === null) return nothing;
    const writes = takeWrites();
    if (!text) return { ...nothing, writes };
    try {
      const { logs, moves, calls } = JSON.parse(text) as Readonly<Record<string, unknown>>;
      return {
        writes,
        moves: checkedMoves(moves, set),
        calls: checkedCalls(calls, set),
        logs: Array.isArray(logs) ? logs.filter((line) => typeof line === 'string') : [],
      };
    } catch {
      return nothing;
    }
  };
  const finish = (mistakes: readonly ScriptMistake[]): TickResult => ({ ...take(), mistakes });

  return {
    load: (source, which = 0) => {
      numbered(which, (handle) => ask('forget', handle));
      const marked = markLoops(source);
      all[which] = marked;
      if (marked.depth > DEEPEST) return finish([tooDeep(which)]);
      going.add(which);
      setup.onEnter?.(which, 0);
      return finish(
        attempt(() => {
          const code = open + marked.source + CLOSE;
          const made = vm.evalCode(code, nameOf(which), { type: 'global', strict: true });
          if (made.error) return made;
          return made.value.consume((script) =>
            numbered(which, (handle) => vm.callFunction(host.begin, vm.undefined, handle, script)),
          );
        }),
      );
    },
    tick: (inputs, news) => {
      if (!going.size) return nothing;
      const given = vm.newString(JSON.stringify({ inputs, news }));
      const result = finish(attempt(() => vm.callFunction(host.tick, vm.undefined, given)));
      given.dispose();
      return result;
    },
    dispose: () => {
      for (const word of WORDS) host[word].dispose();
      order.dispose();
      store.dispose();
      vm.dispose();
      runtime.dispose();
    },
  };
};

const provide = (
  vm: QuickJSContext,
  { materials, set = EMPTY, placeOf, drivenTo, onEnter, seed }: SandboxSetup,
): void => {
  const setup = vm.newString(JSON.stringify({ materials, ...set, seed }));
  vm.setProp(vm.global, '__setup', setup);
  setup.dispose();
  const nearest = vm.newFunction('__nearest', (wanted, known) =>
    vm.newString(nearestName(vm.getString(wanted), JSON.parse(vm.getString(known)) as string[]) ?? ''),
  );
  vm.setProp(vm.global, '__nearest', nearest);
  nearest.dispose();
  const place = vm.newFunction('__place', (id) =>
    vm.newString(JSON.stringify(placeOf?.(vm.getString(id)) ?? null)),
  );
  vm.setProp(vm.global, '__place', place);
  place.dispose();
  const slots = slotsOf(materials);
  const under = vm.newFunction('__under', (at) => {
    const slot = slots[vm.getNumber(at)];
    return vm.newString(JSON.stringify((slot && drivenTo?.(slot.material, slot.parameter)) ?? null));
  });
  vm.setProp(vm.global, '__under', under);
  under.dispose();
  const enter = vm.newFunction('__enter', (script, line) => {
    onEnter?.(vm.getNumber(script), vm.getNumber(line));
    return vm.undefined;
  });
  vm.setProp(vm.global, '__enter', enter);
  enter.dispose();
};
