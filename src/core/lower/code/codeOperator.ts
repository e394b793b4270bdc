import { INPUT_NAMES, INPUTS } from '../../program/inputs.ts';
import { peephole } from '../../program/passes/peephole.ts';
import { createBuilder, nextFunction, type Builder } from '../../program/builder.ts';
import { componentsOf, type Type } from '../../program/types.ts';
import { reachable, type ProgramFunction, type Value } from '../../program/value.ts';
import type { Operator, OperatorInput } from '../../operators/declare.ts';
import { fail, SourceError, type Mistake } from '../../language/mistake.ts';
import { nearestName } from '../../language/nearest.ts';
import {
  analyseModule,
  visibleFrom,
  type Analysed,
  type AnalysedFunction,
} from '../../language/glsl/analyseModule.ts';
import { reachableFrom, sourceAsWritten } from '../../language/glsl/asWritten.ts';
import { one, programType, type GlslValue } from '../expression/glslValue.ts';
import { lowerBody } from './lowerFunction.ts';
import type { Surroundings } from './runner.ts';
import type { FunctionSource } from '../../language/glsl/syntax.ts';
import { Opaque } from '../expression/opaque.ts';

/** What code may read from around its step. */
export interface CodeScope {
  readonly resolve: (name: string) => Value | null;
  readonly names: () => Iterable<string>;
  /** Why a known name has no value here. */
  readonly explain: (name: string) => { readonly message: string; readonly follows: boolean } | null;
}

/** Declares a step's code as an operator: its last function's signature gives inputs and output. */
export type CodeSignature =
  | { readonly operator: Omit<Operator, 'lower'>; readonly code: Analysed; readonly mistake?: undefined }
  | { readonly operator?: undefined; readonly code?: undefined; readonly mistake: Mistake };

const inputOf = (name: string, type: Type): OperatorInput => {
  // A parameter called like something the shader is given reads it, unless the author says otherwise.
  const given = INPUT_NAMES.find((each) => each === name && INPUTS[each].type === type);
  if (given) return { type, default: given };
  if (type === 'sampler2D') return { type, default: [], reads: 'texture' };
  return { type, default: new Array<number>(componentsOf(type)).fill(0) };
};

/** What only a whole shader is handed. */
const HANDED: ReadonlySet<string> = new Set(['uniform', 'in', 'out', 'attribute', 'varying']);

const signatureOf = (code: Analysed): Omit<Operator, 'lower'> => {
  const { source } = code.main;
  for (const { qualifiers, names } of code.module.globals) {
    const [first] = names;
    const handed = qualifiers.find((each) => HANDED.has(each));
    if (handed)
      fail(
        first!,
        `${first!.name} is declared as ${handed}, which a step has none of; take the line out, and ${first!.name} is the strand or parameter of that name.`,
      );
  }
  const inputs = source.parameters.map((each) => {
    const type = each.brackets ? null : programType(each.type.name);
    if (each.way !== 'in')
      fail(each, `${each.name} is an ${each.way} parameter; a step gives back one value, with return.`);
    if (!type)
      fail(
        each,
        `${each.name} is a ${each.type.name}${each.brackets ? '[]' : ''}; a step's input is a float, int, uint, bool, vec2, vec3, vec4 or sampler2D.`,
      );
    return [each.name, inputOf(each.name, type!)] as const;
  });
  const gives = source.returns.brackets ? null : programType(source.returns.name);
  if (!gives || gives === 'sampler2D')
    fail(
      source.returns,
      `${source.name} gives back ${source.returns.name}${source.returns.brackets ? '[]' : ''}; a step's value is a float, int, uint, bool, vec2, vec3 or vec4.`,
    );
  return {
    name: source.name,
    family: 'value',
    summary: 'GLSL of your own.',
    inputs: Object.fromEntries(inputs),
    flow: inputs.find(([, input]) => input.type !== 'sampler2D')?.[0] ?? null,
  };
};

export const readCode = (text: string): CodeSignature => {
  const { code, mistake } = analyseModule(text);
  if (!code) return { mistake };
  try {
    return { operator: signatureOf(code), code };
  } catch (error) {
    if (error instanceof SourceError)
      return { mistake: { ...error.mistake, ...code.placeIn(error.mistake) } };
    throw error;
  }
};

/** Functions made so far, by everything their meaning depends on: the same source is the same function everywhere. */
const made = new Map<string, ProgramFunction>();
/** Why a function cannot be one of the program's, by the module it stands in: it is told with its place there. */
const refused = new Map<string, Opaque>();
const MOST_KEPT = 4000;
const MOST_REFUSED = 64;

