import type { Builder } from '../../program/builder.ts';
import { TypeMistake } from '../../program/builder.ts';
import type { Value } from '../../program/value.ts';
import { fail, type Span } from '../mistake.ts';
import { nearestName } from '../nearest.ts';
import type { Binary, Call, Expression } from '../syntax.ts';
import { putIndex, putMember, readIndex, readMember } from './access.ts';
import { BUILT_IN_NAMES, callBuiltIn, isBuiltIn } from './builtIns.ts';
import { choose, one, programType, shape, shapeOf, zeroOf, type CodeValue } from './codeValue.ts';
import { construct } from './construct.ts';
import { coerce, promote, unify } from './conversions.ts';
import { andNot, copyOf, flagOf, merge, or, type State } from './flow.ts';
import { compare, infix, step } from './infix.ts';
import { opaque } from './opaque.ts';
import { runLoop } from './runLoop.ts';
import { hasEffects, type Runner, type ScopeChain, type Surroundings, type Variable } from './runner.ts';
import type { FunctionSource, Statement, TypeName } from './syntax.ts';

/** Operations one function may come to when its loops are written out. */
export const MOST_OPERATIONS = 20_000;
/**
 * Runs a function’s body through the builder: branches become choices, loops are written out, variables become values.
 * @throws SourceError where the code is wrong, Opaque where it is right but the program cannot hold it
 */
