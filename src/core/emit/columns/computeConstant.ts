import { baseOf, componentsOf, type Scalar, type Type } from '../../program/types.ts';
import type { Value } from '../../program/value.ts';
import { numbersFor, type Numbers } from './column.ts';
import { kernelFor, type Source } from './kernels.ts';

/** What an operation is, apart from its place in a program. */
export interface Operation {
  readonly op: Value['op'];
  readonly type: Type;
  readonly inputs: readonly { readonly type: Type }[];
  readonly payload: Value['payload'];
}

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
  kernelFor(operation)(operation, sources, out, 1);
  const numbers: number[] = [];
  for (let c = 0; c < componentsOf(operation.type); c += 1) numbers.push(out[c]!);
  return numbers;
};
