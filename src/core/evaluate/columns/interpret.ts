import { asksTexture, primitiveOf } from '../../program/primitives.ts';
import { baseOf, componentsOf, type Type } from '../../program/types.ts';
import { reachable, type ProgramFunction, type Value } from '../../program/value.ts';
import {
  emptyColumns,
  numbersFor,
  uniformColumn,
  type Column,
  type Numbers,
} from '../../program/kernels/column.ts';
import { isSameAtAll, pointNumbers, uniformNumbers } from '../points/inputNumbers.ts';
import type { Kernel } from '../../program/kernels/kernels.ts';
import type { Points } from '../points/points.ts';
import { askPicture } from './sample.ts';

/** Points computed together: enough to outweigh the dispatch, few enough to stay in the cache. */
const BLOCK = 2048;

/** What to run, in order, worked out once for a set of roots. */
interface Plan {
  readonly values: readonly Value[];
  readonly kernels: readonly (Kernel | null)[];
  readonly inputs: readonly (readonly number[])[];
  /** After the value at i, the columns at these places are needed no more. */
  readonly done: readonly (readonly number[])[];
  readonly roots: readonly number[];
}

/** Calls, loops and textures are run by the block itself. */
const NONE: Kernel = () => undefined;
/** How a value is computed; null of leaves, which are read. */
const kernelFor = (value: Value): Kernel | null => {
  if (value.fn) return NONE;
  const row = primitiveOf(value.op);
  return row && (typeof row.runs === 'function' ? row.runs : NONE);
};

const planFor = (roots: readonly Value[]): Plan => {
  const values = reachable(roots);
  const place = new Map(values.map((value, i) => [value, i]));
  const inputs = values.map((value) => value.inputs.map((input) => place.get(input)!));
  const lastUse = new Map<number, number>();
  inputs.forEach((list, i) => list.forEach((input) => lastUse.set(input, i)));
  const rootPlaces = roots.map((root) => place.get(root)!);
  for (const root of rootPlaces) lastUse.delete(root);
  const done: number[][] = values.map(() => []);
  for (const [input, user] of lastUse) done[user]!.push(input);
  return {
    values,
    kernels: values.map((value) => kernelFor(value)),
    inputs,
    done,
    roots: rootPlaces,
  };
};

const functionPlans = new WeakMap<ProgramFunction, Plan>();
const planOf = (fn: ProgramFunction): Plan => {
  let plan = functionPlans.get(fn);
  if (!plan) functionPlans.set(fn, (plan = planFor([fn.result])));
  return plan;
};

/** One block of points being computed, with buffers kept for reuse. */
interface Block {
  readonly points: Points;
  readonly from: number;
  readonly n: number;
  readonly spare: Map<string, Numbers[]>;
  readonly effort: Effort;
}

/** Points whose numbers take as long to compute as an operation takes to be dispatched. */
const DISPATCH = 256;

const take = (block: Block, type: Type, length: number): Numbers =>
  block.spare.get(baseOf(type) + length)?.pop() ?? numbersFor(type, length);

const give = (block: Block, column: Column): void => {
  const key = baseOf(column.type) + column.data.length;
  const list = block.spare.get(key);
  if (list) list.push(column.data);
  else block.spare.set(key, [column.data]);
};

const readLeaf = (block: Block, value: Value, args: readonly Column[]): Column => {
  const { points, from, n } = block;
  if (value.op === 'constant') return uniformColumn(value.type, value.payload as readonly number[]);
  if (value.op === 'argument') return args[value.payload as number]!;
  if (isSameAtAll(points, value)) return uniformColumn(value.type, uniformNumbers(points, value));
  const given = pointNumbers(points, value);
  const size = componentsOf(value.type);
  const data = numbersFor(value.type, size * n);
  for (let c = 0; c < size; c += 1)
    for (let i = 0; i < n; i += 1) data[c * n + i] = given[c * points.count + from + i]!;
  return { type: value.type, data, stride: n, uniform: false };
};

const runIterate = (block: Block, value: Value, inputs: readonly Column[]): Column => {
  const [count, initial, ...rest] = inputs as [Column, Column, ...Column[]];
  let most = 0;
  for (let p = 0; p < (count.uniform ? 1 : block.n); p += 1) most = Math.max(most, count.data[p]!);
  let state = initial;
  for (let i = 0; i < most; i += 1) {
    const next = run(block, planOf(value.fn!), [uniformColumn('int', [i]), state, ...rest])[0]!;
    const kept = count.uniform ? next : keepFinished(block, count, i, state, next);
    if (state !== initial && state !== kept && !rest.includes(state)) give(block, state);
    state = kept;
  }
  return state;
};

/** Points whose own count is reached keep the state they had. */
const keepFinished = (block: Block, count: Column, i: number, before: Column, after: Column): Column => {
  const { n } = block;
  const size = componentsOf(after.type);
  const data = numbersFor(after.type, size * n);
  for (let c = 0; c < size; c += 1)
    for (let p = 0; p < n; p += 1) {
      const from = i < count.data[p]! ? after : before;
      data[c * n + p] = from.data[c * from.stride + (from.uniform ? 0 : p)]!;
    }
  return { type: after.type, data, stride: n, uniform: false };
};

