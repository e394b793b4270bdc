import {
  isTable,
  memberName,
  NOISE_MEMBERS,
  shaderNumbers,
  type Parameter,
  type ParameterValue,
} from '../document/shader.ts';
import { valueKey } from '../document/valueKeys.ts';
import { tableOf } from '../numbers/curve.ts';

/** What is driven now of one material, by parameter name, over what is authored: a material's share of `resolveValues`. */
type Driven = ReadonlyMap<string, { readonly value: ParameterValue }>;

/** What is authored: a material's own values by parameter id, and the project's shared ones by parameter name. */
export interface Authored {
  readonly values: Readonly<Record<string, ParameterValue>>;
  readonly shared: Readonly<Record<string, ParameterValue>>;
}

/** Values by parameter name, as files of points and command lines give them, by the keys they are looked up under. */
export const authoredByName = (
  parameters: readonly Parameter[],
  named: Readonly<Record<string, ParameterValue>>,
): Authored => ({
  values: Object.fromEntries(
    parameters.flatMap(({ id, name }): [string, ParameterValue][] =>
      Object.hasOwn(named, name) ? [[id, named[name]!]] : [],
    ),
  ),
  shared: named,
});

/** Which values a parameter's scope looks in. */
const valuesFor = ({ scope }: Parameter, { values, shared }: Authored) =>
  scope === 'shared' ? shared : values;

/** True where an authored value stands over the default. */
export const isAuthored = (parameter: Parameter, authored: Authored): boolean =>
  Object.hasOwn(valuesFor(parameter, authored), valueKey(parameter));

/** What a parameter stands at: driven, else what is authored in its scope, else its default. */
export const currentValue = (parameter: Parameter, authored: Authored, driven?: Driven): ParameterValue => {
  const live = driven?.get(parameter.name);
  if (live) return live.value;
  const kept = isAuthored(parameter, authored)
    ? valuesFor(parameter, authored)[valueKey(parameter)]
    : undefined;
  const fits =
    kept &&
    (isTable(parameter.kind)
      ? kept.length > 0 && kept.length % 4 === 0
      : kept.length === parameter.default.length);
  return fits ? kept : parameter.default;
};

/** Every parameter's numbers as its shader reads them; what is sampled is left to `tablesFor`. */
export const numbersFor = (
  parameters: readonly Parameter[],
  authored: Authored,
  driven?: Driven,
): Map<string, readonly number[]> =>
  new Map(
    parameters
      .filter((each) => each.kind !== 'texture' && !isTable(each.kind))
      .flatMap((parameter): [string, readonly number[]][] => {
        const value = currentValue(parameter, authored, driven);
        return parameter.kind === 'noise'
          ? NOISE_MEMBERS.map((member, i) => [memberName(parameter.name, member), [value[i]!]])
          : [[parameter.name, shaderNumbers(parameter.kind, value)]];
      }),
  );

const tables = new WeakMap<ParameterValue, Float32Array>();

/** The rows of samples that curves and gradients are read from; the same value gives the same row. */
export const tablesFor = (
  parameters: readonly Parameter[],
  authored: Authored,
  driven?: Driven,
): Map<string, Float32Array> =>
  new Map(
    parameters.flatMap((parameter): [string, Float32Array][] => {
      if (!isTable(parameter.kind)) return [];
      const value = currentValue(parameter, authored, driven);
      const table = tables.get(value) ?? tableOf(parameter.kind, value);
      tables.set(value, table);
      return [[parameter.name, table]];
    }),
  );
