import { nameProblem } from '../language/names/reserved.ts';
import { keysProblem } from '../numbers/curve.ts';
import { OPERATOR_NAMES } from '../operators/catalogue.ts';
import { freeTakenNames } from './migrateNames.ts';
import { createReader, orElse, readFormat, type Problem, type Reader } from './read.ts';
import {
  OUTPUT_NAMES,
  OUTPUTS,
  isTable,
  PARAMETER_KINDS,
  PARAMETER_SCOPES,
  parameterSize,
  SHADER_VERSION,
  type Argument,
  type Parameter,
  type ParameterKind,
  type ParameterValue,
  type Score,
  type ShaderDocument,
  type Step,
  type Strand,
  type Surface,
} from './shader.ts';

export const MOST_STRANDS = 1000;
export const MOST_STEPS = 20_000;
export const MOST_PARAMETERS = 512;

export type ParsedDocument<T> =
  | { readonly document: T; readonly problems: readonly [] }
  | { readonly document: null; readonly problems: readonly Problem[] };

/** Characters of GLSL in one code step. */
export const LONGEST_CODE = 262_144;

const readArgument = (r: Reader, value: unknown, path: string): Argument => {
  if (typeof value === 'string') return r.text(value, path);
  if (Array.isArray(value)) {
    if (value.length < 2 || value.length > 4) r.problem(path, 'A vector has 2 to 4 numbers.');
    return value.map((each, i) => r.number(each, `${path}[${i}]`));
  }
  return r.number(value, path);
};

const STEP_FIELDS = ['id', 'operator', 'arguments', 'muted', 'note', 'code', 'motif', 'output'];
const readStep = (r: Reader, value: unknown, path: string): Step => {
  const step = r.object(value, path, STEP_FIELDS);
  const given = r.object(orElse(step['arguments'], {}), `${path}.arguments`);
  return {
    id: r.text(step['id'], `${path}.id`, 64),
    operator: r.text(step['operator'], `${path}.operator`, 64),
    arguments: Object.fromEntries(
      Object.entries(given).map(([name, each]) => [name, readArgument(r, each, `${path}.arguments.${name}`)]),
    ),
    ...(step['muted'] === undefined ? {} : { muted: r.flag(step['muted'], `${path}.muted`) }),
    ...(step['note'] === undefined ? {} : { note: r.text(step['note'], `${path}.note`, 500) }),
    ...(step['code'] === undefined ? {} : { code: r.text(step['code'], `${path}.code`, LONGEST_CODE) }),
    ...(step['motif'] === undefined ? {} : { motif: r.text(step['motif'], `${path}.motif`, 64) }),
    ...(step['output'] === undefined ? {} : { output: r.text(step['output'], `${path}.output`, 64) }),
  };
};

export const readStrand = (r: Reader, value: unknown, path: string): Strand => {
  const strand = r.object(value, path, ['id', 'name', 'note', 'steps', 'collapsed']);
  return {
    id: r.text(strand['id'], `${path}.id`, 64),
    name: r.text(strand['name'], `${path}.name`),
    note: r.text(orElse(strand['note'], ''), `${path}.note`, 500),
    steps: r.list(strand['steps'], `${path}.steps`, MOST_STEPS, (item, at) => readStep(r, item, at)),
    ...(strand['collapsed'] === undefined
      ? {}
      : { collapsed: r.flag(strand['collapsed'], `${path}.collapsed`) }),
  };
};

/** A value's numbers: as many as its kind holds, or as many as there are keys. */
export const readValue = (r: Reader, value: unknown, path: string, kind: ParameterKind): ParameterValue => {
  if (!isTable(kind)) return r.numbers(value, path, parameterSize(kind));
  const numbers = r.list(value, path, 4096, (item, at) => r.number(item, at));
  const problem = keysProblem(numbers, kind === 'curve' ? 'key' : 'stop');
  if (problem) r.problem(path, problem);
  return numbers;
};

const PARAMETER_FIELDS = [
  ...['id', 'name', 'kind', 'default', 'min', 'max', 'unit', 'group', 'description', 'scope', 'ends'],
];
export const readParameter = (
  r: Reader,
  value: unknown,
  path: string,
  more: readonly string[] = [],
): Parameter => {
  const given = r.object(value, path, [...PARAMETER_FIELDS, ...more]);
  const kind = r.oneOf(given['kind'], `${path}.kind`, PARAMETER_KINDS);
  const parameter: Parameter = {
    id: r.text(given['id'], `${path}.id`, 64),
    name: r.text(given['name'], `${path}.name`),
    kind,
    default: readValue(r, given['default'], `${path}.default`, kind),
    min: r.number(given['min'], `${path}.min`),
    max: r.number(given['max'], `${path}.max`),
    unit: r.text(orElse(given['unit'], ''), `${path}.unit`, 16),
    group: r.text(orElse(given['group'], ''), `${path}.group`, 64),
    description: r.text(orElse(given['description'], ''), `${path}.description`, 500),
    ...(given['scope'] === undefined
      ? {}
      : { scope: r.oneOf(given['scope'], `${path}.scope`, PARAMETER_SCOPES) }),
    ...(given['ends'] === undefined
      ? {}
      : { ends: r.numbers(given['ends'], `${path}.ends`, 2) as [number, number] }),
  };
  const problem = parameterProblem(parameter);
  if (problem) r.problem(path, problem);
  return parameter;
};

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

