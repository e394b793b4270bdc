import type { Parameter } from '../document/shader.ts';
import { prepare } from '../evaluate/columns/evaluate.ts';
import { inputsAt, standCorners, type Given } from '../evaluate/points/onMesh.ts';
import { spotsOver, type Spots } from '../evaluate/points/spots.ts';
import { componentsOf } from '../program/types.ts';
import { reachable, type Program, type Value } from '../program/value.ts';
import { lackWhere, type Worn } from './worn.ts';

/** What a value came to over its props, with its parameters as they stand and at each end of their ranges. */
export interface Extent {
  readonly least: number;
  readonly most: number;
  /** How many of the numbers looked at were none, or without end. */
  readonly notNumbers: number;
  readonly looked: number;
  /** With what it was least, greatest, and not a number; as the end of a sentence. */
  readonly leastWith: string;
  readonly mostWith: string;
  readonly notNumberWith: string;
}

/** Extents of a program's values; null of one that cannot be computed outside the picture. */
export type Measured = (value: Value) => Extent | null;

/** Points on each prop; what is narrower than these lie apart is missed. */
const SPOTS = 192;
const SLOPES: ReadonlySet<string> = new Set(['dFdx', 'dFdy', 'fwidth']);
/** Seconds at which what moves is looked at, besides 0. */
const LATER = 2.5;

interface Setting {
  readonly told: string;
  readonly time: number;
  readonly parameters: Given['parameters'];
}

const figure = (x: number): string => String(Number(x.toPrecision(4))).replace('-', '−');

/** A material as it stands, later, and with each parameter in turn at the ends of its range. */
const settingsOf = (worn: Worn, parameters: readonly Parameter[], read: ReadonlySet<string>): Setting[] => {
  const { given, standing } = worn;
  const on = worn.material ? ` on ${worn.material.name}` : '';
  const settings: Setting[] = [
    { told: `as it stands${on}`, time: standing.time, parameters: given.parameters },
    { told: `at ${LATER} s${on}`, time: standing.time + LATER, parameters: given.parameters },
  ];
  const ranged = parameters.filter(
    ({ name, kind }) => read.has(name) && ['float', 'int', 'bool', 'vec2', 'vec3', 'vec4'].includes(kind),
  );
  const all = (end: 'min' | 'max') =>
    new Map([
      ...given.parameters,
      ...ranged.map((each) => [each.name, each.default.map(() => each[end])] as const),
    ]);
  for (const each of ranged)
    for (const end of [each.min, each.max])
      settings.push({
        ...{ told: `with ${each.name} at ${figure(end)}${on}`, time: standing.time },
        parameters: new Map(given.parameters).set(
          each.name,
          each.default.map(() => end),
        ),
      });
  if (ranged.length > 1)
    for (const end of ['min', 'max'] as const)
      settings.push({
        told: `with every parameter at its ${end === 'min' ? 'least' : 'greatest'}${on}`,
        ...{ time: standing.time, parameters: all(end) },
      });
  return settings;
};

interface Growing {
  least: number;
  most: number;
  notNumbers: number;
  looked: number;
  leastWith: string;
  mostWith: string;
  notNumberWith: string;
}
const empty = (): Growing => ({
  ...{ least: Infinity, most: -Infinity, notNumbers: 0, looked: 0 },
  ...{ leastWith: '', mostWith: '', notNumberWith: '' },
});

/**
 * Measures values of a program where it is worn. What is asked for first is measured together with `together`, later
 * ones as they are asked for.
 */
export const measure = (
  program: Program,
  parameters: readonly Parameter[],
  worn: readonly Worn[],
  together: readonly Value[],
): Measured => {
  const known = new Map<Value, Extent | null>();
  const spots = new Map<Worn, Spots>();
  const spotsOn = (each: Worn): Spots => {
    const { mesh, placement } = each.standing;
    const found = spots.get(each) ?? spotsOver(mesh, placement, SPOTS);
    spots.set(each, found);
    return found;
  };

  const look = (values: readonly Value[]): void => {
    const able = values.filter((value) => lackWhere(worn, value) === null);
    for (const value of values) known.set(value, null);
    if (!able.length) return;
    const extents = able.map(empty);
    const behind = reachable(able);
    const read = new Set(
      behind.flatMap(({ op, payload }) => (op === 'parameter' ? [payload as string] : [])),
    );
    const quads = behind.some(({ op }) => SLOPES.has(op));
    const offset = program.outputs['vertexOffset'];
    const moves =
      offset !== undefined && reachable([offset]).some(({ op }) => op === 'parameter' || op === 'input');
    const run = prepare(able);
    for (const each of worn) {
      const { standing, given } = each;
      const spots = spotsOn(each);
      const pointsAt = (time: number, now: Given) =>
        inputsAt(standCorners({ ...standing, time }, spots.corners, offset, now), spots, quads, able);
      let still: ReturnType<typeof pointsAt> | null = null;
      for (const { told, time, parameters: numbers } of settingsOf(each, parameters, read)) {
        const now: Given = { ...given, parameters: numbers };
        // What no number moves stands where it stood.
        const points: ReturnType<typeof pointsAt> = moves || !still ? pointsAt(time, now) : still;
        still ??= points;
        const columns = run({ ...points, inputs: { ...points.inputs, time: [time] }, ...now });
        columns.forEach((column, i) => grow(extents[i]!, column, told));
      }
    }
    able.forEach((value, i) => known.set(value, extents[i]!));
  };
  /** Together, and one by one where one of them cannot be computed. */
  const lookAt = (values: readonly Value[]): void => {
    try {
      look(values);
    } catch {
      if (values.length > 1) for (const value of values) lookAt([value]);
    }
  };
  let isFirst = true;
  return (value) => {
    if (isFirst) {
      isFirst = false;
      lookAt(together);
    }
    if (!known.has(value)) lookAt([value]);
    return known.get(value) ?? null;
  };
};

const grow = (
  extent: Growing,
  { type, data, stride, uniform }: ReturnType<ReturnType<typeof prepare>>[number],
  told: string,
): void => {
  for (let c = 0; c < componentsOf(type); c += 1)
    for (let i = 0; i < (uniform ? 1 : stride); i += 1) {
      const x = data[c * stride + i]!;
      extent.looked += 1;
      if (!Number.isFinite(x)) {
        if (!extent.notNumbers) extent.notNumberWith = told;
        extent.notNumbers += 1;
        continue;
      }
      if (x < extent.least) [extent.least, extent.leastWith] = [x, told];
      if (x > extent.most) [extent.most, extent.mostWith] = [x, told];
    }
};
