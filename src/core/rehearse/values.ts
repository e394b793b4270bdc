import { shaderNumbers, type Parameter, type ParameterValue } from '../document/shader.ts';

/** Values driven now, by parameter name, over what is authored. */
export type Driven = ReadonlyMap<string, ParameterValue>;

/** What a parameter stands at: driven, else the material's, else its default. */
export const currentValue = (
  parameter: Parameter,
  authored: Readonly<Record<string, ParameterValue>>,
  driven?: Driven,
): ParameterValue => {
  const live = driven?.get(parameter.name);
  if (live) return live;
  const kept = Object.hasOwn(authored, parameter.name) ? authored[parameter.name] : undefined;
  return kept && kept.length === parameter.default.length ? kept : parameter.default;
};

/** Every parameter's numbers as its shader reads them. */
export const numbersFor = (
  parameters: readonly Parameter[],
  authored: Readonly<Record<string, ParameterValue>>,
  driven?: Driven,
): Map<string, readonly number[]> =>
  new Map(
    parameters
      .filter((each) => each.kind !== 'texture')
      .map((parameter) => [
        parameter.name,
        shaderNumbers(parameter.kind, currentValue(parameter, authored, driven)),
      ]),
  );
