import { fail, SourceError, type Mistake, type Span } from '../mistake.ts';
import { childrenOf, namesIn, type Call, type Expression } from '../syntax.ts';
import { isBuiltIn, SPLIT } from './builtInNames.ts';
import { checkLoops } from './checkLoops.ts';
import { MOST_ELEMENTS } from './limits.ts';
import { parseModule } from './parseModule.ts';
import { preprocess, type Preprocessed } from './preprocess.ts';
import type { Declared, FunctionSource, Global, Module, Statement } from './syntax.ts';

/** A name that a function reads from outside itself: a strand, a parameter, or what the shader is given. */
export interface FreeName extends Span {
  readonly name: string;
}

/** A call of another function of the module: from its name to its closing bracket. */
export interface CodeCall extends Span {
  readonly name: string;
  readonly hasArguments: boolean;
}

/** A function and what it needs. */
export interface AnalysedFunction {
  readonly source: FunctionSource;
  /** Names read from outside, its callees' too, each at its first place. */
  readonly free: readonly FreeName[];
  /** Functions of the module that it calls itself, and where. */
  readonly calls: readonly CodeCall[];
  /** Names beside the functions that it reads or changes, its callees' too. */
  readonly globals: ReadonlySet<string>;
  /** True where a call of it changes a variable beside the functions. */
  readonly changesGlobals: boolean;
}

/** A constant or a variable that is declared beside the functions. */
export interface GlobalName {
  readonly global: Global;
  readonly declared: Declared;
  /** True where it has no value to begin with, or some function changes it. */
  readonly varies: boolean;
}

export interface Analysed {
  /** The source, its # lines carried out; places in it are brought to the author's text by `placeIn`. */
  readonly text: string;
  readonly placeIn: (span: Span) => Span;
  readonly module: Module;
  /** Every function, each after those it calls. */
  readonly functions: ReadonlyMap<FunctionSource, AnalysedFunction>;
  /** Functions by name: several where a name is overloaded. */
  readonly named: ReadonlyMap<string, readonly FunctionSource[]>;
  readonly globals: ReadonlyMap<string, GlobalName>;
  /** The last function: its signature is the step's. */
  readonly main: AnalysedFunction;
}

export type Analysis =
  | { readonly code: Analysed; readonly mistake?: undefined }
  | { readonly code?: undefined; readonly mistake: Mistake };

const expressionsOf = (statement: Statement): readonly Expression[] => {
  switch (statement.kind) {
    case 'declaration':
      return statement.names.flatMap((each) => (each.value ? [each.value] : []));
    case 'expression':
      return [statement.expression];
    case 'return':
      return statement.value ? [statement.value] : [];
    default:
      return [];
  }
};

/** The variable that a place belongs to: v for v.xy or v[1].x; null where it is none. */
export const ownerOf = (e: Expression): string | null =>
  e.kind === 'name' ? e.name : e.kind === 'member' || e.kind === 'index' ? ownerOf(e.object) : null;

interface Seen {
  readonly name: (name: string, at: Span) => void;
  readonly call: (call: CodeCall) => void;
  readonly change: (name: string) => void;
}

/**
 * Walks a function's statements with what is declared where, calling back for names, calls and changes that reach
 * outside it.
 * @param changing whether a function changes what it is handed at a place
 */
const walk = (
  source: FunctionSource,
  changing: (name: string, argument: number) => boolean,
  seen: Seen,
): void => {
  const scopes: Set<string>[] = [new Set(source.parameters.map((each) => each.name))];
  const known = (name: string) => scopes.some((scope) => scope.has(name));
  const change = (target: Expression): void => {
    const owner = ownerOf(target);
    if (owner !== null && !known(owner)) seen.change(owner);
  };
  const visit = (e: Expression): void => {
    if (e.kind === 'name' && !known(e.name)) seen.name(e.name, e);
    if (e.kind === 'assignment') change(e.target);
    if (e.kind === 'postfix' || (e.kind === 'unary' && e.sign.length === 2)) change(e.operand);
    if (e.kind === 'call') e.args.forEach((arg, i) => changing(e.callee, i) && change(arg));
    if (e.kind === 'call')
      seen.call({ name: e.callee, hasArguments: e.args.length > 0, from: e.calleeAt.from, to: e.to });
    childrenOf(e).forEach(visit);
  };
  const inside = (work: () => void) => {
    scopes.push(new Set());
    work();
    scopes.pop();
  };
  const run = (statement: Statement): void => {
    switch (statement.kind) {
      case 'declaration':
        for (const each of statement.names) {
          if (each.value) visit(each.value);
          scopes[scopes.length - 1]!.add(each.name);
        }
        return;
      case 'block':
        return inside(() => statement.body.forEach(run));
      case 'if':
        visit(statement.condition);
        inside(() => run(statement.yes));
        if (statement.no) inside(() => run(statement.no!));
        return;
      case 'loop':
        return inside(() => {
          if (statement.init) run(statement.init);
          if (statement.condition) visit(statement.condition);
          if (statement.step) visit(statement.step);
          inside(() => run(statement.body));
        });
      case 'switch':
        visit(statement.selector);
        return inside(() =>
          statement.sections.forEach(({ labels, body }) => {
            labels.forEach((each) => each && visit(each));
            body.forEach(run);
          }),
        );
      default:
        expressionsOf(statement).forEach(visit);
    }
  };
  source.body.forEach(run);
};

