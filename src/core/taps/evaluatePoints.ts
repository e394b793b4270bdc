import { createReader, type Problem } from '../document/read.ts';
import { isTable, parameterSize, type Parameter, type ParameterValue } from '../document/shader.ts';
import { prepare } from '../evaluate/columns/evaluate.ts';
import { valueAt } from '../program/kernels/column.ts';
import type { Picture } from '../evaluate/points/points.ts';
import { TABLE_SIZE } from '../numbers/curve.ts';
import { INPUTS, type InputName } from '../program/inputs.ts';
import { componentsOf } from '../program/types.ts';
import { reachable, type Value } from '../program/value.ts';
import { authoredByName, numbersFor, tablesFor, type Authored } from '../time/values.ts';

/** A point at which something is computed: inputs by name, and values of parameters over their defaults. */
export interface EvaluationPoint {
  readonly inputs: Readonly<Partial<Record<InputName, readonly number[]>>>;
  readonly parameters: Readonly<Record<string, ParameterValue>>;
}

export const MOST_POINTS = 100_000;

/** What a point's fields are called beside the inputs themselves. */
const ALSO: Readonly<Record<string, InputName>> = { camera: 'cameraPosition' };

const inputNamed = (name: string): InputName | null =>
  Object.hasOwn(ALSO, name) ? ALSO[name]! : Object.hasOwn(INPUTS, name) ? (name as InputName) : null;

/** What follows from what is given: a view from a point to the camera, a second uv like the first. */
const complete = (
  inputs: Partial<Record<InputName, readonly number[]>>,
): Partial<Record<InputName, readonly number[]>> => {
  const made = { time: [0], timeStep: [1 / 60], ...inputs };
  if (made.position) made.objectPosition ??= made.position;
  if (made.normal) made.objectNormal ??= made.normal;
  if (made.uv) made.uv2 ??= made.uv;
  if (made.position && made.cameraPosition) {
    const away = made.cameraPosition.map((x, i) => x - made.position![i]!);
    const size = Math.hypot(...away) || 1;
    made.viewDirection ??= away.map((x) => x / size);
  }
  return made;
};

/** Reads a file of points. @returns the points, or every problem with its path */
export const readPoints = (
  json: unknown,
  parameters: readonly Parameter[],
): { readonly points: readonly EvaluationPoint[] | null; readonly problems: readonly Problem[] } => {
  const r = createReader();
  const file = Array.isArray(json) ? { points: json as unknown[] } : r.object(json, '');
  const readParameters = (value: unknown, path: string): Record<string, ParameterValue> =>
    Object.fromEntries(
      Object.entries(r.object(value ?? {}, path)).flatMap(([name, given]) => {
        const parameter = parameters.find((each) => each.name === name);
        if (!parameter) {
          r.problem(
            `${path}.${name}`,
            `The shader has no such parameter; it has ${parameters.map((each) => each.name).join(', ') || 'none'}.`,
          );
          return [];
        }
        const list = typeof given === 'number' || typeof given === 'boolean' ? [Number(given)] : given;
        if (isTable(parameter.kind))
          return [[name, r.list(list, `${path}.${name}`, 4096, (x, at) => r.number(x, at))]];
        return [[name, r.numbers(list, `${path}.${name}`, parameterSize(parameter.kind))]];
      }),
    );
  const readInputs = (given: Readonly<Record<string, unknown>>, path: string) => {
    const inputs: Partial<Record<InputName, readonly number[]>> = {};
    for (const [name, value] of Object.entries(given)) {
      if (name === 'parameters' || name === 'points') continue;
      const input = inputNamed(name);
      const at = path ? `${path}.${name}` : name;
      if (!input || INPUTS[input].type === 'sampler2D') {
        r.problem(
          at,
          `A point has no field “${name}”; it has uv, position, normal, time, camera, parameters, or anything a shader is given.`,
        );
        continue;
      }
      const list = typeof value === 'number' || typeof value === 'boolean' ? [Number(value)] : value;
      inputs[input] = r.numbers(list, at, componentsOf(INPUTS[input].type));
    }
    return inputs;
  };
  const shared = readInputs(file, '');
  const sharedParameters = readParameters((file as Record<string, unknown>)['parameters'], 'parameters');
  const points = r.list((file as Record<string, unknown>)['points'], 'points', MOST_POINTS, (item, path) => {
    const point = r.object(item, path);
    return {
      inputs: complete({ ...shared, ...readInputs(point, path) }),
      parameters:
        point['parameters'] === undefined
          ? sharedParameters
          : { ...sharedParameters, ...readParameters(point['parameters'], `${path}.parameters`) },
    };
  });
  return r.problems.length ? { points: null, problems: r.problems } : { points, problems: [] };
};