const readSurface = (r: Reader, value: unknown, path: string): Surface => {
  const surface = r.object(value, path, ['lit', 'alphaMode', 'sides', 'depthWrite', 'outputs']);
  const given = r.object(orElse(surface['outputs'], {}), `${path}.outputs`);
  const outputs: Record<string, string> = {};
  for (const [name, each] of Object.entries(given)) {
    if (Object.hasOwn(OUTPUTS, name)) outputs[name] = r.text(each, `${path}.outputs.${name}`);
    else
      r.problem(
        `${path}.outputs.${name}`,
        `A surface has no such output; it has ${OUTPUT_NAMES.join(', ')}.`,
      );
  }
  return {
    lit: r.flag(surface['lit'], `${path}.lit`),
    alphaMode: r.oneOf(surface['alphaMode'], `${path}.alphaMode`, ['opaque', 'cutout', 'blended', 'added']),
    sides: r.oneOf(surface['sides'], `${path}.sides`, ['front', 'back', 'both']),
    depthWrite: r.flag(surface['depthWrite'], `${path}.depthWrite`),
    outputs,
  };
};

const checkUnique = (r: Reader, seen: Map<string, string>, key: string, path: string, what: string) => {
  const before = seen.get(key);
  if (before) r.problem(path, `The ${what} “${key}” is used already at ${before}.`);
  else seen.set(key, path);
};

export const checkNames = (r: Reader, document: Score): void => {
  const names = new Map<string, string>();
  const ids = new Map<string, string>();
  const check = (list: readonly { id: string; name: string }[], path: string) =>
    list.forEach((each, i) => {
      const problem = nameProblem(each.name, OPERATOR_NAMES);
      if (problem) r.problem(`${path}[${i}].name`, problem);
      else checkUnique(r, names, each.name, `${path}[${i}].name`, 'name');
      checkUnique(r, ids, each.id, `${path}[${i}].id`, 'id');
    });
  check(document.parameters, 'parameters');
  check(document.strands, 'strands');
  document.strands.forEach((strand, s) =>
    strand.steps.forEach((step, i) => checkUnique(r, ids, step.id, `strands[${s}].steps[${i}].id`, 'id')),
  );
};

/**
 * Reads a shader from JSON. What is checked: shape, sizes, names, ids, ranges. What steps and expressions mean is
 * the compiler's to say, since a document with a broken step is still a document.
 */
export const parseShader = (
  json: unknown,
  how: { readonly strict?: boolean } = {},
): ParsedDocument<ShaderDocument> => {
  const r = createReader(how.strict);
  const given = r.object(json, '', [
    '$schema',
    'format',
    'version',
    'parameters',
    'strands',
    'surface',
    'renamed',
  ]);
  const version = readFormat(r, given, 'wicked-veil/shader', SHADER_VERSION);
  if (r.problems.length) return { document: null, problems: r.problems };
  const read: ShaderDocument = {
    format: 'wicked-veil/shader',
    version: SHADER_VERSION,
    ...readScore(r, given),
    surface: readSurface(r, given['surface'], 'surface'),
    ...(given['renamed'] === undefined ? {} : { renamed: readRenamed(r, given['renamed']) }),
  };
  const document = version < SHADER_VERSION ? freeTakenNames(read) : read;
  if (!r.problems.length) checkNames(r, document);
  return r.problems.length ? { document: null, problems: r.problems } : { document, problems: [] };
};

const readRenamed = (r: Reader, value: unknown): Record<string, string> =>
  Object.fromEntries(
    Object.entries(r.object(value, 'renamed')).map(([name, to]) => [
      name,
      r.text(to, `renamed.${name}`, 2000),
    ]),
  );

/** Reads parameters and strands, and counts the steps. */
export const readScore = (r: Reader, given: Readonly<Record<string, unknown>>): Score => {
  const score = {
    parameters: r.list(given['parameters'], 'parameters', MOST_PARAMETERS, (item, path) =>
      readParameter(r, item, path),
    ),
    strands: r.list(given['strands'], 'strands', MOST_STRANDS, (item, path) => readStrand(r, item, path)),
  };
  const steps = score.strands.reduce((sum, strand) => sum + strand.steps.length, 0);
  if (steps > MOST_STEPS)
    r.problem('strands', `There are ${steps} steps; at most ${MOST_STEPS} are allowed.`);
  return score;
};
