import type { InputName } from './inputs.ts';
import type { PrimitiveName } from './primitives.ts';
import type { Type } from './types.ts';

/** Where a value was authored, so that errors, costs and generated names can point back at it. */
export interface Origin {
  readonly strand: string;
  readonly step: string;
}

/**
 * One value of the typed program, in single-assignment form. Equal operations on equal inputs are the same
 * object (the builder hash-conses), and an input's `id` is always smaller than its user's.
 */
export interface Value {
  readonly id: number;
  readonly op: LeafName | PrimitiveName | 'call' | 'iterate';
  readonly type: Type;
  readonly inputs: readonly Value[];
  /** What the op needs besides inputs: a constant's numbers, a name, a swizzle, an argument's index. */
  readonly payload: string | number | readonly number[] | null;
  /** The called function, for `call` and `iterate`. */
  readonly fn: ProgramFunction | null;
  readonly origin: Origin | null;
}

/** Values that come from outside the program rather than from other values. */
export type LeafName = 'constant' | 'knob' | 'parameter' | 'input' | 'argument';

/** A piece emitted once and called: noise, normal blending and the like. Pure; its body sees only its arguments. */
export interface ProgramFunction {
  /** Tells functions apart: two may be called the same by their authors. */
  readonly id: number;
  /** What it is called where that name is free. */
  readonly name: string;
  readonly parameters: readonly { readonly name: string; readonly type: Type }[];
  readonly result: Value;
  /** Names for values inside the body, for readable output. */
  readonly locals: ReadonlyMap<Value, string>;
  /** True where its numbers are known to stay within what a whole number holds. */
  readonly withinWholes?: boolean;
  /** Present where the body cannot be held as values: `result` only tells the type. */
  readonly opaque?: OpaqueSource;
}

/** GLSL that runs on the graphics card as its author wrote it, and nowhere else. */
export interface OpaqueSource {
  readonly source: string;
  /** Names declared at its top, so that they can be kept from clashing; the function's own is among them. */
  readonly declares: readonly string[];
  /** The name of the function that is called. */
  readonly main: string;
  /** Why the program cannot hold it, as the end of a sentence. */
  readonly why: string;
}

/** One place whose value can be looked at alone: a step of a strand, or an output of the surface. */
export interface Tap {
  readonly strand: string;
  readonly step: string;
  /** The name the value carries in generated source. */
  readonly label: string;
  readonly value: Value;
}

export interface ProgramParameter {
  readonly name: string;
  readonly type: Type;
  readonly scope: 'material' | 'shared' | 'lifetime';
}

export type Stage = 'vertex' | 'fragment';

/** What an entry point writes: its type, and what it stands at where its author wrote nothing: numbers, or an input. */
export interface OutputDeclaration {
  readonly name: string;
  readonly type: Type;
  readonly start: readonly number[] | InputName;
}

/** What becomes of a pixel's outputs: whether they are lit, and how they meet what stands behind them. */
export interface Shading {
  readonly lit: boolean;
  readonly alphaMode: 'opaque' | 'cutout' | 'blended' | 'added';
}

/** Where a stage begins, and what it writes, in the order in which it is written. */
export type EntryPoint =
  | { readonly stage: 'vertex'; readonly outputs: readonly OutputDeclaration[] }
  | {
      readonly stage: 'fragment';
      readonly outputs: readonly OutputDeclaration[];
      readonly shading: Shading;
    };

/** A whole shader as values: `outputs` by name, whatever is authored of them; `taps` every step in authored order. */
export interface Program {
  readonly entries: readonly EntryPoint[];
  readonly outputs: Readonly<Record<string, Value>>;
  readonly taps: readonly Tap[];
  readonly parameters: readonly ProgramParameter[];
}

/** What a parameter is read as; null where nothing reads it. */
export const typeOfParameter = ({ parameters }: Program, name: string): Type | null =>
  parameters.find((each) => each.name === name)?.type ?? null;

/** Every value the roots depend on, inputs before users. Iterative, so depth is no limit. */
export const reachable = (roots: readonly Value[]): Value[] => reachableInside(roots, () => true);

/** Like `reachable`, but looks behind only those values that are `open`. The roots are of one program. */
export const reachableInside = (roots: readonly Value[], open: (value: Value) => boolean): Value[] => {
  // An id is smaller than its user's: one walk down the ids meets every value after all its users.
  let last = -1;
  for (const { id } of roots) last = Math.max(last, id);
  const found = new Array<Value | undefined>(last + 1);
  for (const root of roots) {
    if (found[root.id] && found[root.id] !== root) throw new Error('the values belong to different programs');
    found[root.id] = root;
  }
  let count = 0;
  for (let id = last; id >= 0; id -= 1) {
    const value = found[id];
    if (!value) continue;
    count += 1;
    if (open(value)) for (const input of value.inputs) found[input.id] = input;
  }
  const values = new Array<Value>(count);
  for (let id = last; id >= 0; id -= 1) if (found[id]) values[(count -= 1)] = found[id]!;
  return values;
};

/** Every function the values call, callees before callers. */
export const functionsOf = (values: readonly Value[]): ProgramFunction[] => {
  const found = new Set<ProgramFunction>();
  const visit = (list: readonly Value[]) => {
    for (const { fn } of list)
      if (fn && !found.has(fn)) {
        visit(reachable([fn.result]));
        found.add(fn);
      }
  };
  visit(values);
  return [...found];
};

/** What the entry point of a stage writes. */
export const declaredIn = ({ entries }: Program, stage: Stage): readonly OutputDeclaration[] =>
  entries.flatMap((each) => (each.stage === stage ? each.outputs : []));

const PLAIN: Shading = { lit: false, alphaMode: 'opaque' };
/** How a program's pixels are shaded. */
export const shadingOf = ({ entries }: Program): Shading =>
  entries.find((each) => each.stage === 'fragment')?.shading ?? PLAIN;

/** The authored values that the entry point of a stage writes. */
export const writtenBy = (program: Program, stage: Stage): Value[] =>
  declaredIn(program, stage).flatMap(({ name }) => program.outputs[name] ?? []);

export const rootsOf = (program: Program): Value[] => [
  ...program.taps.map((tap) => tap.value),
  ...Object.values(program.outputs),
];

/** The whole offset in texels that a read of a texture carries, or null. */
export const offsetOf = ({ payload }: Value): readonly number[] | null =>
  Array.isArray(payload) ? (payload as readonly number[]) : null;
