import { baseOf, componentsOf, type Type } from '../types.ts';

export type Numbers = Float32Array | Int32Array | Uint32Array;

/**
 * One value at many points: component after component, each `stride` numbers long. A uniform column holds one
 * number per component and stands for every point. Booleans are 0 or 1 in an Int32Array.
 */
export interface Column {
  readonly type: Type;
  readonly data: Numbers;
  /** Numbers per component: the count of points, or 1 when the value is the same at all of them. */
  readonly stride: number;
  readonly uniform: boolean;
}

export const numbersFor = (type: Type, length: number): Numbers => {
  const base = baseOf(type);
  return base === 'float'
    ? new Float32Array(length)
    : base === 'uint'
      ? new Uint32Array(length)
      : new Int32Array(length);
};

export const uniformColumn = (type: Type, numbers: ArrayLike<number>): Column => {
  const data = numbersFor(type, componentsOf(type));
  for (let i = 0; i < data.length; i += 1) data[i] = numbers[i] ?? 0;
  return { type, data, stride: 1, uniform: true };
};

/** Columns of zeros for values at `count` points. */
export const emptyColumns = (values: readonly { readonly type: Type }[], count: number): Column[] =>
  values.map(({ type }) => ({
    type,
    data: numbersFor(type, componentsOf(type) * count),
    stride: count,
    uniform: false,
  }));

/** Reads one point's value out of a column. */
export const valueAt = ({ type, data, stride, uniform }: Column, point: number): number[] => {
  const numbers: number[] = [];
  const size = componentsOf(type);
  for (let c = 0, at = uniform ? 0 : point; c < size; c += 1, at += stride) numbers.push(data[at]!);
  return numbers;
};
