import type { Value } from '../../program/value.ts';
import type { Column } from '../../program/kernels/column.ts';
import { compile, type Computation } from './compile.ts';
import { interpret, operationsOf, type Effort } from './interpret.ts';
import type { Points } from '../points/points.ts';

/** Points of one look that are sure to pay for compiling. */
const MANY = 4096;
/** To compile an operation takes about as long as to run it so often by itself. */
const COMPILING = 12;

/**
 * Works out once how to compute some values, to do it many times: one operation after another at first, and by a
 * program compiled for them, where there is one, once that would have paid for itself. Both give the same numbers.
 * @throws Error (when run) naming the input, parameter, knob or picture that the points lack
 */
export const prepare = (roots: readonly Value[]): Computation => {
  const effort: Effort = { spent: 0 };
  const slowly = interpret(roots, effort);
  const swiftly = compile(roots);
  const enough = COMPILING * operationsOf(roots);
  return (points) =>
    (points.count >= MANY || effort.spent > enough ? swiftly(points) : null) ?? slowly(points);
};

/**
 * Computes values at many points at once, rounding to 32-bit floats after every operation as a GPU does: the
 * program's reference meaning.
 */
export const evaluate = (roots: readonly Value[], points: Points): Column[] => prepare(roots)(points);
