import { readArithmetic } from '#core/language/arithmetic.ts';
import { nearestName } from '#core/language/nearest.ts';
import { byName, valueKey } from '#core/document/valueKeys.ts';
import { isTable, parameterSize, type Parameter, type ParameterValue } from '#core/document/shader.ts';
import { dirname, join } from 'node:path';
import type { Sampling } from '#core/document/sampling.ts';
import { Refusal, textOf, textsOf, type Given } from './command.ts';
import { documentBeside } from './documents.ts';
import { sharedBeside } from './readDocument.ts';

/** The values of parameters, a material's by id and shared ones by name, and which picture each texture reads. */
export interface ChosenValues {
  readonly values: Readonly<Record<string, ParameterValue>>;
  readonly shared: Readonly<Record<string, ParameterValue>>;
  /** NAME=FILE, as --picture takes them. */
  readonly pictures: readonly string[];
  /** How the material reads them, by the names of its textures. */
  readonly sampling: Readonly<Record<string, Sampling>>;
}

const readParameter = (
  text: string,
  parameters: readonly Parameter[],
): readonly [Parameter, ParameterValue] => {
  const at = text.indexOf('=');
  const name = text.slice(0, at);
  if (at < 1) throw new Refusal(`--parameter takes NAME=VALUE, not “${text}”.`, 2);
  const parameter = parameters.find((each) => each.name === name);
  if (!parameter) {
    const near = nearestName(
      name,
      parameters.map((each) => each.name),
    );
    throw new Refusal(
      `There is no parameter “${name}”${near ? `; did you mean ${near}?` : `; there is ${parameters.map((each) => each.name).join(', ') || 'none'}.`}`,
      2,
    );
  }
  const numbers = text
    .slice(at + 1)
    .split(',')
    .map((each) => (each === 'true' ? 1 : each === 'false' ? 0 : readArithmetic(each)));
  const size = parameterSize(parameter.kind);
  const wrong = numbers.some((x) => x === null);
  const given = parameter.kind === 'color' && numbers.length === 3 ? [...numbers, 0] : numbers;
  if (wrong || (!isTable(parameter.kind) && given.length !== size))
    throw new Refusal(
      `${name} takes ${isTable(parameter.kind) ? 'numbers' : size === 1 ? 'a number' : `${size} numbers with commas between`}, not “${text.slice(at + 1)}”.`,
      2,
    );
  return [parameter, given as number[]];
};

/** Reads --material and --parameter: a material's values and pictures, and single values over them. @throws Refusal */
export const chosenValues = (given: Given, file: string, parameters: readonly Parameter[]): ChosenValues => {
  const name = textOf(given, 'material');
  const material = name === undefined ? null : documentBeside(file, 'material', name);
  if (name !== undefined && material?.kind !== 'material')
    throw new Refusal(`There is no material “${name}” beside ${file}; it would be ${name}.material.json.`);
  const body = material?.kind === 'material' ? material.body : null;
  const own = textsOf(given, 'parameter').map((each) => readParameter(each, parameters));
  const chosen = Object.fromEntries(own.map(([parameter, value]) => [valueKey(parameter), value]));
  return {
    values: { ...body?.values, ...chosen },
    shared: { ...sharedBeside(file), ...chosen },
    sampling: byName(body?.sampling, parameters),
    pictures: [
      ...Object.entries(byName(body?.pictures, parameters)).flatMap(([texture, picture]) =>
        picture.includes('.') ? [`${texture}=${join(dirname(file), picture)}`] : [],
      ),
      ...textsOf(given, 'picture'),
    ],
  };
};
