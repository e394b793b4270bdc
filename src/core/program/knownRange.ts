import { primitiveOf } from './primitives.ts';
import type { Value } from './value.ts';

/** The number a constant is, the same in each component; null of anything else. */
export const bound = (value: Value | undefined): number | null => {
  if (value?.op !== 'constant') return null;
  const numbers = value.payload as readonly number[];
  return numbers.every((each) => each === numbers[0]) ? numbers[0]! : null;
};

/** True where `value` cannot leave [low, high]: it was clamped there already, or is a step. */
export const isWithin = (value: Value, low: number, high: number): boolean => {
  if (primitiveOf(value.op)?.range === '0 to 1') return low <= 0 && high >= 1;
  if (value.op !== 'clamp') return false;
  const least = bound(value.inputs[1]);
  const most = bound(value.inputs[2]);
  return least !== null && most !== null && least >= low && least <= most && most <= high;
};

/** True where no component can be below 0 (a NaN may be). */
export const isNeverBelow0 = (value: Value): boolean => {
  if (value.op === 'constant') return (value.payload as readonly number[]).every((x) => x >= 0);
  if (value.op === 'max') return (bound(value.inputs[1]) ?? -1) >= 0;
  // Bounds in the wrong order give the upper one, whatever the lower is.
  if (value.op === 'clamp') return value.inputs.slice(1).every((each) => (bound(each) ?? -1) >= 0);
  if (value.op === 'subtract')
    return (bound(value.inputs[0]) ?? -1) >= 0 && isWithin(value.inputs[1]!, 0, bound(value.inputs[0])!);
  if (value.op === 'multiply') return value.inputs[0] === value.inputs[1];
  return (primitiveOf(value.op)?.range ?? 'any') !== 'any';
};
