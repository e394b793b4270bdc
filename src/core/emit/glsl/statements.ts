import { reachable, type ProgramFunction, type Value } from '../../program/value.ts';
import type { Type } from '../../program/types.ts';
import { atom, isClosed, isName, PRELUDE, spell, type Spelled } from './spell.ts';

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
  /** A comment to stand before the first line of a strand. */
  readonly heading?: (strand: string) => string | null;
}

export interface Statements {
  readonly lines: readonly string[];
  /** Source for each value that has been spelled. */
  readonly spelled: ReadonlyMap<Value, Spelled>;
}

const freshName = (wish: string, taken: Set<string>): string => {
  let name = wish;
  for (let n = 2; taken.has(name); n += 1) name = `${wish}${n}`;
  taken.add(name);
  return name;
};

const usesOf = (values: readonly Value[], roots: readonly Value[]): Map<Value, number> => {
  const uses = new Map<Value, number>();
  for (const value of values) for (const input of value.inputs) uses.set(input, (uses.get(input) ?? 0) + 1);
  for (const root of roots) uses.set(root, (uses.get(root) ?? 0) + 1);
  return uses;
};

/**
 * Writes values as statements, in authored order: a line for each named or shared value, the rest inline.
 * Values that `outside` names are read, not computed, and what only they need is not written.
 */
export const writeStatements = (roots: readonly Value[], naming: Naming): Statements => {
  const values = reachableInside(roots, naming.outside);
  const uses = usesOf(
    values.filter((value) => naming.outside(value) === null),
    roots,
  );
  const isRoot = new Set(roots);
  const spelled = new Map<Value, Spelled>();
  const lines: string[] = [];
  let strand: string | null = null;

  const assign = (value: Value, text: string, wish: string) => {
    const place = value.origin?.strand ?? null;
    if (place !== strand) {
      strand = place;
      const heading = place === null ? null : naming.heading?.(place);
      if (heading) lines.push(`// ${heading}`);
    }
    const name = freshName(wish, naming.taken);
    lines.push(`${value.type} ${name} = ${text};`);
    spelled.set(value, atom(name));
  };

  for (const value of values) {
    const read = naming.outside(value);
    if (read !== null) {
      spelled.set(value, atom(read));
      continue;
    }
    const wish = naming.wished.get(value);
    if (value.op === 'iterate') {
      const name = freshName(wish ?? value.fn!.name + 'Sum', naming.taken);
      const [count, initial, ...rest] = value.inputs.map((input) => spelled.get(input)!.text);
      const args = ['i', name, ...rest].join(', ');
      lines.push(
        `${value.type} ${name} = ${initial!};`,
        `for (int i = 0; i < ${count!}; ++i) ${name} = ${value.fn!.name}(${args});`,
      );
      spelled.set(value, atom(name));
      continue;
    }
    const made = spell(
      value,
      value.inputs.map((input) => spelled.get(input)!),
    );
    const shared = (uses.get(value) ?? 0) > 1;
    const long = made.text.length > LONGEST && !isRoot.has(value);
    if (!isName(value) && (wish !== undefined || shared || long))
      assign(
        value,
        made.text,
        wish ?? (value.origin ? `${value.origin.strand}_${nounFor(value)}` : nounFor(value)),
      );
    else spelled.set(value, made);
  }
  return { lines, spelled };
};

/** Like `reachable`, but does not look behind values that are read from outside. */
const reachableInside = (roots: readonly Value[], outside: Naming['outside']): Value[] => {
  const seen = new Set<Value>(roots);
  const stack = [...seen];
  for (let value = stack.pop(); value; value = stack.pop()) {
    if (outside(value) !== null) continue;
    for (const input of value.inputs)
      if (!seen.has(input)) {
        seen.add(input);
        stack.push(input);
      }
  }
  return [...seen].sort((a, b) => a.id - b.id);
};

/** Every function the values call, callees before callers. */
export const functionsOf = (values: readonly Value[]): ProgramFunction[] => {
  const found = new Map<string, ProgramFunction>();
  const visit = (list: readonly Value[]) => {
    for (const { fn } of list)
      if (fn && !found.has(fn.name)) {
        visit(reachable([fn.result]));
        found.set(fn.name, fn);
      }
  };
  visit(values);
  return [...found.values()];
};

/** One function's source, as a person would write it. */
export const writeFunction = (fn: ProgramFunction): string => {
  const taken = new Set([...fn.parameters.map((each) => each.name), 'i']);
  const { lines, spelled } = writeStatements([fn.result], {
    wished: fn.locals,
    outside: (value) => (value.op === 'argument' ? fn.parameters[value.payload as number]!.name : null),
    taken,
  });
  const signature = fn.parameters.map((each) => `${each.type} ${each.name}`).join(', ');
  const body = [...lines, `return ${spelled.get(fn.result)!.text};`].map((line) => `  ${line}`);
  return `${fn.result.type} ${fn.name}(${signature}) {\n${body.join('\n')}\n}`;
};

/** Source of all the functions and definitions that the values need. */
export const writeFunctions = (values: readonly Value[]): string[] => {
  const functions = functionsOf(values);
  const all = [...values, ...functions.flatMap((fn) => reachable([fn.result]))];
  const defined = Object.entries(PRELUDE).flatMap(([op, write]) => {
    const types = new Set<Type>(
      all.filter((value) => value.op === op && !isClosed(value)).map((value) => value.type),
    );
    return types.size ? write(types) : [];
  });
  return [...defined, ...functions.map(writeFunction)];
};