/** The types a function takes, which tell overloads apart. */
const takesOf = ({ parameters }: FunctionSource): string =>
  parameters.map((each) => each.type.name).join(', ');

/** The overloads a function may call: of several, those that are written above it, as in GLSL. */
export const visibleFrom = (
  caller: FunctionSource,
  overloads: readonly FunctionSource[],
): readonly FunctionSource[] => {
  if (overloads.length === 1) return overloads;
  const above = overloads.filter((each) => each.from < caller.from);
  return above.length ? above : overloads;
};

/** The expressions that a declaration evaluates. */
const startsOf = ({ value, brackets }: Declared): readonly Expression[] =>
  [value, brackets?.length].filter((each) => each !== null && each !== undefined);

/** A call of one of the module's functions inside an expression. */
const callIn = (e: Expression, named: ReadonlyMap<string, unknown>): Call | undefined =>
  e.kind === 'call' && named.has(e.callee)
    ? e
    : childrenOf(e)
        .map((each) => callIn(each, named))
        .find(Boolean);

/** How far functions may call one another. */
const DEEPEST_CALLS = 256;
/** Calls that one call may come to in all: functions that each call two others double from one to the next. */
const MOST_CALLS = 65_536;

const analyse = ({ text, placeIn }: Preprocessed): Analysed => {
  const { module, mistake } = parseModule(text);
  if (!module) throw new SourceError(mistake);
  const last = module.functions[module.functions.length - 1];
  if (!last)
    return fail(
      { from: 0, to: text.length },
      'There is no function here; write one, such as float shape(float x) { return x; }.',
    );
  const named = new Map<string, FunctionSource[]>();
  for (const each of module.functions) {
    const overloads = named.get(each.name) ?? [];
    if (overloads.some((other) => takesOf(other) === takesOf(each)))
      fail(each.nameAt, `There are two functions called ${each.name} that take (${takesOf(each)}).`);
    if (isBuiltIn(each.name))
      fail(each.nameAt, `${each.name} is one of GLSL’s own functions; choose another name.`);
    named.set(each.name, [...overloads, each]);
    checkLoops(each);
  }
  const declared = new Map<string, { global: Global; declared: Declared }>();
  for (const global of module.globals)
    for (const each of global.names) {
      const length = (each.brackets ?? global.type.brackets)?.length;
      if (length?.kind === 'literal' && length.value > MOST_ELEMENTS)
        fail(
          length,
          `An array of ${length.value} elements is too long for a shader; at most ${MOST_ELEMENTS} are allowed.`,
        );
      declared.set(each.name, { global, declared: each });
    }
  const changing = (name: string, argument: number): boolean =>
    ((name === SPLIT && argument === 1) ||
      named.get(name)?.some((each) => (each.parameters[argument]?.way ?? 'in') !== 'in')) ??
    false;

  interface Own {
    readonly free: Map<string, FreeName>;
    readonly calls: CodeCall[];
    readonly globals: Set<string>;
    readonly changed: Set<string>;
  }
  const own = new Map<FunctionSource, Own>();
  for (const source of module.functions) {
    const found: Own = { free: new Map(), calls: [], globals: new Set(), changed: new Set() };
    const read = (first: FreeName): void => {
      for (const pending = [first]; pending.length;) {
        const { name, from, to } = pending.pop()!;
        const known = declared.get(name);
        if (!known && !named.has(name) && !found.free.has(name)) found.free.set(name, { name, from, to });
        if (!known || found.globals.has(name)) continue;
        found.globals.add(name);
        // What it begins with is read where the function reads it.
        for (const e of startsOf(known.declared)) {
          pending.push(...namesIn(e));
          const call = callIn(e, named);
          if (call)
            fail(call, `What ${name} begins with cannot call ${call.callee}; set it inside a function.`);
        }
      }
    };
    walk(source, changing, {
      name: (name, { from, to }) => read({ name, from, to }),
      call: (made) => {
        if (named.has(made.name)) found.calls.push(made);
      },
      change: (name) => {
        if (declared.has(name)) found.changed.add(name);
      },
    });
    own.set(source, found);
  }
  const changed = new Set([...own.values()].flatMap((each) => [...each.changed]));
  const globals = new Map<string, GlobalName>();
  for (const [name, each] of declared) {
    const varies = !each.global.qualifiers.includes('const') && (changed.has(name) || !each.declared.value);
    globals.set(name, { ...each, varies });
  }
  const functions = new Map<FunctionSource, AnalysedFunction>();
  const depths = new Map<FunctionSource, number>();
  /** Calls that one call of a function comes to, its own among them. */
  const counts = new Map<FunctionSource, number>();
  const entered: FunctionSource[] = [];
  const resolve = (source: FunctionSource): AnalysedFunction => {
    const known = functions.get(source);
    if (known) return known;
    entered.push(source);
    const { free, calls, globals: reads, changed } = own.get(source)!;
    const all = new Map(free);
    const touched = new Set(reads);
    let changesGlobals = [...changed].some((name) => globals.get(name)!.varies);
    let depth = 1;
    let count = 1;
    for (const call of calls) {
      let most = 0;
      for (const callee of visibleFrom(source, named.get(call.name)!)) {
        if (entered.includes(callee))
          fail(
            call,
            callee === source
              ? `${source.name} calls itself; GLSL has no recursion.`
              : `${source.name} calls ${call.name}, which calls ${source.name} again; GLSL has no recursion.`,
          );
        if (entered.length > DEEPEST_CALLS || (depths.get(callee) ?? 0) >= DEEPEST_CALLS)
          fail(call, `Functions call one another more than ${DEEPEST_CALLS} deep here; put some together.`);
        const called = resolve(callee);
        most = Math.max(most, counts.get(callee)!);
        depth = Math.max(depth, depths.get(callee)! + 1);
        for (const each of called.free) if (!all.has(each.name)) all.set(each.name, each);
        for (const each of called.globals) touched.add(each);
        changesGlobals ||= called.changesGlobals;
      }
      count += most;
    }
    entered.pop();
    const made = { source, free: [...all.values()], calls, globals: touched, changesGlobals };
    functions.set(source, made);
    depths.set(source, depth);
    counts.set(source, count);
    return made;
  };
  for (const each of module.functions) resolve(each);
  if (counts.get(last)! > MOST_CALLS) {
    // Callees come first: this is where it grows beyond the bound.
    const [source, { calls }] = [...functions].find(([each]) => counts.get(each)! > MOST_CALLS)!;
    fail(
      calls.at(-1)!,
      `One call of ${source.name} comes to more than ${MOST_CALLS} calls of others, for each calls several more; keep what they give back in variables.`,
    );
  }
  return { text, placeIn, module, functions, named, globals, main: functions.get(last)! };
};

