import { fail } from '../../language/mistake.ts';
import type { Call, Expression } from '../../language/syntax.ts';
import { ownerOf } from '../../language/glsl/analyseModule.ts';
import { assignableOf, assign, readAssignable } from './assignable.ts';
import { spelled, zeroOf, type GlslValue } from '../expression/glslValue.ts';
import { coerce } from '../expression/conversions.ts';
import type { State } from './flow.ts';
import { namedType } from './namedType.ts';
import type { Runner, ScopeChain, Variable } from './runner.ts';
import type { FunctionSource } from '../../language/glsl/syntax.ts';

/** Of functions that share a name, the one that takes what it is given. */
const chooseOverload = (
  runner: Runner,
  e: Call,
  users: readonly FunctionSource[],
  given: readonly GlslValue[],
  state: State,
): FunctionSource => {
  if (users.length === 1) return users[0]!;
  const fits = (user: FunctionSource, same: (takes: string, type: string) => boolean): boolean =>
    user.parameters.length === given.length &&
    user.parameters.every((each, i) =>
      same(namedType(runner, each.type, each.brackets, state, []), given[i]!.type),
    );
  const found =
    users.find((user) => fits(user, (takes, type) => takes === type)) ??
    users.find((user) =>
      fits(user, (takes, type) => takes === type || (takes === 'float' && type === 'int')),
    );
  const types = given.map((each) => spelled(each.type)).join(', ');
  const takes = users.map((user) => `(${user.parameters.map((each) => each.type.name).join(', ')})`);
  return found ?? fail(e, `No ${e.callee} takes (${types}); ${takes.join(' or ')} would do.`);
};

/** Calls one of the module's functions: as one of the program where that holds it, written out where it does not. */
export const callFunction = (
  runner: Runner,
  e: Call,
  users: readonly FunctionSource[],
  state: State,
  scope: ScopeChain,
): GlslValue => {
  const { b, around, evaluate, declare, runAll } = runner;
  const mayChange = (arg: Expression, i: number): boolean =>
    users.some((each) => (each.parameters[i]?.way ?? 'in') !== 'in') &&
    runner.find(scope, ownerOf(arg) ?? '')?.isConst === false;
  // Where something is given back to is settled with the arguments, before the call.
  const args = e.args.map((arg, i) => {
    const place = mayChange(arg, i) ? assignableOf(runner, arg, state, scope) : null;
    return { place, value: place ? readAssignable(runner, place, state) : evaluate(arg, state, scope) };
  });
  const given = args.map((each) => each.value);
  const user = chooseOverload(runner, e, users, given, state);
  if (given.length !== user.parameters.length)
    return fail(e, `${user.name} takes ${user.parameters.length} arguments, not ${given.length}.`);
  const values = user.parameters.map((parameter, i) => {
    const type = namedType(runner, parameter.type, parameter.brackets, state, []);
    return parameter.way === 'out'
      ? zeroOf(b, type)
      : coerce(b, given[i]!, type, e.args[i]!, `${user.name}’s ${parameter.name}`);
  });
  if (user.parameters.every((each) => each.way === 'in')) {
    const whole = around.callAsFunction(b, user, values);
    if (whole) return whole;
  }
  const { returned, broken, continued, result, running } = state;
  Object.assign(state, { returned: false, broken: false, continued: false, result: null, running: user });
  const inner = new Map<string, Variable>();
  user.parameters.forEach((parameter, i) => declare(state, [inner], parameter.name, values[i]!, false));
  runAll(user.body, state, [inner, new Map()]);
  const made = state.result;
  Object.assign(state, { returned, broken, continued, result, running });
  user.parameters.forEach((parameter, i) => {
    if (parameter.way === 'in') return;
    const place = args[i]!.place ?? assignableOf(runner, e.args[i]!, state, scope);
    assign(runner, place, state.values.get(inner.get(parameter.name)!.key)!, state);
  });
  if (user.returns.name === 'void') return zeroOf(b, 'float');
  return made ?? zeroOf(b, namedType(runner, user.returns, null, state, []));
};
