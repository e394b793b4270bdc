import { INPUTS, type InputName } from '../../program/inputs.ts';
import { componentsOf } from '../../program/types.ts';
import type { Value } from '../../program/value.ts';
import type { Points } from './points.ts';

/** True where an input holds one number per component, for all points. */
export const isSameAtAll = (points: Points, value: Value): boolean =>
  points.inputs[value.payload as InputName]?.length === componentsOf(value.type);

/** The numbers of an input: one for each point or one for all of them, per component. */
export const inputNumbers = (points: Points, value: Value): ArrayLike<number> => {
  const name = value.payload as InputName;
  const given = points.inputs[name];
  if (!given) throw new Error(`the points have no ${name} (${INPUTS[name].summary})`);
  const size = componentsOf(value.type);
  if (given.length !== size && given.length !== size * points.count)
    throw new Error(
      `${name} should hold ${size * points.count} numbers for ${points.count} points, not ${given.length}`,
    );
  return given;
};

/** The numbers of a parameter, a knob or an input that are the same at all points. A sampler is its place among the pictures. */
export const uniformNumbers = (points: Points, value: Value): ArrayLike<number> => {
  const name = value.payload as string;
  if (value.type === 'sampler2D') {
    const place = [...(points.pictures?.keys() ?? [])].indexOf(name);
    if (place < 0) throw new Error(`no picture was given for the texture ${name}`);
    return [place];
  }
  if (value.op === 'input') return inputNumbers(points, value);
  const numbers = (value.op === 'knob' ? points.knobs : points.parameters).get(name);
  if (!numbers) throw new Error(`no value was given for the ${value.op} ${name}`);
  return numbers;
};
