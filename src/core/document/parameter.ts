import { keysProblem } from '../numbers/curve.ts';
import {
  id,
  identifier,
  list,
  number,
  numbers,
  object,
  oneOf,
  optional,
  standing,
  text,
  told,
  type Field,
  type Fields,
  type Read,
} from './fields.ts';
import {
  isTable,
  PARAMETER_KINDS,
  PARAMETER_SCOPES,
  parameterSize,
  type ParameterKind,
  type ParameterValue,
} from './parameterKinds.ts';
import type { Reader } from './read.ts';
import { MOST_NUMBERS } from './values.ts';

/** As many numbers as the kind holds, or as many as there are keys; which kind it is stands beside it. */
const start: Field<ParameterValue> = told(
  list(number, MOST_NUMBERS),
  'One number per component; a colour is linear r, g, b and stops; noise a seed and a period; a curve x, y, slope before, slope after per key; a gradient where, r, g, b per stop; a texture none.',
);

/** What every parameter has. */
export const parameterFields = {
  id,
  name: identifier,
  kind: oneOf(PARAMETER_KINDS),
  default: start,
  /** The range for every component; a colour's is its stops', a noise's its seed's. */
  min: number,
  max: number,
  unit: standing(text(16), ''),
  group: standing(text(64), ''),
  description: standing(text(500), ''),
  scope: optional(oneOf(PARAMETER_SCOPES)),
  /** Where the useful ends are, of a float that is driven from 0 to 1 between them. */
  ends: optional(told(numbers(2), 'Driven from 0 to 1, the shader works between these.')),
} as const satisfies Fields;

const sizeProblem = (r: Reader, kind: ParameterKind, value: ParameterValue, path: string): void => {
  if (!isTable(kind)) r.numbers(value, path, parameterSize(kind));
  else {
    const problem = keysProblem(value, kind === 'curve' ? 'key' : 'stop');
    if (problem) r.problem(path, problem);
  }
};

/** A parameter, or what has all of a parameter and more. @throws nothing: what is wrong is told to the reader */
export const checked = <P extends Parameter>(field: Field<P>): Field<P> => ({
  ...field,
  read: (r, value, path, how) => {
    const before = r.problems.length;
    const parameter = field.read(r, value, path, how);
    if (r.problems.length > before) return parameter;
    sizeProblem(r, parameter.kind, parameter.default, `${path}.default`);
    const problem = r.problems.length > before ? null : parameterProblem(parameter);
    if (problem) r.problem(path, problem);
    return parameter;
  },
});

const plain = object(parameterFields);
export type Parameter = Read<typeof plain>;
export const parameter: Field<Parameter> = checked(plain);

/** Says what is wrong with a parameter's range, ends, scope or default, or null. */
export const parameterProblem = (parameter: Parameter): string | null => {
  const { kind, min, max, default: start, ends, scope } = parameter;
  if ([min, max, ...start, ...(ends ?? [])].some((x) => !Number.isFinite(x)))
    return 'Its range and default must be finite numbers.';
  if (isTable(kind))
    return keysProblem(start, kind === 'curve' ? 'key' : 'stop') ?? scopeProblem(kind, scope);
  if (kind === 'bool' || kind === 'texture') return scopeProblem(kind, scope);
  if (min > max)
    return `Its range runs from ${min} to ${max}; the least value must not be above the greatest.`;
  const ranged = kind === 'color' ? start.slice(3) : kind === 'noise' ? start.slice(0, 1) : start;
  const outside = ranged.find((x) => x < min || x > max);
  if (outside !== undefined)
    return `Its default ${outside} lies outside its range ${min} to ${max}; move one of them.`;
  if ((kind === 'int' || kind === 'noise') && start.some((x) => !Number.isInteger(x)))
    return kind === 'int' ? 'An int has no fraction.' : 'A seed and a period have no fraction.';
  if (ends && kind !== 'float') return `Only a float can be driven from 0 to 1 between ends, not a ${kind}.`;
  if (ends && (min < 0 || max > 1)) return 'Driven between ends, its own range lies within 0 to 1.';
  return scopeProblem(kind, scope);
};

const scopeProblem = (kind: ParameterKind, scope: Parameter['scope']): string | null =>
  scope === 'lifetime' && !['float', 'vec2', 'vec3', 'vec4', 'color'].includes(kind)
    ? `A ${kind} cannot be packed for a lifetime; only floats, vectors and colours can.`
    : scope === 'shared' && kind === 'texture'
      ? 'A texture is each material’s own; it cannot be shared.'
      : null;
