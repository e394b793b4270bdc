import { isSampler } from '../types.ts';
import { asksTexture } from '../primitives.ts';
import { declarationOf, type InputName, type Rate } from '../inputs.ts';
import { reachable, rootsOf, type Program, type ProgramFunction, type Value } from '../value.ts';

const ownRate = (value: Value): Rate => {
  switch (value.op) {
    case 'constant':
      return 'constant';
    case 'knob':
    case 'parameter':
      // What is sampled is read by the graphics card alone.
      return isSampler(value.type) ? 'point' : 'frame';
    case 'input':
      return declarationOf(value.payload as InputName).rate;
    case 'argument':
    case 'dFdx':
    case 'dFdy':
    case 'fwidth':
      return 'point';
    default:
      return asksTexture(value.op) || (value.fn && asksAround(value.fn)) ? 'point' : 'constant';
  }
};

const asks = new WeakMap<ProgramFunction, boolean>();
/** True where a function asks the pixels beside it, or what only a graphics card can answer. */
const asksAround = (fn: ProgramFunction): boolean => {
  const known = asks.get(fn);
  if (known !== undefined) return known;
  const found =
    fn.opaque !== undefined ||
    reachable([fn.result]).some(
      (value) => isSlope(value) || asksTexture(value.op) || (value.fn !== null && asksAround(value.fn)),
    );
  asks.set(fn, found);
  return found;
};
const isSlope = ({ op }: Value): boolean => op === 'dFdx' || op === 'dFdy' || op === 'fwidth';

const ORDER: Readonly<Record<Rate, number>> = { constant: 0, frame: 1, object: 2, instance: 3, point: 4 };

/** How often each value changes, by its id: as often as the busiest thing it is made from. */
const ratesOf = (values: readonly Value[]): Uint8Array => {
  const rates = new Uint8Array((values.at(-1)?.id ?? -1) + 1);
  for (const value of values) {
    let rate = ORDER[ownRate(value)];
    for (const input of value.inputs) rate = Math.max(rate, rates[input.id]!);
    rates[value.id] = rate;
  }
  return rates;
};

/**
 * The values that depend only on parameters, knobs and time, and are read by something that differs from prop to prop
 * or more often, by a tap or by an output. Computed once a frame by the columns and handed over as uniforms.
 */
export const frameValuesOf = (program: Program): Value[] => {
  const roots = rootsOf(program);
  const values = reachable(roots);
  const rates = ratesOf(values);
  const read = new Uint8Array(rates.length);
  for (const root of roots) read[root.id] = 1;
  for (const value of values)
    if (rates[value.id]! > ORDER.frame) for (const input of value.inputs) read[input.id] = 1;
  return values.filter(
    (value) => read[value.id] && rates[value.id] === ORDER.frame && !isSampler(value.type),
  );
};
