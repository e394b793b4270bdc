import { baseOf, componentsOf, type Scalar } from '../types.ts';
import { numbersFor, type Numbers } from './column.ts';
import { kernelOf } from '../primitives.ts';
import type { Source } from './kernels.ts';
import type { Operation } from './operation.ts';

/** Room for one value of each kind: the largest is a mat3. */
const ROOM: Readonly<Record<Scalar, Numbers>> = {
  float: numbersFor('mat3', 9),
  int: numbersFor('int', 9),
  uint: numbersFor('uint', 9),
  bool: numbersFor('bool', 9),
};

/** Computes one operation on known numbers, rounded as columns round. Not for calls, loops and textures. */
export const computeConstant = (operation: Operation, inputs: readonly (readonly number[])[]): number[] => {
  const out = ROOM[baseOf(operation.type)];
  const sources = inputs.map((data, i): Source => ({
    type: operation.inputs[i]!.type,
    data,
    stride: 1,
    uniform: true,
  }));
  kernelOf(operation.op)(operation, sources, out, 1);
  const numbers: number[] = [];
  for (let c = 0; c < componentsOf(operation.type); c += 1) numbers.push(out[c]!);
  return numbers;
};
