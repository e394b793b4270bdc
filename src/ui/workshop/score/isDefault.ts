import type { Argument } from '#core/document/shader.ts';
import type { OperatorInput } from '#core/operators/declare.ts';

/** True where an argument stands as its input does by itself. */
export const isDefault = (given: Argument | undefined, input: OperatorInput): boolean => {
  if (given === undefined) return input.type !== 'sampler2D';
  if (typeof given === 'string') return given === (input.options?.[0] ?? input.default);
  const numbers = typeof given === 'number' ? [given] : given;
  return (
    typeof input.default !== 'string' &&
    numbers.length === input.default.length &&
    input.default.every((x, i) => x === numbers[i])
  );
};
