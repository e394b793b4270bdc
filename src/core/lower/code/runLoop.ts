import { MOST_ROUNDS } from '../../language/glsl/limits.ts';
import type { Value } from '../../program/value.ts';
import { fail } from '../../language/mistake.ts';
import { childrenOf, type Expression } from '../../language/syntax.ts';
import { coerce } from '../expression/conversions.ts';
import { andNot, copyOf, flagOf, merge, or, type State } from './flow.ts';
import { opaque } from '../expression/opaque.ts';
import { assignableOf, assign } from './assignable.ts';
import type { Runner, ScopeChain } from './runner.ts';
import type { Statement } from '../../language/glsl/syntax.ts';

type Loop = Extract<Statement, { kind: 'loop' }>;

/** Rounds of a loop whose end depends on what it works on, until a bound beside it ends it surely. */
const MOST_UNSURE = 256;

/** Writes a loop out, round by round, or folds it where that is all it does. */
export const runLoop = (runner: Runner, statement: Loop, state: State, scope: ScopeChain): void => {
  if (fold(runner, statement, state, scope)) return;
  const { b, evaluate, run, runAll } = runner;
  if (statement.init) run(statement.init, state, scope);
  /** Rounds after one that may have left the loop; each is merged back when the last is done. */
  const maybe: { readonly outer: State; readonly before: State; readonly stopped: Value }[] = [];
  let now = state;
  /** What follows counts only where the loop was not left. */
  const leaveWhere = (stopped: Value): void => {
    const inner: State = { ...copyOf(now), returned: false, broken: false };
    maybe.push({ outer: now, before: copyOf(now), stopped });
    now = inner;
  };
  let unsure = 0;
  const goesOn = (): boolean => {
    if (!statement.condition) return true;
    const flag = flagOf(
      coerce(b, evaluate(statement.condition, now, scope), 'bool', statement.condition, 'A condition')
        .parts[0]!,
    );
    if (typeof flag === 'boolean') return flag;
    unsure += 1;
    if (unsure > MOST_UNSURE)
      return opaque(statement.condition, 'how often a loop goes round depends on what it works on');
    leaveWhere(b.not(flag));
    return true;
  };
  const { condition } = statement;
  const unbounded = condition === null || (condition.kind === 'literal' && condition.value !== 0);
  for (let round = 0; ; round += 1) {
    // Where only what it works on ends it, a while is enough to see that it cannot be written out.
    if (maybe.length && round > (unbounded ? MOST_UNSURE : MOST_ROUNDS))
      opaque(statement, 'how often a loop goes round depends on what it works on');
    if (round > MOST_ROUNDS)
      fail(
        statement,
        `This loop goes round more than ${MOST_ROUNDS} times; a shader would never come to its end.`,
      );
    if (!(statement.bodyFirst && round === 0) && !goesOn()) break;
    runAll([statement.body], now, [...scope, new Map()]);
    now.continued = false;
    const left = or(b, now.returned, now.broken);
    if (left === true) break;
    if (left !== false) leaveWhere(left);
    if (statement.step) evaluate(statement.step, now, scope);
  }
  for (const { outer, before, stopped } of maybe.reverse()) {
    const then = now;
    const returned = or(b, before.returned, andNot(b, then.returned, stopped));
    merge(b, outer, stopped, before, then);
    outer.returned = returned;
    outer.broken = or(b, before.broken, andNot(b, then.broken, stopped));
    outer.continued = false;
    now = outer;
  }
  state.broken = false;
};

/** What ++i, i++ and i += 1 count by one, or undefined where a step is any other. */
const countedByOne = (step: Expression): Expression | undefined => {
  if (step.kind === 'postfix' || step.kind === 'unary') return step.sign === '++' ? step.operand : undefined;
  const byOne =
    step.kind === 'assignment' &&
    step.sign === '+=' &&
    step.value.kind === 'literal' &&
    step.value.type === 'int' &&
    step.value.value === 1;
  return byOne ? step.target : undefined;
};

/**
 * A loop that only folds, for (int i = 0; i < n; ++i) x = f(i, x, …), stays a loop, however often it goes round.
 * @returns false where the loop is of another kind
 */
const fold = (
  runner: Runner,
  { init, condition, step: counted, body, bodyFirst }: Loop,
  state: State,
  scope: ScopeChain,
): boolean => {
  const { b, around, evaluate, hasEffects } = runner;
  const counter = init?.kind === 'declaration' && init.names.length === 1 ? init.names[0]! : null;
  const only = body.kind === 'block' && body.body.length === 1 ? body.body[0]! : body;
  const put = only.kind === 'expression' && only.expression.kind === 'assignment' ? only.expression : null;
  if (bodyFirst || init?.kind !== 'declaration' || init.type.name !== 'int' || !counter || counter.brackets)
    return false;
  if (counter.value?.kind !== 'literal' || counter.value.value !== 0) return false;
  if (condition?.kind !== 'binary' || condition.sign !== '<' || !counted || !put || put.sign !== '=')
    return false;
  const isCounter = (e: Expression | undefined) => e?.kind === 'name' && e.name === counter.name;
  if (!isCounter(condition.left) || !isCounter(countedByOne(counted))) return false;
  const { target, value } = put;
  if (target.kind !== 'name' || isCounter(target) || value.kind !== 'call') return false;
  const [folding, ...overloads] = around.functionsOf(value.callee, state.running);
  if (!folding || overloads.length) return false;
  const [first, second, ...rest] = value.args;
  const reads = (e: Expression): boolean =>
    (e.kind === 'name' && (e.name === counter.name || e.name === target.name)) || childrenOf(e).some(reads);
  if (!isCounter(first) || second?.kind !== 'name' || second.name !== target.name) return false;
  if ([condition.right, ...rest].some((each) => reads(each) || hasEffects(each, state))) return false;
  const count = evaluate(condition.right, state, scope);
  if (count.type !== 'int') return false;
  const args = [evaluate(target, state, scope), ...rest.map((each) => evaluate(each, state, scope))];
  // What would have to be converted on its way in is written out, where each round converts it.
  const takes = ['int', ...args.map((each) => each.type)];
  if (folding.parameters.length !== takes.length) return false;
  if (folding.parameters.some((each, i) => each.brackets || each.type.name !== takes[i])) return false;
  const made = around.iterateAsFunction(b, folding, count.parts[0]!, args);
  if (!made) return false;
  assign(runner, assignableOf(runner, target, state, scope), made, state);
  return true;
};
