import { declarationOf, type InputName, type Rate } from '../inputs.ts';
import { reachable, rootsOf, type Program, type Value } from '../value.ts';

const ownRate = (value: Value): Rate => {
  switch (value.op) {
    case 'constant':
      return 'constant';
    case 'knob':
    case 'parameter':
      // What is sampled is read by the graphics card alone.
      return value.type === 'sampler2D' ? 'point' : 'frame';
    case 'input':
      return declarationOf(value.payload as InputName).rate;
    case 'argument':
    case 'texture':
    case 'dFdx':
    case 'dFdy':
    case 'fwidth':
      return 'point';
    default:
      return value.fn?.opaque ? 'point' : 'constant';
  }
};

const ORDER: readonly Rate[] = ['constant', 'frame', 'point'];

/** How often each value changes: as often as the busiest thing it is made from. */
export const ratesOf = (values: readonly Value[]): ReadonlyMap<Value, Rate> => {
  const rates = new Map<Value, Rate>();
  for (const value of values) {
    let rate = ORDER.indexOf(ownRate(value));
    for (const input of value.inputs) rate = Math.max(rate, ORDER.indexOf(rates.get(input)!));
    rates.set(value, ORDER[rate]!);
  }
  return rates;
};

/**
 * The values that depend only on parameters, knobs and time, and are read by something that differs from point to
 * point, by a tap or by an output. Computed once a frame by the columns and handed over as uniforms.
 */
export const frameValuesOf = (program: Program): Value[] => {
  const roots = rootsOf(program);
  const values = reachable(roots);
  const rates = ratesOf(values);
  const read = new Set(roots);
  for (const value of values)
    if (rates.get(value) === 'point') for (const input of value.inputs) read.add(input);
  return values.filter(
    (value) => read.has(value) && rates.get(value) === 'frame' && value.type !== 'sampler2D',
  );
};