/** Curves and gradients as pictures of one row, as the columns sample them. */
export const tablePictures = (parameters: readonly Parameter[], authored: Authored): Map<string, Picture> =>
  new Map(
    [...tablesFor(parameters, authored)].map(([name, rgba]) => [
      name,
      { width: TABLE_SIZE, height: 1, rgba, wrap: 'clamp', filter: 'nearest' },
    ]),
  );

/** Computes a value at points. @returns a list of numbers for each, or a sentence on what a point lacks */
export const evaluateAt = (
  value: Value,
  points: readonly EvaluationPoint[],
  parameters: readonly Parameter[],
  pictures: ReadonlyMap<string, Picture>,
):
  | { readonly values: readonly (readonly number[])[]; readonly problem?: undefined }
  | { readonly problem: string } => {
  const needed = reachable([value]).flatMap((each) =>
    each.op === 'input' && each.type !== 'sampler2D' ? [each.payload as InputName] : [],
  );
  const lacking = points.findIndex((point) => needed.some((name) => !point.inputs[name]));
  if (lacking >= 0) {
    const name = needed.find((each) => !points[lacking]!.inputs[each])!;
    return {
      problem: `points[${lacking}] has no ${name} (${INPUTS[name].summary.replace(/\.$/, '')}), and this reads it.`,
    };
  }
  try {
    const run = prepare([value]);
    const values = new Array<readonly number[]>(points.length);
    for (const group of groupsOf(points)) {
      const given = authoredByName(parameters, points[group[0]!]!.parameters);
      const inputs = Object.fromEntries(needed.map((name) => [name, columnOf(points, group, name)]));
      const [column] = run({
        ...{ count: group.length, inputs, knobs: new Map() },
        parameters: numbersFor(parameters, given),
        pictures: new Map([...pictures, ...tablePictures(parameters, given)]),
      });
      for (let i = 0; i < group.length; i += 1) values[group[i]!] = valueAt(column!, i);
    }
    return { values };
  } catch (error) {
    return { problem: `${(error as Error).message}.` };
  }
};

/** Points that have the same parameters are computed together: their places in the list, group by group. */
const groupsOf = (points: readonly EvaluationPoint[]): readonly (readonly number[])[] => {
  const known = new Map<EvaluationPoint['parameters'], number[]>();
  const groups = new Map<string, number[]>();
  const groupOf = (parameters: EvaluationPoint['parameters']): number[] => {
    const key = JSON.stringify(parameters);
    const group = groups.get(key) ?? [];
    groups.set(key, group);
    known.set(parameters, group);
    return group;
  };
  // Most files give every point the same parameters, so the last point's group is tried first.
  let last: EvaluationPoint['parameters'] | null = null;
  let group: number[] = [];
  for (let i = 0; i < points.length; i += 1) {
    const { parameters } = points[i]!;
    if (parameters !== last) {
      group = known.get(parameters) ?? groupOf(parameters);
      last = parameters;
    }
    group.push(i);
  }
  return [...groups.values()];
};

/** One input at some points, component after component. */
const columnOf = (
  points: readonly EvaluationPoint[],
  group: readonly number[],
  name: InputName,
): Float32Array => {
  const size = componentsOf(INPUTS[name].type);
  const data = new Float32Array(group.length * size);
  for (let i = 0; i < group.length; i += 1) {
    const given = points[group[i]!]!.inputs[name]!;
    for (let c = 0; c < size; c += 1) data[c * group.length + i] = given[c]!;
  }
  return data;
};
