import { fail, SourceError, type Mistake, type Span } from '../mistake.ts';
import { childrenOf, type Expression } from '../syntax.ts';
import { isBuiltIn } from './builtIns.ts';
import { checkLoops } from './checkLoops.ts';
import { parseModule } from './parseModule.ts';
import type { FunctionSource, Global, Module, Statement } from './syntax.ts';

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
}

export interface Analysed {
  readonly text: string;
  readonly module: Module;
  readonly functions: ReadonlyMap<FunctionSource, AnalysedFunction>;
  /** Functions by name: several where a name is overloaded. */
  readonly named: ReadonlyMap<string, readonly FunctionSource[]>;
  readonly constants: ReadonlyMap<string, { readonly global: Global; readonly index: number }>;
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

/** Walks a function's statements with what is declared where, calling back for names and calls that come from outside. */
const walk = (
  source: FunctionSource,
  seen: { readonly name: (name: string, at: Span) => void; readonly call: (call: CodeCall) => void },
): void => {
  const scopes: Set<string>[] = [new Set(source.parameters.map((each) => each.name))];
  const known = (name: string) => scopes.some((scope) => scope.has(name));
  const visit = (e: Expression): void => {
    if (e.kind === 'name' && !known(e.name)) seen.name(e.name, e);
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

const analyse = (text: string): Analysed => {
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
  const constants = new Map<string, { global: Global; index: number }>();
  for (const global of module.globals)
    global.names.forEach((each, index) => {
      constants.set(each.name, { global, index });
    });

  const own = new Map<FunctionSource, { free: Map<string, FreeName>; calls: CodeCall[] }>();
  for (const source of module.functions) {
    const found = { free: new Map<string, FreeName>(), calls: [] as CodeCall[] };
    walk(source, {
      name: (name, at) => {
        if (!constants.has(name) && !named.has(name) && !found.free.has(name))
          found.free.set(name, { name, from: at.from, to: at.to });
      },
      call: (made) => {
        if (named.has(made.name)) found.calls.push(made);
      },
    });
    own.set(source, found);
  }
  const functions = new Map<FunctionSource, AnalysedFunction>();
  const entered: FunctionSource[] = [];
  const resolve = (source: FunctionSource): AnalysedFunction => {
    const known = functions.get(source);
    if (known) return known;
    entered.push(source);
    const { free, calls } = own.get(source)!;
    const all = new Map(free);
    for (const call of calls)
      for (const callee of visibleFrom(source, named.get(call.name)!)) {
        if (entered.includes(callee))
          fail(
            call,
            callee === source
              ? `${source.name} calls itself; GLSL has no recursion.`
              : `${source.name} calls ${call.name}, which calls ${source.name} again; GLSL has no recursion.`,
          );
        for (const each of resolve(callee).free) if (!all.has(each.name)) all.set(each.name, each);
      }
    entered.pop();
    const made = { source, free: [...all.values()], calls };
    functions.set(source, made);
    return made;
  };
  for (const each of module.functions) resolve(each);
  return { text, module, functions, named, constants, main: functions.get(last)! };
};

const KEPT = 64;
const known = new Map<string, Analysis>();

/** Parses code and finds out what its functions need; the same text is read once. Never throws. */
export const analyseModule = (text: string): Analysis => {
  const before = known.get(text);
  if (before) return before;
  let result: Analysis;
  try {
    result = { code: analyse(text) };
  } catch (error) {
    if (!(error instanceof SourceError)) throw error;
    result = { mistake: error.mistake };
  }
  known.set(text, result);
  if (known.size > KEPT) known.delete(known.keys().next().value!);
  return result;
};
