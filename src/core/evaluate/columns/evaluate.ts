import type { Value } from '../../program/value.ts';
import type { Column } from '../../program/kernels/column.ts';
import { compile, type Computation } from './compile.ts';
import { interpret } from './interpret.ts';
import type { Points } from '../points/points.ts';

/** Points from which a compiled program has paid for its compiling. */
const WORTH_COMPILING = 4096;

/**
 * Works out once how to compute some values, to do it many times: few points one operation after another, many points
 * by a program compiled for them, where there is one. Both give the same numbers.
 * @throws Error (when run) naming the input, parameter, knob or picture that the points lack
 */
export const prepare = (roots: readonly Value[]): Computation => {
  const slowly = interpret(roots);
  const swiftly = compile(roots);
  let asked = 0;
  return (points) => {
    asked += points.count;
    return (asked >= WORTH_COMPILING ? swiftly(points) : null) ?? slowly(points);
  };
};

/**
 * Computes values at many points at once, rounding to 32-bit floats after every operation as a GPU does: the
 * program's reference meaning.
 */
export const evaluate = (roots: readonly Value[], points: Points): Column[] => prepare(roots)(points);
