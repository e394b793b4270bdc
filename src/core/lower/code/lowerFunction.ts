import type { Builder } from '../../program/builder.ts';
import type { Value } from '../../program/value.ts';
import { fail, type Span } from '../../language/mistake.ts';
import { nearestName } from '../../language/nearest.ts';
import type { Call, Expression } from '../../language/syntax.ts';
import { BUILT_IN_NAMES, isBuiltIn, SPLIT } from '../../language/glsl/builtInNames.ts';
import { callBuiltIn } from '../expression/builtIns.ts';
import {
  one,
  programType,
  shape,
  shapeOf,
  spelled,
  zeroOf,
  type GlslValue,
} from '../expression/glslValue.ts';
import { construct } from '../expression/construct.ts';
import { lowerExpression, type Around, type Changing } from '../expression/lowerExpression.ts';
import { coerce } from '../expression/conversions.ts';
import { andNot, copyOf, flagOf, fork, merge, or, type State } from './flow.ts';
import { infix, step } from '../expression/infix.ts';
import { opaque } from '../expression/opaque.ts';
import { assignableOf, assign, readAssignable } from './assignable.ts';
import { runLoop } from './runLoop.ts';
import type { GlobalName } from '../../language/glsl/analyseModule.ts';
import {
  hasEffects as effectsIn,
  type Runner,
  type ScopeChain,
  type Surroundings,
  type Variable,
} from './runner.ts';
import { runSwitch } from './runSwitch.ts';
import { callFunction } from './callFunction.ts';
import { constructArray, constructStructure, namedType } from './namedType.ts';
import type { FunctionSource, Statement } from '../../language/glsl/syntax.ts';

/** Operations one function may come to when its loops are written out, and expressions that may be worked out for it. */
const MOST_OPERATIONS = 8192;
const MOST_EVALUATED = 100_000;
/**
 * Runs a function’s body through the builder: branches become choices, loops are written out, variables become values.
 * @throws SourceError where the code is wrong, Opaque where it is right but the program cannot hold it
 */
