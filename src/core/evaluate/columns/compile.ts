import { isSampler, componentsOf } from '../../program/types.ts';
import { reachable, type Value } from '../../program/value.ts';
import { emitWasm, type ColumnsModule, type Slot } from '../wasm/emitWasm.ts';
import { SAMPLED } from '../wasm/host.ts';
import { emptyColumns, type Column, type Numbers } from '../../program/kernels/column.ts';
import { isSameAtAll, pointNumbers, uniformNumbers } from '../points/inputNumbers.ts';
import type { Picture, Points } from '../points/points.ts';
import { sampleAt } from './sample.ts';

/** Computes prepared values at points. */
export type Computation = (points: Points) => Column[];

/** Points computed by one call: few enough for their columns to stay in the cache, a multiple of four for quads. */
const BLOCK = 2048;
const PAGE = 65_536;

/** A compiled program with its memory, and the pictures it is sampling now. */
interface Machine {
  readonly layout: ColumnsModule;
  readonly run: (bytes: number) => void;
  readonly numbersOf: (slot: Slot) => Numbers;
  pictures: readonly Picture[];
}

const start = (layout: ColumnsModule): Machine => {
  const memory = new WebAssembly.Memory({ initial: Math.ceil(layout.memory / PAGE) });
  const floats = new Float32Array(memory.buffer);
  const ints = new Int32Array(memory.buffer);
  const uints = new Uint32Array(memory.buffer);
  const sample = (place: number, u: number, v: number): void =>
    sampleAt(machine.pictures[place]!, u, v, floats, SAMPLED / 4, 1);
  // Doubles in, doubles out, so that engines may put their own code in the place of these calls.
  const math = Math as unknown as WebAssembly.ModuleImports;
  const instance = new WebAssembly.Instance(new WebAssembly.Module(layout.bytes), {
    math,
    columns: { memory, sample },
  });
  const machine: Machine = {
    layout,
    run: instance.exports['run'] as (bytes: number) => void,
    numbersOf: ({ value: { type } }) =>
      type === 'uint' ? uints : type === 'int' || type === 'bool' || isSampler(type) ? ints : floats,
    pictures: [],
  };
  return machine;
};

/** Writes what the points give for a block of them into the machine's memory. */
const giveVarying = (machine: Machine, points: Points, from: number, n: number): void => {
  for (const slot of machine.layout.varying) {
    const given = pointNumbers(points, slot.value);
    const numbers = machine.numbersOf(slot);
    for (let c = 0; c < componentsOf(slot.value.type); c += 1) {
      const to = slot.at / 4 + c * BLOCK;
      const first = c * points.count + from;
      if (given instanceof Float32Array) numbers.set(given.subarray(first, first + n), to);
      else for (let i = 0; i < n; i += 1) numbers[to + i] = given[first + i]!;
    }
  }
};

const compute = (machine: Machine, points: Points): Column[] => {
  const { layout } = machine;
  machine.pictures = [...(points.pictures?.values() ?? [])];
  for (const slot of layout.uniform)
    machine.numbersOf(slot).set(uniformNumbers(points, slot.value), slot.at / 4);
  const columns = emptyColumns(
    layout.results.map((slot) => slot.value),
    points.count,
  );
  for (let from = 0; from < points.count; from += BLOCK) {
    const n = Math.min(BLOCK, points.count - from);
    giveVarying(machine, points, from, n);
    machine.run(n * 4);
    layout.results.forEach((slot, r) => {
      const { data, stride, type } = columns[r]!;
      for (let c = 0; c < componentsOf(type); c += 1) {
        const first = slot.at / 4 + c * BLOCK;
        data.set(machine.numbersOf(slot).subarray(first, first + n), c * stride + from);
      }
    });
  }
  return columns;
};

/**
 * Compiles values for many points, once for each set of what differs between them.
 * @returns a computation that gives null where the program does not fit, or needs quads that the points are not in
 */
export const compile = (roots: readonly Value[]): ((points: Points) => Column[] | null) => {
  const machines = new Map<string, Machine | null>();
  let inputs: readonly Value[] | undefined;
  let hasSlopes = false;
  return (points) => {
    if (!inputs) {
      const values = reachable(roots);
      inputs = values.filter(({ op }) => op === 'input' || op === 'parameter' || op === 'knob');
      hasSlopes = values.some((value) => ['dFdx', 'dFdy', 'fwidth'].includes(value.op));
    }
    if (hasSlopes && (!points.quads || points.count % 4)) return null;
    const varying = inputs.filter((value) => !isSameAtAll(points, value));
    const key = varying.map(({ op, payload }) => `${op} ${payload as string}`).join();
    let machine = machines.get(key);
    if (machine === undefined) {
      const layout = emitWasm(roots, BLOCK, new Set(varying));
      machines.set(key, (machine = layout && start(layout)));
    }
    return machine && compute(machine, points);
  };
};
