import { INPUTS, type InputName } from '../../program/inputs.ts';
import { isSampler, componentsOf } from '../../program/types.ts';
import { reachable, type Value } from '../../program/value.ts';
import type { Points } from './points.ts';

/** True where what comes from outside holds one number per component, for all points. */
export const isSameAtAll = (points: Points, value: Value): boolean =>
  isSampler(value.type) ||
  (value.op === 'input'
    ? points.inputs[value.payload as InputName]?.length === componentsOf(value.type)
    : !points.columns?.has(value.payload as string));

const given = (points: Points, { op, payload }: Value): ArrayLike<number> => {
  const name = payload as string;
  if (op !== 'input') return points.columns!.get(name)!;
  const numbers = points.inputs[name as InputName];
  if (!numbers) throw new Error(`the points have no ${name} (${INPUTS[name as InputName].summary})`);
  return numbers;
};

/** The numbers of what differs from point to point, or of an input that is the same at all of them, per component. */
export const pointNumbers = (points: Points, value: Value): ArrayLike<number> => {
  const numbers = given(points, value);
  const size = componentsOf(value.type);
  const fits = numbers.length === size * points.count || (value.op === 'input' && numbers.length === size);
  if (!fits)
    throw new Error(
      `${value.payload as string} should hold ${size * points.count} numbers for ${points.count} points, not ${numbers.length}`,
    );
  return numbers;
};

/** The numbers of a parameter, a knob or an input that are the same at all points. A sampler is its place among the pictures. */
export const uniformNumbers = (points: Points, value: Value): ArrayLike<number> => {
  const name = value.payload as string;
  if (isSampler(value.type)) {
    const place = [...(points.pictures?.keys() ?? [])].indexOf(name);
    if (place < 0) throw new Error(`no picture was given for the texture ${name}`);
    return [place];
  }
  if (value.op === 'input') return pointNumbers(points, value);
  const numbers = (value.op === 'knob' ? points.knobs : points.parameters).get(name);
  if (!numbers) throw new Error(`no value was given for the ${value.op} ${name}`);
  return numbers;
};

/** The inputs that values read, by name. */
export const inputsRead = (values: readonly Value[]): readonly InputName[] =>
  reachable(values).flatMap(({ op, payload }) => (op === 'input' ? [payload as InputName] : []));