export const lowerBody = (
  b: Builder,
  source: FunctionSource,
  args: readonly GlslValue[],
  around: Surroundings,
): GlslValue => {
  let keys = 0;
  let evaluated = 0;
  const before = b.size();

  const counted = (at: Span): void => {
    evaluated += 1;
    if (evaluated > MOST_EVALUATED || b.size() - before > MOST_OPERATIONS)
      opaque(at, `written out it comes to more than ${MOST_OPERATIONS} operations`);
  };

  const find = (scope: ScopeChain, name: string): Variable | undefined => {
    for (let i = scope.length - 1; i >= 0; i -= 1) {
      const found = scope[i]!.get(name);
      if (found) return found;
    }
    return globals.get(name);
  };
  const declare = (
    state: State,
    scope: ScopeChain,
    name: string,
    value: GlslValue,
    isConst: boolean,
  ): void => {
    const key = (keys += 1);
    scope[scope.length - 1]!.set(name, { key, type: value.type, isConst });
    state.values.set(key, value);
    const [part] = value.parts;
    if (value.parts.length === 1 && part!.inputs.length && !b.locals.has(part!)) b.name(name, part!);
  };

  const changes = (callee: string, state: State): boolean =>
    callee === SPLIT || around.functionsOf(callee, state.running).some(around.changes);
  const hasEffects = (e: Expression, state: State): boolean =>
    effectsIn(e, (callee) => changes(callee, state));

  // ---- expressions

  /** What stands around an expression of this code, where variables hold what they do now. */
  const within = (state: State, scope: ScopeChain): Around => ({
    b,
    name: (e) => readName(e.name, e, state, scope),
    member: () => null,
    call: (e) => call(e, state, scope),
    change: (e) => change(e, state, scope),
    branch: (condition, ways, each) => {
      const work = (way: Expression | null) => (inside: State) =>
        way && each(way, (e) => evaluate(e, inside, scope));
      const [yes, no] = ways.map(work) as [ReturnType<typeof work>, ReturnType<typeof work>];
      return ways.some((way) => way && hasEffects(way, state))
        ? fork(b, condition, state, yes, no)
        : [yes(state), no(state)];
    },
    spreads: false,
    note: counted,
  });

  const evaluate = (e: Expression, state: State, scope: ScopeChain): GlslValue =>
    lowerExpression(within(state, scope), e);

  const change = (e: Changing, state: State, scope: ScopeChain): GlslValue => {
    const sub = (part: Expression) => evaluate(part, state, scope);
    switch (e.kind) {
      case 'sequence':
        sub(e.first);
        return sub(e.second);
      case 'assignment': {
        const place = assignableOf(runner, e.target, state, scope);
        const value = sub(e.value);
        const next =
          e.sign === '='
            ? value
            : infix(b, e.sign.slice(0, -1), readAssignable(runner, place, state), value, e);
        return assign(runner, place, next, state);
      }
      case 'postfix': {
        const place = assignableOf(runner, e.operand, state, scope);
        const before = readAssignable(runner, place, state);
        assign(runner, place, step(b, e.sign, before, e), state);
        return before;
      }
      case 'unary': {
        const place = assignableOf(runner, e.operand, state, scope);
        return assign(runner, place, step(b, e.sign, readAssignable(runner, place, state), e), state);
      }
    }
  };

  const readName = (name: string, at: Span, state: State, scope: ScopeChain): GlslValue => {
    const variable = find(scope, name);
    if (variable)
      return state.values.get(variable.key) ?? opaque(at, `${name} is declared under another label`);
    if (around.globals.has(name))
      return constants.get(name) ?? fail(at, `${name} is declared further down than where it is read.`);
    const given = around.outside(name);
    if (given) return given;
    if (isBuiltIn(name) || around.functionsOf(name, state.running).length)
      return fail(at, `${name} is a function; give it arguments in brackets.`);
    const near = nearestName(name, [...scope.flatMap((each) => [...each.keys()]), ...around.names()]);
    return fail(
      at,
      `Nothing is called “${name}” here.${near ? ` Did you mean ${near}?` : ''}`,
      near ? { label: `change to ${near}`, text: near } : undefined,
    );
  };

  /** What a name declared beside the functions begins with. */
  const begin = ({ global, declared }: GlobalName, state: State): GlslValue => {
    const type = namedType(runner, global.type, declared.brackets, state, [], declared.value !== null);
    return declared.value
      ? coerce(b, evaluate(declared.value, state, []), type, declared.value, declared.name)
      : zeroOf(b, type);
  };

  // ---- calls

  /** modf(x, whole): the fraction, and what is left without it put where the second argument says. */
  const split = (e: Call, state: State, scope: ScopeChain): GlslValue => {
    if (e.args.length !== 2) return fail(e, `${SPLIT} takes 2 arguments, not ${e.args.length}.`);
    const place = assignableOf(runner, e.args[1]!, state, scope);
    const x = evaluate(e.args[0]!, state, scope);
    if (shape(x).base !== 'float' || shape(x).form === 'matrix')
      return fail(e.args[0]!, `${SPLIT} takes a float or a vector, not a ${spelled(x.type)}.`);
    const whole = one(b.trunc(x.parts[0]!));
    assign(runner, place, whole, state);
    return one(b.subtract(x.parts[0]!, whole.parts[0]!));
  };

  const call = (e: Call, state: State, scope: ScopeChain): GlslValue => {
    if (e.callee.endsWith('[]')) return constructArray(runner, e, state, scope);
    if (e.callee === '.length') {
      const { form, size } = shape(evaluate(e.args[0]!, state, scope));
      return form === 'array' ? one(b.constant('int', [size])) : fail(e, 'Only an array has a length().');
    }
    const users = around.functionsOf(e.callee, state.running);
    if (users.length) return callFunction(runner, e, users, state, scope);
    if (around.structure(e.callee)) return constructStructure(runner, e, state, scope);
    if (e.callee === SPLIT) return split(e, state, scope);
    const args = e.args.map((arg) => evaluate(arg, state, scope));
    const whole = args.findIndex((each) => shape(each).members);
    if (whole >= 0) return fail(e.args[whole]!, `${e.callee} does not take a ${spelled(args[whole]!.type)}.`);
    if (shapeOf(e.callee)) return construct(b, e, e.callee, args);
    if (!isBuiltIn(e.callee)) {
      const near = nearestName(e.callee, BUILT_IN_NAMES);
      return fail(
        e.calleeAt,
        `There is no function “${e.callee}” here.${near ? ` Did you mean ${near}?` : ''}`,
        near ? { label: `change to ${near}`, text: near } : undefined,
      );
    }
    return callBuiltIn(b, e.callee, args, e);
  };

  // ---- statements

  const runAll = (statements: readonly Statement[], state: State, scope: ScopeChain): void => {
    for (let i = 0; i < statements.length; i += 1) {
      const stopped = or(b, or(b, state.returned, state.broken), state.continued);
      if (stopped === true) return;
      if (stopped !== false) return runRest(statements.slice(i), state, scope, stopped);
      run(statements[i]!, state, scope);
    }
  };
  /** Runs on where the flow may already have left: what follows counts only where it has not. */
  const runRest = (rest: readonly Statement[], state: State, scope: ScopeChain, stopped: Value): void =>
    onlyWhere(state, stopped, (then) => runAll(rest, then, scope));
  const onlyWhere = (state: State, stopped: Value, work: (then: State) => void): void => {
    const before = copyOf(state);
    const then: State = { ...copyOf(state), returned: false, broken: false, continued: false };
    work(then);
    const after: State = {
      ...then,
      returned: or(b, before.returned, andNot(b, then.returned, stopped)),
      broken: or(b, before.broken, andNot(b, then.broken, stopped)),
      continued: or(b, before.continued, andNot(b, then.continued, stopped)),
    };
    const flags = { returned: after.returned, broken: after.broken, continued: after.continued };
    merge(b, state, stopped, before, then);
    Object.assign(state, flags);
  };

  const run = (statement: Statement, state: State, scope: ScopeChain): void => {
    switch (statement.kind) {
      case 'empty':
        return;
      case 'declaration':
        for (const each of statement.names) {
          const type = namedType(runner, statement.type, each.brackets, state, scope, each.value !== null);
          const value = each.value
            ? coerce(b, evaluate(each.value, state, scope), type, each.value, each.name)
            : zeroOf(b, type);
          declare(state, scope, each.name, value, statement.isConst);
        }
        return;
      case 'expression':
        evaluate(statement.expression, state, scope);
        return;
      case 'block':
        return runAll(statement.body, state, [...scope, new Map()]);
      case 'return': {
        const { name } = state.running.returns;
        if (statement.value && name === 'void')
          fail(statement, 'A function of type void gives nothing back.');
        if (statement.value)
          state.result = coerce(
            b,
            evaluate(statement.value, state, scope),
            namedType(runner, state.running.returns, null, state, scope),
            statement.value,
            'What the function gives back',
          );
        else if (name !== 'void') fail(statement, `Here a ${name} should be given back.`);
        state.returned = true;
        return;
      }
      case 'break':
        state.broken = true;
        return;
      case 'continue':
        state.continued = true;
        return;
      case 'discard':
        return opaque(statement, 'it discards pixels');
      case 'switch':
        return runSwitch(runner, statement, state, scope);
      case 'if': {
        const flag = flagOf(
          coerce(b, evaluate(statement.condition, state, scope), 'bool', statement.condition, 'A condition')
            .parts[0]!,
        );
        const inner = () => [...scope, new Map<string, Variable>()];
        if (flag === true) return runAll([statement.yes], state, inner());
        if (flag === false) return statement.no ? runAll([statement.no], state, inner()) : undefined;
        const take = (way: Statement | null) => (then: State) => way && runAll([way], then, inner());
        fork(b, flag, state, take(statement.yes), take(statement.no));
        return;
      }
      case 'loop':
        return runLoop(runner, statement, state, [...scope, new Map()]);
    }
  };

  const runner: Runner = { b, around, find, hasEffects, declare, evaluate, run, runAll };
  const state: State = {
    ...{ values: new Map(), returned: false, broken: false, continued: false, result: null },
    running: source,
  };
  const globals = new Map<string, Variable>();
  const constants = new Map<string, GlslValue>();
  for (const each of around.globalsOf(source)) {
    const { name, value } = each.declared;
    if (each.varies) declare(state, [globals], name, begin(each, state), false);
    else if (value) constants.set(name, begin(each, state));
    else fail(each.declared, `${name} is a constant and has no value.`);
  }
  const scope = new Map<string, Variable>();
  source.parameters.forEach((parameter, i) => declare(state, [scope], parameter.name, args[i]!, false));
  runAll(source.body, state, [scope, new Map()]);
  const type = source.returns.name;
  if (!state.result)
    return fail(source.nameAt, `${source.name} gives nothing back; it should return a ${type}.`);
  if (!programType(type)) return opaque(source.returns, `it gives back a ${type}`);
  return state.result;
};