/** Every place at which code reads a name from outside itself. */
export const readsFromOutside = ({ module, named, globals }: Analysed): readonly FreeName[] => {
  const found: FreeName[] = [];
  const read = (name: string, { from, to }: Span): void => {
    if (!named.has(name) && !globals.has(name)) found.push({ name, from, to });
  };
  for (const source of module.functions)
    walk(source, () => false, { name: read, call: () => undefined, change: () => undefined });
  for (const { names } of module.globals)
    for (const each of names)
      for (const e of startsOf(each)) for (const name of namesIn(e)) read(name.name, name);
  return found;
};

const KEPT = 64;
const known = new Map<string, Analysis>();

/** Parses code and finds out what its functions need; the same text is read once. Never throws. */
export const analyseModule = (text: string): Analysis => {
  const before = known.get(text);
  if (before) return before;
  let result: Analysis;
  let settled: Preprocessed | null = null;
  try {
    settled = preprocess(text);
    result = { code: analyse(settled) };
  } catch (error) {
    if (!(error instanceof SourceError)) throw error;
    const { mistake } = error;
    result = { mistake: settled ? { ...mistake, ...settled.placeIn(mistake) } : mistake };
  }
  known.set(text, result);
  if (known.size > KEPT) known.delete(known.keys().next().value!);
  return result;
};
