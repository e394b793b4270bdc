import { codeNames } from '../../language/codeNames.ts';
import {
  functionsOf,
  reachable,
  reachableInside,
  type ProgramFunction,
  type Value,
} from '../../program/value.ts';
import { isSampler, type Type } from '../../program/types.ts';
import { atom, isName, type Dialect, type Line, type Spelled } from './dialect.ts';

/** What an unnamed value is called, so that it reads as a noun and hides no built-in function. */
const NOUNS: Readonly<Record<string, string>> = {
  add: 'sum',
  subtract: 'difference',
  multiply: 'product',
  divide: 'ratio',
  mix: 'blend',
  construct: 'joined',
  swizzle: 'part',
  select: 'choice',
  clamp: 'clamped',
  convert: 'number',
  bitXor: 'bits',
};
const nounFor = (value: Value): string =>
  value.fn ? `${value.fn.name}Value` : (NOUNS[value.op] ?? `${value.op}Value`);

/** Longer expressions are given a name of their own. */
const LONGEST = 88;

export interface Naming {
  /** Names wished for values: strands, steps, locals of a function. */
  readonly wished: ReadonlyMap<Value, string>;
  /** How values from outside are read: parameters, knobs, arguments, uniforms. */
  readonly outside: (value: Value) => string | null;
  /** Names already taken; those given out are added. */
  readonly taken: Set<string>;
  /** What each function is called. */
  readonly functions: ReadonlyMap<ProgramFunction, string>;
  /** What there is to write, inputs first, where that is known already. */
  readonly values?: readonly Value[];
  /** A comment to stand before the first line of a strand. */
  readonly heading?: (strand: string) => string | null;
}

export interface Statements {
  readonly lines: readonly Line[];
  /** Source for a value that has been spelled. */
  readonly textOf: (value: Value) => string;
}

/** The figure that each wish has come to: names are only ever added, so that none below it is free again. */
const figures = new WeakMap<Set<string>, Map<string, number>>();
const freshName = (wish: string, taken: Set<string>): string => {
  let reached = figures.get(taken);
  if (!reached) figures.set(taken, (reached = new Map()));
  let name = wish;
  let n = reached.get(wish) ?? 2;
  for (; taken.has(name); n += 1) name = `${wish}${n}`;
  reached.set(wish, n);
  taken.add(name);
  return name;
};

/** How often each value is read, by its id. */
const usesOf = (values: readonly Value[], roots: readonly Value[], naming: Naming): Uint32Array => {
  const uses = new Uint32Array((values.at(-1)?.id ?? -1) + 1);
  for (const value of values)
    if (naming.outside(value) === null)
      for (const input of value.inputs) uses[input.id] = uses[input.id]! + 1;
  for (const root of roots) uses[root.id] = uses[root.id]! + 1;
  return uses;
};

/**
 * Writes values as statements, in authored order: a line for each named or shared value, the rest inline.
 * Values that `outside` names are read, not computed, and what only they need is not written.
 */
export const writeStatements = (dialect: Dialect, roots: readonly Value[], naming: Naming): Statements => {
  const values = naming.values ?? reachableInside(roots, (value) => naming.outside(value) === null);
  const uses = usesOf(values, roots, naming);
  const isRoot = new Set(roots);
  /** By id. */
  const spelled = new Array<Spelled | undefined>(uses.length);
  const lines: Line[] = [];
  let strand: string | null = null;

  const put = (value: Value, texts: readonly string[]) => {
    const step = value.origin?.step ?? null;
    for (const text of texts) lines.push({ text, step });
  };
  const assign = (value: Value, text: string, wish: string) => {
    const place = value.origin?.strand ?? null;
    if (place !== strand) {
      strand = place;
      const heading = place === null ? null : naming.heading?.(place);
      if (heading) lines.push({ text: `// ${heading}`, step: null });
    }
    const name = freshName(wish, naming.taken);
    put(value, [dialect.declare(value.type, name, text)]);
    spelled[value.id] = atom(name);
  };

  for (const value of values) {
    const read = naming.outside(value);
    if (read !== null) {
      spelled[value.id] = atom(read);
      continue;
    }
    const wish = naming.wished.get(value);
    const called = value.fn ? naming.functions.get(value.fn)! : '';
    if (value.op === 'iterate') {
      const name = freshName(wish ?? value.fn!.name + 'Sum', naming.taken);
      const [count, initial, ...rest] = value.inputs.map((input) => spelled[input.id]!.text);
      const call = `${called}(${['i', name, ...rest].join(', ')})`;
      put(value, dialect.loop(value.type, name, initial!, count!, call));
      spelled[value.id] = atom(name);
      continue;
    }
    const made = dialect.spell(
      value,
      value.inputs.map((input) => spelled[input.id]!),
      called,
    );
    const shared = uses[value.id]! > 1;
    const long = made.text.length > LONGEST && !isRoot.has(value);
    if (!isName(value) && !isSampler(value.type) && (wish !== undefined || shared || long))
      assign(
        value,
        made.text,
        wish ?? (value.origin ? `${value.origin.strand}_${nounFor(value)}` : nounFor(value)),
      );
    else spelled[value.id] = made;
  }
  return { lines, textOf: (value) => spelled[value.id]!.text };
};

