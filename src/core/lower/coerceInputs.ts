import type { Operator } from '../operators/declare.ts';
import type { Builder } from '../program/builder.ts';
import { baseOf, componentsOf, floatType, isFloating, isScalar, type Type } from '../program/types.ts';
import type { Value } from '../program/value.ts';
import { fail, type Span } from '../language/mistake.ts';

const rank = (type: Type): number => ['bool', 'int', 'uint'].indexOf(type);

/** int becomes uint, and both become float, where the other side asks for it. */
const promote = (b: Builder, value: Value, base: 'int' | 'uint' | 'float'): Value =>
  baseOf(value.type) !== base && rank(value.type) > 0 && isScalar(value.type)
    ? b.convert(base, value)
    : value;

/**
 * Brings a value to a wanted type where that loses nothing: whole numbers to float, a float spread over a vector.
 * @throws SourceError that says how to choose
 */
export const coerce = (b: Builder, value: Value, wanted: Type, at: Span, what: string): Value => {
  if (value.type === wanted) return value;
  if (isFloating(wanted)) {
    const float = promote(b, value, 'float');
    if (float.type === wanted) return float;
    if (float.type === 'float') return b.construct(wanted, float);
    if (isFloating(float.type) && componentsOf(float.type) > componentsOf(wanted)) {
      const pick = wanted === 'float' ? 'x' : 'xyzw'.slice(0, componentsOf(wanted));
      return fail(
        at,
        `${what} takes a ${wanted}, and this is a ${value.type}; choose components, such as .${pick}.`,
      );
    }
  }
  if ((wanted === 'uint' && value.type === 'int') || (wanted === 'int' && value.type === 'uint'))
    return b.convert(wanted, value);
  if ((wanted === 'int' || wanted === 'uint') && value.type === 'float')
    return fail(at, `${what} takes a whole number; write ${wanted}(…) around it to drop the fraction.`);
  return fail(at, `${what} takes a ${wanted}, and this is a ${value.type}.`);
};

/** A value authored for an input, and where it stands. */
export interface ArgumentValue {
  readonly value: Value;
  readonly at: Span;
}

/** Brings all of an operator's `any` inputs to one size: the largest among them. Choices have no value. */
export const coerceInputs = (
  b: Builder,
  operator: Pick<Operator, 'name' | 'inputs'>,
  authored: Readonly<Record<string, ArgumentValue>>,
): Record<string, Value> => {
  let size = 1;
  for (const name in operator.inputs) {
    const own = operator.inputs[name]!.type === 'any' ? componentsOf(authored[name]!.value.type) : 1;
    if (own <= 4) size = Math.max(size, own);
  }
  const largest = floatType(size);
  const coerced: Record<string, Value> = {};
  for (const name in operator.inputs) {
    const input = operator.inputs[name]!;
    if (input.type === 'choice') continue;
    const { value, at } = authored[name]!;
    // A strand may hold a condition for those below it.
    const isCondition = input.type === 'any' && value.type === 'bool' && operator.name === 'value';
    if (value.type === input.type || isCondition) coerced[name] = value;
    else if (input.type === 'any') coerced[name] = coerceToAny(b, value, largest, at, operator.name, name);
    else coerced[name] = coerce(b, value, input.type, at, `${operator.name}’s ${name}`);
  }
  return coerced;
};

/** A number, or a vector of the size that is the largest beside it. */
const coerceToAny = (
  b: Builder,
  value: Value,
  largest: Type,
  at: Span,
  operator: string,
  name: string,
): Value => {
  const float = promote(b, value, 'float');
  if (!isFloating(float.type))
    return fail(at, `${operator}’s ${name} takes a number or a vector, and this is a ${value.type}.`);
  if (float.type === 'float' || float.type === largest) return float;
  return fail(
    at,
    `${operator}’s ${name} is a ${value.type} beside a ${largest}; bring both to one size, as with .${'xyzw'.slice(0, componentsOf(float.type))} or vec${componentsOf(largest)}(…).`,
  );
};

/** An input's default as a constant, or as what the shader is given. @throws SourceError where the author must choose */
export const defaultOf = (
  b: Builder,
  known: Pick<Operator, 'name' | 'inputs'>,
  name: string,
  at: Span,
): Value => {
  const { type, default: start, reads } = known.inputs[name]!;
  if (typeof start === 'string') return b.input(start);
  if (type === 'sampler2D')
    return fail(
      at,
      `${known.name}’s ${name} needs a ${reads ?? 'texture'} parameter; make one and name it here.`,
    );
  return b.constant(type === 'any' ? floatType(start.length) : (type as Type), start);
};