/** A function's source with that of all it calls, and what is declared beside them. */
const sourceOf = (code: Analysed, fn: AnalysedFunction): string =>
  [
    ...[...reachableFrom(code, fn)].map(({ source }) => source),
    ...code.module.structs,
    ...code.module.globals,
  ]
    .map(({ from, to }) => code.text.slice(from, to))
    .join('\n');

/** True where a function can be one of the program's: it takes and gives what the program has, and changes nothing. */
const isFunctionAlone = (code: Analysed, { source, globals }: AnalysedFunction): boolean =>
  ![...globals].some((name) => code.globals.get(name)!.varies) &&
  [source.returns, ...source.parameters.map((each) => each.type)].every(
    (type) => programType(type.name) !== null && !type.brackets,
  ) &&
  source.parameters.every((each) => each.way === 'in' && !each.brackets);

/** Tries what may be refused; whoever needs it is told then. */
const attempt = (work: () => unknown): void => {
  try {
    work();
  } catch (error) {
    if (!(error instanceof Opaque) && !(error instanceof SourceError)) throw error;
  }
};

interface Lifted {
  readonly name: string;
  readonly type: Type;
}

/** A function of the module as one of the program; what it reads from outside become parameters of its own. */
const functionFor = (
  code: Analysed,
  fn: AnalysedFunction,
  typeOf: (name: string) => Type,
): ProgramFunction => {
  const lifted: Lifted[] = fn.free.map(({ name }) => ({ name, type: typeOf(name) }));
  const key = `${lifted.map((each) => each.type).join()} ${sourceOf(code, fn)}`;
  const before = made.get(key);
  if (before) return before;
  const place = `${lifted.map((each) => each.type).join()} ${fn.source.from} ${code.text}`;
  const why = refused.get(place);
  if (why) throw why;
  try {
    const whole = writeFunction(code, fn, typeOf, lifted);
    if (made.size >= MOST_KEPT) made.clear();
    made.set(key, whole);
    return whole;
  } catch (error) {
    // What cannot be held is found out once: writing it out takes its time.
    if (error instanceof Opaque) {
      if (refused.size >= MOST_REFUSED) refused.clear();
      refused.set(place, error);
    }
    throw error;
  }
};

const writeFunction = (
  code: Analysed,
  fn: AnalysedFunction,
  typeOf: (name: string) => Type,
  lifted: readonly Lifted[],
): ProgramFunction => {
  const b = createBuilder(peephole);
  const own = fn.source.parameters.map((each) => ({ name: each.name, type: programType(each.type.name)! }));
  const parameters = [...own, ...lifted];
  const args = parameters.map((each, i) => b.argument(each.type, i));
  const outside = new Map(lifted.map((each, i) => [each.name, one(args[own.length + i]!)]));
  /** A function that can be called as it is, and what it reads from outside; null where it has to be written out. */
  const calleeOf = (source: FunctionSource) => {
    const callee = code.functions.get(source)!;
    if (!isFunctionAlone(code, callee)) return null;
    return {
      fn: functionFor(code, callee, typeOf),
      free: callee.free.map((each) => outside.get(each.name)!.parts[0]!),
    };
  };
  const around: Surroundings = {
    outside: (name) => outside.get(name) ?? null,
    names: () => outside.keys(),
    globals: code.globals,
    globalsOf: (source) => {
      const { globals } = code.functions.get(source)!;
      return globals.size
        ? [...code.globals].flatMap(([name, each]) => (globals.has(name) ? [each] : []))
        : [];
    },
    structure: (name) => code.module.structs.find((each) => each.name === name),
    changes: (source) =>
      source.parameters.some((each) => each.way !== 'in') || code.functions.get(source)!.changesGlobals,
    functionsOf: (name, caller) => visibleFrom(caller, code.named.get(name) ?? []),
    callAsFunction: (inner, source, values) => {
      const called = calleeOf(source);
      return called && one(inner.call(called.fn, ...values.map((each) => each.parts[0]!), ...called.free));
    },
    iterateAsFunction: (inner, source, count, values) => {
      const called = calleeOf(source);
      if (!called || called.fn.parameters[1]?.type !== called.fn.result.type) return null;
      return one(
        inner.iterate(
          called.fn,
          count,
          values[0]!.parts[0]!,
          ...values.slice(1).map((each) => each.parts[0]!),
          ...called.free,
        ),
      );
    },
  };
  const result = lowerBody(b, fn.source, args.slice(0, own.length).map(one), around);
  const made: ProgramFunction = {
    ...{ id: nextFunction(), name: fn.source.name, parameters, result: result.parts[0]!, locals: b.locals },
  };
  const work = workOf(made);
  if (work > MOST_WORK)
    fail(
      fn.source.nameAt,
      `One call of ${fn.source.name} comes to ${Math.round(work).toLocaleString('en')} operations, the loops in it and in what it calls multiplied; at most ${MOST_WORK.toLocaleString('en')} are allowed.`,
    );
  return made;
};