/** Gives each function the name it wishes, or that with a figure where it is taken already. */
export const nameFunctions = (
  functions: readonly ProgramFunction[],
  taken: Set<string>,
): Map<ProgramFunction, string> => new Map(functions.map((fn) => [fn, freshName(fn.name, taken)]));

const RENAMED_SINCE = [
  ['texture2D', 'texture'],
  ['texture2DProj', 'textureProj'],
  ['texture2DLod', 'textureLod'],
  ['texture2DLodEXT', 'textureLod'],
  ['texture2DGradEXT', 'textureGrad'],
] as const;

/** GLSL as its author wrote it, with what it declares renamed where a name is taken. */
const writeOpaque = (fn: ProgramFunction, name: string, taken: Set<string>): string => {
  const { source, declares, main } = fn.opaque!;
  const names = new Map(
    declares.map((each) => [each, each === main ? name : taken.has(each) ? freshName(each, taken) : each]),
  );
  for (const each of names.values()) taken.add(each);
  // What GLSL ES 1.00 called otherwise.
  for (const [before, now] of RENAMED_SINCE) names.set(before, now);
  let text = source;
  for (const each of codeNames(source).reverse()) {
    const renamed = names.get(each.name);
    if (renamed !== undefined) text = text.slice(0, each.from) + renamed + text.slice(each.to);
  }
  return text;
};

/** One function's source, as a person would write it. */
export const writeFunction = (
  dialect: Dialect,
  fn: ProgramFunction,
  functions: ReadonlyMap<ProgramFunction, string>,
  names: Set<string>,
): string => {
  const name = functions.get(fn)!;
  if (fn.opaque) return writeOpaque(fn, name, names);
  // The counter of a loop is i.
  const loops = reachable([fn.result]).some((value) => value.op === 'iterate');
  const taken = new Set([...dialect.reserved, ...functions.values(), ...(loops ? ['i'] : [])]);
  const parameters = fn.parameters.map((each) => ({ ...each, name: freshName(each.name, taken) }));
  const { lines, textOf } = writeStatements(dialect, [fn.result], {
    wished: fn.locals,
    functions,
    outside: (value) => {
      if (value.op !== 'argument') return null;
      const parameter = parameters[value.payload as number]!;
      return dialect.parameter(parameter.name, parameter.type);
    },
    taken,
  });
  const body = [...lines.map((line) => line.text), `return ${textOf(fn.result)};`];
  return dialect.functionOf(fn, name, parameters, body);
};

/** Source of all the functions and definitions that the values need. */
export const writeFunctions = (
  dialect: Dialect,
  values: readonly Value[],
  functions: ReadonlyMap<ProgramFunction, string> = nameFunctions(
    functionsOf(values),
    new Set(dialect.reserved),
  ),
): string[] => {
  const used = functionsOf(values);
  const all = [...values, ...used.flatMap((fn) => reachable([fn.result]))];
  const defined = Object.entries(dialect.prelude).flatMap(([op, write]) => {
    const types = new Set<Type>(
      all.filter((value) => value.op === op && !dialect.isClosed(value)).map((value) => value.type),
    );
    return types.size ? write(types) : [];
  });
  const names = new Set([...dialect.reserved, ...functions.values()]);
  return [...defined, ...used.map((fn) => writeFunction(dialect, fn, functions, names))];
};