/** Reads a texture at every point, or asks for its size. */
const runTexture = (block: Block, value: Value, [sampler, ...rest]: readonly Column[]): Column => {
  const picture = [...block.points.pictures!.values()][sampler!.data[0]!]!;
  const uniform = rest.every((each) => each.uniform);
  const n = uniform ? 1 : block.n;
  const data = numbersFor(value.type, componentsOf(value.type) * n);
  askPicture(picture, value, rest, data, n);
  return { type: value.type, data, stride: n, uniform };
};

const copyOf = (block: Block, column: Column): Column => {
  const data = take(block, column.type, column.data.length);
  data.set(column.data);
  return { ...column, data };
};

const isSlope = (value: Value): boolean =>
  value.op === 'dFdx' || value.op === 'dFdy' || value.op === 'fwidth';

const compute = (
  block: Block,
  value: Value,
  kernel: Kernel,
  inputs: readonly Column[],
): { readonly column: Column; readonly owned: boolean } => {
  switch (value.op) {
    case 'call':
    case 'iterate': {
      if (value.fn!.opaque)
        throw new Error(`${value.fn!.name} runs only on the graphics card: ${value.fn!.opaque.why}`);
      const column =
        value.op === 'call' ? run(block, planOf(value.fn!), inputs)[0]! : runIterate(block, value, inputs);
      // What was handed in and comes back unchanged is copied: its buffer is given up when it was last read.
      return { column: inputs.includes(column) ? copyOf(block, column) : column, owned: true };
    }
  }
  if (asksTexture(value.op)) return { column: runTexture(block, value, inputs), owned: false };
  if (isSlope(value) && !block.points.quads && !inputs[0]!.uniform)
    throw new Error(`${value.op} needs points laid out in 2×2 quads`);
  const uniform = inputs.every((input) => input.uniform);
  const n = uniform ? 1 : block.n;
  const data = take(block, value.type, n * componentsOf(value.type));
  kernel(value, inputs, data, n);
  return { column: { type: value.type, data, stride: n, uniform }, owned: true };
};

const run = (block: Block, plan: Plan, args: readonly Column[]): Column[] => {
  const columns = new Array<Column>(plan.values.length);
  block.effort.spent += plan.values.length * (1 + block.n / DISPATCH);
  const owned = new Uint8Array(plan.values.length);
  plan.values.forEach((value, i) => {
    const kernel = plan.kernels[i];
    if (!kernel) columns[i] = readLeaf(block, value, args);
    else {
      const inputs = plan.inputs[i]!.map((place) => columns[place]!);
      const made = compute(block, value, kernel, inputs);
      columns[i] = made.column;
      owned[i] = made.owned ? 1 : 0;
    }
    for (const place of plan.done[i]!) if (owned[place]) give(block, columns[place]!);
  });
  return plan.roots.map((place) => columns[place]!);
};

const sizeOf = (plan: Plan, counted: Set<Plan>): number => {
  if (counted.has(plan)) return 0;
  counted.add(plan);
  return plan.values.reduce(
    (sum, { fn }) => sum + (fn && !fn.opaque ? sizeOf(planOf(fn), counted) : 0),
    plan.values.length,
  );
};
/** How many operations some values have, those of the functions they call once each. */
export const operationsOf = (roots: readonly Value[]): number => sizeOf(planFor(roots), new Set());

/** What was run so far: operations, one over many points counted as more than one. */
export interface Effort {
  spent: number;
}

/** Works out once how to compute some values one operation after another, to do it many times. */
export const interpret = (
  roots: readonly Value[],
  effort: Effort = { spent: 0 },
): ((points: Points) => Column[]) => {
  const plan = planFor(roots);
  const spare = new Map<string, Numbers[]>();
  return (points) => {
    const results = emptyColumns(roots, points.count);
    for (let from = 0; from < points.count; from += BLOCK) {
      const n = Math.min(BLOCK, points.count - from);
      run({ points, from, n, spare, effort }, plan, []).forEach((column, r) => {
        const out = results[r]!;
        for (let c = 0; c < componentsOf(column.type); c += 1) {
          const start = c * column.stride;
          const to = c * out.stride + from;
          if (column.uniform) out.data.fill(column.data[start]!, to, to + n);
          else out.data.set(column.data.subarray(start, start + n), to);
        }
      });
    }
    return results;
  };
};

/** Computes a function of the program for `count` points from columns for its parameters. */
export const evaluateFunction = (
  fn: ProgramFunction,
  args: readonly Column[],
  count: number,
  given: Partial<Points> = {},
): Column => {
  const points: Points = { inputs: {}, parameters: new Map(), knobs: new Map(), ...given, count };
  const result = run(
    { points, from: 0, n: count, spare: new Map(), effort: { spent: 0 } },
    planOf(fn),
    args,
  )[0]!;
  return result.uniform ? spread(result, count) : result;
};

/** A uniform column written out for every point. */
const spread = ({ type, data }: Column, count: number): Column => {
  const all = numbersFor(type, componentsOf(type) * count);
  for (let c = 0; c < componentsOf(type); c += 1) all.fill(data[c]!, c * count, (c + 1) * count);
  return { type, data: all, stride: count, uniform: false };
};

/** Computes one value that depends on no point. */
export const evaluateConstant = (value: Value): number[] =>
  Array.from(interpret([value])({ count: 1, inputs: {}, parameters: new Map(), knobs: new Map() })[0]!.data);