/** Operations that one call may come to. */
const MOST_WORK = 4_000_000;
/** Rounds that a loop is taken to go where they are not known. */
const UNKNOWN_ROUNDS = 8;
const works = new WeakMap<ProgramFunction, number>();
/** How many operations one call of a function comes to, calls and loops in it counted as often as they run. */
const workOf = (fn: ProgramFunction): number => {
  const known = works.get(fn);
  if (known !== undefined) return known;
  let work = 0;
  for (const value of reachable([fn.result])) {
    const [count] = value.inputs;
    const rounds =
      value.op !== 'iterate'
        ? 1
        : count!.op === 'constant'
          ? Math.max((count!.payload as readonly number[])[0]!, 1)
          : UNKNOWN_ROUNDS;
    work += value.fn ? rounds * workOf(value.fn) : 1;
  }
  works.set(fn, work);
  return work;
};

const callFunction = (
  b: Builder,
  called: ProgramFunction,
  values: readonly GlslValue[],
  fn: AnalysedFunction,
  outside: ReadonlyMap<string, GlslValue>,
): Value =>
  b.call(
    called,
    ...values.map((each) => each.parts[0]!),
    ...fn.free.map((each) => outside.get(each.name)!.parts[0]!),
  );

const opaqueFunction = (code: Analysed, typeOf: (name: string) => Type, why: string): ProgramFunction => {
  const { source, free } = code.main;
  const b = createBuilder();
  const type = programType(source.returns.name)!;
  return {
    id: nextFunction(),
    name: source.name,
    parameters: [
      ...source.parameters.map((each) => ({ name: each.name, type: programType(each.type.name)! })),
      ...free.map(({ name }) => ({ name, type: typeOf(name) })),
    ],
    result: b.constant(type, new Array<number>(componentsOf(type)).fill(0)),
    locals: new Map(),
    opaque: {
      source: sourceAsWritten(code, typeOf),
      declares: [
        ...code.named.keys(),
        ...code.globals.keys(),
        ...code.module.structs.map((each) => each.name),
      ],
      main: source.name,
      why,
    },
  };
};

/**
 * Calls a step's code with its inputs.
 * @param note is told why, where the code can only run as written
 * @throws SourceError with a place in the code
 */
export const lowerCode: typeof lowerSettled = (b, code, inputs, scope, note) => {
  try {
    return lowerSettled(b, code, inputs, scope, (why, at) => note(why, code.placeIn(at)));
  } catch (error) {
    if (error instanceof SourceError)
      throw new SourceError({ ...error.mistake, ...code.placeIn(error.mistake) }, error.inCode);
    throw error;
  }
};

const lowerSettled = (
  b: Builder,
  code: Analysed,
  inputs: Readonly<Record<string, Value>>,
  scope: CodeScope,
  note: (why: string, at: { from: number; to: number }) => void,
): Value => {
  const outside = new Map<string, GlslValue>();
  for (const each of code.main.free) {
    const value = scope.resolve(each.name);
    if (value) outside.set(each.name, one(value));
    else {
      const why = scope.explain(each.name);
      const near = nearestName(each.name, scope.names());
      if (why) throw new SourceError({ from: each.from, to: each.to, ...why });
      fail(
        each,
        `Nothing is called “${each.name}” here.${near ? ` Did you mean ${near}?` : ''}`,
        near ? { label: `change to ${near}`, text: near } : undefined,
      );
    }
  }
  const typeOf = (name: string): Type => outside.get(name)!.type as Type;
  let called: ProgramFunction;
  try {
    const reached = reachableFrom(code, code.main);
    // Those that are called come first, so that none has to be made in the middle of another.
    for (const each of code.functions.values())
      if (reached.has(each) && isFunctionAlone(code, each)) attempt(() => functionFor(code, each, typeOf));
    called = functionFor(code, code.main, typeOf);
  } catch (error) {
    if (!(error instanceof Opaque)) throw error;
    note(error.why, error.at);
    called = opaqueFunction(code, typeOf, error.why);
  }
  const values = code.main.source.parameters.map((each) => one(inputs[each.name]!));
  return callFunction(b, called, values, code.main, outside);
};
