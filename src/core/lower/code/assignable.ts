import { fail, type Span } from '../../language/mistake.ts';
import type { Expression, Index, Member } from '../../language/syntax.ts';
import { putIndex, putMember, readIndex, readMember } from '../expression/access.ts';
import type { GlslValue } from '../expression/glslValue.ts';
import { coerce } from '../expression/conversions.ts';
import type { State } from './flow.ts';
import type { Runner, ScopeChain, Variable } from './runner.ts';

/**
 * Where a value can be put: a variable, or a part of one. What stands in its brackets was worked out once, before
 * whatever is put there (GLSL ES 3.00, 5.8).
 */
export interface Assignable {
  readonly variable: Variable;
  readonly name: string;
  readonly at: Span;
  readonly parts: readonly (Member | { readonly e: Index; readonly index: GlslValue })[];
}

/** The place that an expression names. @throws SourceError where it is none, or may not be changed */
export const assignableOf = (
  runner: Runner,
  target: Expression,
  state: State,
  scope: ScopeChain,
): Assignable => {
  const { around, evaluate, find } = runner;
  switch (target.kind) {
    case 'name': {
      const { name } = target;
      const variable = find(scope, name);
      if (variable && !variable.isConst) return { variable, name, at: target, parts: [] };
      if (variable || around.globals.has(name)) return fail(target, `${name} is a constant.`);
      return fail(
        target,
        around.outside(name)
          ? `${name} comes from outside and cannot be changed here.`
          : `Nothing is called “${name}” here.`,
      );
    }
    case 'member': {
      const whole = assignableOf(runner, target.object, state, scope);
      return { ...whole, parts: [...whole.parts, target] };
    }
    case 'index': {
      const whole = assignableOf(runner, target.object, state, scope);
      const index = evaluate(target.index, state, scope);
      return { ...whole, parts: [...whole.parts, { e: target, index }] };
    }
    default:
      return fail(target, 'Nothing can be put here; on the left of = stands a variable.');
  }
};

const readPart = ({ b }: Runner, whole: GlslValue, part: Assignable['parts'][number]): GlslValue =>
  'e' in part ? readIndex(b, whole, part.index, part.e) : readMember(b, whole, part);

/** What stands at a place. */
export const readAssignable = (runner: Runner, { variable, parts }: Assignable, state: State): GlslValue =>
  parts.reduce((whole, part) => readPart(runner, whole, part), state.values.get(variable.key)!);

/** Puts a value at a place, and gives it back. */
export const assign = (runner: Runner, place: Assignable, value: GlslValue, state: State): GlslValue => {
  const { b } = runner;
  const { variable, parts, name, at } = place;
  const change = (whole: GlslValue, [part, ...rest]: Assignable['parts']): GlslValue => {
    if (!part) return value;
    const inner = rest.length ? change(readPart(runner, whole, part), rest) : value;
    return 'e' in part ? putIndex(b, whole, part.index, inner, part.e) : putMember(b, whole, inner, part);
  };
  const changed = change(state.values.get(variable.key)!, parts);
  const fitted = coerce(b, changed, variable.type, at, name);
  state.values.set(variable.key, fitted);
  return parts.length ? value : fitted;
};