export const lowerBody = (
  b: Builder,
  source: FunctionSource,
  args: readonly CodeValue[],
  around: Surroundings,
): CodeValue => {
  let keys = 0;
  let operations = 0;

  const counted = (value: CodeValue, at: Span): CodeValue => {
    operations += value.parts.length;
    if (operations > MOST_OPERATIONS)
      opaque(at, `written out it comes to more than ${MOST_OPERATIONS} operations`);
    return value;
  };

  const typeNamed = (type: TypeName, isArray: boolean): string => {
    if (isArray || type.isArray) opaque(type, 'it uses an array');
    if (type.name === 'void') fail(type, 'Nothing can be of type void.');
    if (!shapeOf(type.name)) opaque(type, `the program has no ${type.name}`);
    return type.name.replace(/^mat(\d)x\1$/, 'mat$1');
  };

  const find = (scope: ScopeChain, name: string): Variable | undefined => {
    for (let i = scope.length - 1; i >= 0; i -= 1) {
      const found = scope[i]!.get(name);
      if (found) return found;
    }
    return undefined;
  };
  const declare = (
    state: State,
    scope: ScopeChain,
    name: string,
    value: CodeValue,
    isConst: boolean,
  ): void => {
    const key = (keys += 1);
    scope[scope.length - 1]!.set(name, { key, type: value.type, isConst });
    state.values.set(key, value);
    const [part] = value.parts;
    if (value.parts.length === 1 && part!.inputs.length && !b.locals.has(part!)) b.name(name, part!);
  };

  // ---- expressions

  const evaluate = (e: Expression, state: State, scope: ScopeChain): CodeValue => {
    try {
      return counted(evaluateOne(e, state, scope), e);
    } catch (error) {
      if (error instanceof TypeMistake) return fail(e, `${error.message}.`);
      throw error;
    }
  };

  const evaluateOne = (e: Expression, state: State, scope: ScopeChain): CodeValue => {
    const sub = (part: Expression) => evaluate(part, state, scope);
    switch (e.kind) {
      case 'literal':
        return one(b.constant(e.type, [e.value]));
      case 'name':
        return readName(e.name, e, state, scope);
      case 'member':
        return readMember(b, sub(e.object), e);
      case 'index':
        return readIndex(b, sub(e.object), sub(e.index), e);
      case 'call':
        return call(e, state, scope);
      case 'sequence':
        sub(e.first);
        return sub(e.second);
      case 'conditional': {
        if (hasEffects(e.yes) || hasEffects(e.no)) opaque(e, 'a choice here changes a variable on the way');
        const condition = coerce(b, sub(e.condition), 'bool', e.condition, 'A condition').parts[0]!;
        const [yes, no] = unify(b, sub(e.yes), sub(e.no));
        if (yes.type !== no.type)
          fail(e, `One choice is a ${yes.type}, the other a ${no.type}; both must be of one type.`);
        return choose(b, condition, yes, no);
      }
      case 'assignment': {
        const value = sub(e.value);
        const before = e.sign === '=' ? null : sub(e.target);
        const next = before ? infix(b, e.sign.slice(0, -1), before, value, e) : value;
        return assign(e.target, next, state, scope);
      }
      case 'postfix': {
        const before = sub(e.operand);
        assign(e.operand, step(b, e.sign, before, e), state, scope);
        return before;
      }
      case 'unary': {
        const x = sub(e.operand);
        if (e.sign === '++' || e.sign === '--') return assign(e.operand, step(b, e.sign, x, e), state, scope);
        if (e.sign === '+') return x;
        if (e.sign === '!') return one(b.not(coerce(b, x, 'bool', e.operand, 'What ! turns').parts[0]!));
        if (shape(x).base === 'bool') return fail(e.operand, 'A bool has no sign.');
        return {
          type: x.type,
          parts: x.parts.map((part) => (e.sign === '~' ? b.bitNot(part) : b.negate(part))),
        };
      }
      case 'binary':
        return binary(e, state, scope);
    }
  };

  const readName = (name: string, at: Span, state: State, scope: ScopeChain): CodeValue => {
    const variable = find(scope, name);
    if (variable) return state.values.get(variable.key)!;
    const constant = around.constant(name);
    if (constant) {
      const type = typeNamed(constant.type, false);
      if (!constant.value) return opaque(at, `${name} is a variable beside the functions`);
      return coerce(b, evaluate(constant.value, state, [new Map()]), type, constant.value, name);
    }
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

  /** Puts a value where an expression names a place, and gives it back. */
  const assign = (target: Expression, value: CodeValue, state: State, scope: ScopeChain): CodeValue => {
    switch (target.kind) {
      case 'name': {
        const variable = find(scope, target.name);
        if (!variable) {
          if (around.constant(target.name))
            opaque(target, `it changes ${target.name}, which lies beside the functions`);
          return fail(
            target,
            around.outside(target.name)
              ? `${target.name} comes from outside and cannot be changed here.`
              : `Nothing is called “${target.name}” here.`,
          );
        }
        if (variable.isConst) return fail(target, `${target.name} is a constant.`);
        const fitted = coerce(b, value, variable.type, target, target.name);
        state.values.set(variable.key, fitted);
        return fitted;
      }
      case 'member': {
        const before = evaluate(target.object, state, scope);
        assign(target.object, putMember(b, before, value, target), state, scope);
        return value;
      }
      case 'index': {
        const before = evaluate(target.object, state, scope);
        const index = evaluate(target.index, state, scope);
        assign(target.object, putIndex(b, before, index, value, target), state, scope);
        return value;
      }
      default:
        return fail(target, 'Nothing can be put here; on the left of = stands a variable.');
    }
  };
  const binary = (e: Binary, state: State, scope: ScopeChain): CodeValue => {
    const left = evaluate(e.left, state, scope);
    if (e.sign === '&&' || e.sign === '||' || e.sign === '^^') {
      if (hasEffects(e.right)) opaque(e.right, `the right of ${e.sign} changes a variable on the way`);
      const x = coerce(b, left, 'bool', e.left, `The left of ${e.sign}`).parts[0]!;
      const y = coerce(b, evaluate(e.right, state, scope), 'bool', e.right, `The right of ${e.sign}`)
        .parts[0]!;
      return one(e.sign === '&&' ? b.and(x, y) : e.sign === '||' ? b.or(x, y) : b.xor(x, y));
    }
    const right = evaluate(e.right, state, scope);
    if (!['<', '>', '<=', '>=', '==', '!='].includes(e.sign)) return infix(b, e.sign, left, right, e);
    return compare(b, e, left, right);
  };

  // ---- calls

  const call = (e: Call, state: State, scope: ScopeChain): CodeValue => {
    if (e.callee.endsWith('[]')) return opaque(e, 'it uses an array');
    const users = around.functionsOf(e.callee, state.running);
    if (users.length) return callFunction(e, chooseOverload(e, users, state, scope), state, scope);
    const args = e.args.map((arg) => evaluate(arg, state, scope));
    if (shapeOf(e.callee)) return construct(b, e, e.callee, args);
    if (!isBuiltIn(e.callee)) {
      const near = nearestName(e.callee, BUILT_IN_NAMES);
      return fail(
        e.calleeAt,
        `There is no function “${e.callee}” here.${near ? ` Did you mean ${near}?` : ''}`,
        near ? { label: `change to ${near}`, text: near } : undefined,
      );
    }
    const bases = args.map((arg) => shape(arg).base);
    const mixed = bases.includes('float') && bases.some((base) => base === 'int' || base === 'uint');
    return callBuiltIn(b, e.callee, mixed ? args.map((arg) => promote(b, arg, 'float')) : args, e);
  };

  /** Of functions that share a name, the one that takes what it is given. */
  const chooseOverload = (
    e: Call,
    users: readonly FunctionSource[],
    state: State,
    scope: ScopeChain,
  ): FunctionSource => {
    if (users.length === 1) return users[0]!;
    if (e.args.some(hasEffects))
      return opaque(e, `an argument of ${e.callee}, which is overloaded, changes a variable`);
    const given = e.args.map((arg) => evaluate(arg, state, scope).type);
    const fits = (user: FunctionSource, same: (takes: string, type: string) => boolean): boolean =>
      user.parameters.length === given.length &&
      user.parameters.every((each, i) => same(typeNamed(each.type, each.isArray), given[i]!));
    const found =
      users.find((user) => fits(user, (takes, type) => takes === type)) ??
      users.find((user) =>
        fits(user, (takes, type) => takes === type || (takes === 'float' && type === 'int')),
      );
    return (
      found ??
      fail(
        e,
        `No ${e.callee} takes (${given.join(', ')}); ${users.map((user) => `(${user.parameters.map((each) => each.type.name).join(', ')})`).join(' or ')} would do.`,
      )
    );
  };

  const callFunction = (e: Call, user: FunctionSource, state: State, scope: ScopeChain): CodeValue => {
    if (e.args.length !== user.parameters.length)
      return fail(e, `${user.name} takes ${user.parameters.length} arguments, not ${e.args.length}.`);
    const values = user.parameters.map((parameter, i) => {
      const type = typeNamed(parameter.type, parameter.isArray);
      return parameter.way === 'out'
        ? zeroOf(b, type)
        : coerce(b, evaluate(e.args[i]!, state, scope), type, e.args[i]!, `${user.name}’s ${parameter.name}`);
    });
    if (user.parameters.every((each) => each.way === 'in')) {
      const whole = around.callWhole(b, user, values);
      if (whole) return whole;
    }
    const { returned, broken, continued, result, running } = state;
    Object.assign(state, {
      returned: false,
      broken: false,
      continued: false,
      result: null,
      running: user,
    });
    const inner = new Map<string, Variable>();
    user.parameters.forEach((parameter, i) => declare(state, [inner], parameter.name, values[i]!, false));
    runAll(user.body, state, [inner, new Map()]);
    const made = state.result;
    Object.assign(state, { returned, broken, continued, result, running });
    user.parameters.forEach((parameter, i) => {
      if (parameter.way !== 'in')
        assign(e.args[i]!, state.values.get(inner.get(parameter.name)!.key)!, state, scope);
    });
    if (user.returns.name === 'void') return zeroOf(b, 'float');
    return made ?? zeroOf(b, typeNamed(user.returns, false));
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
          const type = typeNamed(statement.type, each.isArray);
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
            typeNamed(state.running.returns, false),
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
        return opaque(statement, 'it uses switch');
      case 'if': {
        const flag = flagOf(
          coerce(b, evaluate(statement.condition, state, scope), 'bool', statement.condition, 'A condition')
            .parts[0]!,
        );
        const inner = () => [...scope, new Map<string, Variable>()];
        if (flag === true) return runAll([statement.yes], state, inner());
        if (flag === false) return statement.no ? runAll([statement.no], state, inner()) : undefined;
        const [yes, no] = [copyOf(state), copyOf(state)];
        runAll([statement.yes], yes, inner());
        if (statement.no) runAll([statement.no], no, inner());
        return merge(b, state, flag, yes, no);
      }
      case 'loop':
        return runLoop(runner, statement, state, [...scope, new Map()]);
    }
  };

  const runner: Runner = { b, around, evaluate, assign, run, runAll };
  const state: State = {
    ...{ values: new Map(), returned: false, broken: false, continued: false, result: null },
    running: source,
  };
  const scope = new Map<string, Variable>();
  source.parameters.forEach((parameter, i) => declare(state, [scope], parameter.name, args[i]!, false));
  runAll(source.body, state, [scope, new Map()]);
  const type = source.returns.name;
  if (!state.result)
    return fail(source.nameAt, `${source.name} gives nothing back; it should return a ${type}.`);
  if (!programType(type)) return opaque(source.returns, `it gives back a ${type}`);
  return state.result;
};
