import type { Value } from '../../program/value.ts';
import { computeConstant } from '../../program/kernels/computeConstant.ts';
import type { Part } from './code.ts';
import { kindOf } from './host.ts';

type Parts = readonly Part[];

/**
 * What need not be computed at every point, because a function was written in place with numbers known beforehand.
 * @returns the parts of the result, or null where there is something to compute
 */
export const foldOperation = (value: Value, inputs: readonly Parts[]): Parts | null => {
  if (value.op === 'texture' || value.op === 'swizzle' || value.op === 'construct') return null;
  if (value.op === 'select' && inputs[0]![0]!.constant !== undefined)
    return inputs[0]![0]!.constant ? inputs[1]! : inputs[2]!;
  if (!inputs.every((parts) => parts.every((part) => part.constant !== undefined))) return null;
  const numbers = inputs.map((parts) => parts.map((part) => part.constant!));
  return computeConstant(value, numbers).map((constant) => ({ kind: kindOf(value.type), constant }));
};
