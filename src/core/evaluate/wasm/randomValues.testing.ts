import { createBuilder, defineFunction, type Builder } from '../../program/builder.ts';
import { PRIMITIVES, type PrimitiveName } from '../../program/primitives.ts';
import type { Type } from '../../program/types.ts';
import type { Value } from '../../program/value.ts';
import type { Picture, Points } from '../points/points.ts';
import { NOT_WRITTEN } from './writeValues.ts';

/** Numbers from a seed, from 0 to 1. */
export const createChance = (seed: number) => (): number => {
  seed = (Math.imul(seed, 1664525) + 1013904223) | 0;
  return (seed >>> 8) * 2 ** -24;
};

export const COUNT = 2100;
const EDGES = [0, -0, 1, -1, 0.5, -0.5, 2.5, Infinity, -Infinity, NaN, 3e9, -3e9, 1e-40, 16777217];
const picture: Picture = {
  width: 3,
  height: 2,
  rgba: Float32Array.from({ length: 24 }, (_, i) => Math.sin(i)),
  wrap: 'repeat',
  filter: 'linear',
};

/** Points with ordinary numbers and every awkward one, in quads; time is the same at all of them. */
export const pointsFrom = (chance: () => number): Points => {
  const column = (size: number) =>
    Float32Array.from({ length: size * COUNT }, () =>
      chance() < 0.2 ? EDGES[Math.floor(chance() * EDGES.length)]! : chance() * 8 - 4,
    );
  return {
    count: COUNT,
    quads: true,
    inputs: { uv: column(2), position: column(3), vertexColor: column(4), time: [1.25] },
    parameters: new Map([['burn', [0.3]]]),
    knobs: new Map([['k', [1, -2, 3]]]),
    // Half of them as in a sweep: a parameter and a knob of their own at every point.
    ...(chance() < 0.5
      ? {
          columns: new Map([
            ['burn', column(1)],
            ['k', column(3)],
          ]),
        }
      : {}),
    pictures: new Map([
      ['other', { ...picture, width: 2, height: 3, filter: 'nearest' }],
      ['tile', picture],
    ]),
  };
};

/** Any operations that fit, on any values there are. */
const grow = (
  b: Builder,
  pool: Value[],
  names: readonly PrimitiveName[],
  steps: number,
  chance: () => number,
): void => {
  const pick = <T>(list: readonly T[]): T => list[Math.floor(chance() * list.length)]!;
  const payloads: Partial<Record<PrimitiveName, () => string>> = {
    construct: () => pick(['vec2', 'vec3', 'vec4', 'mat3']),
    swizzle: () => Array.from({ length: 1 + Math.floor(chance() * 4) }, () => pick([...'xyzw'])).join(''),
    convert: () => pick(['float', 'int', 'uint', 'bool']),
    bitcast: () => pick(['float', 'int', 'uint']),
  };
  for (let made = 0; made < steps; made += 1) {
    const name = pick(names);
    const rule: (inputs: readonly Type[], payload: unknown) => unknown = PRIMITIVES[name].types;
    for (let tries = 0; tries < 300; tries += 1) {
      const inputs = Array.from({ length: arity(name) ?? 1 + Math.floor(chance() * 3) }, () => pick(pool));
      const payload = payloads[name]?.() ?? null;
      const types = inputs.map((each) => each.type);
      const type = rule(types, payload);
      if (typeof type !== 'string' || ((name === 'convert' || name === 'bitcast') && type === types[0]))
        continue;
      pool.push(b.intern(name, type as Type, inputs, payload, null));
      break;
    }
  }
};
const TWO =
  'add subtract multiply divide min max mod pow atan2 step dot distance reflect cross transform quotient remainder bitAnd bitOr bitXor shiftLeft shiftRight less lessEqual equal and or xor texture';
const THREE = 'clamp mix smoothstep select';
const arity = (name: string): number | null =>
  name === 'construct' ? null : TWO.split(' ').includes(name) ? 2 : THREE.split(' ').includes(name) ? 3 : 1;

/** Every operation that a compiled program may hold. */
export const ALL = (Object.keys(PRIMITIVES) as PrimitiveName[]).filter((name) => !NOT_WRITTEN.has(name));
const SLOPES: readonly string[] = ['dFdx', 'dFdy', 'fwidth'];
const INSIDE = ALL.filter((name) => !SLOPES.includes(name) && name !== 'texture');

/** A function with loops, called by what is grown: state, a vector and an int from outside. */
const randomFunction = (chance: () => number, steps: number) =>
  defineFunction('turn', { i: 'int', state: 'vec2', by: 'vec3', n: 'int' }, (b, { i, state, by, n }) => {
    const pool: Value[] = [i, state, by, n, b.float(0.75), b.uint(7), b.less(i, n)];
    grow(b, pool, INSIDE, steps, chance);
    return pool.findLast((each) => each.type === 'vec2')!;
  });

/** What random programs begin from: inputs, parameters, knobs, pictures. */
const everything = (b: Builder): Value[] => [
  ...(['uv', 'position', 'vertexColor', 'time'] as const).map((name) => b.input(name)),
  ...[b.parameter('float', 'burn'), b.knob('vec3', 'k'), b.parameter('sampler2D', 'tile')],
  b.convert('int', b.swizzle(b.input('uv'), 'x')),
  b.convert('uint', b.swizzle(b.input('uv'), 'y')),
];
/** Values of a random program: every operation, a function with loops, awkward constants. */
export const randomValues = (seed: number, leaves: (b: Builder) => Value[] = everything): Value[] => {
  const chance = createChance(seed * 7919 + 13);
  const b = createBuilder();
  const pool: Value[] = [
    ...leaves(b),
    ...[b.float(0.3), b.float(-2), b.int(3), b.int(0), b.uint(5), b.constant('vec2', [1, -0.5])],
    b.constant('mat3', [1, 0, 0.5, 0, -1, 0, 0.25, 0, 2]),
  ];
  grow(b, pool, ALL, 40, chance);
  const fn = randomFunction(chance, chance() < 0.2 ? 500 : 12);
  const last = (type: Type): Value => pool.findLast((each) => each.type === type)!;
  const n = b.remainder(last('int'), b.int(5));
  pool.push(b.call(fn, n, last('vec2'), last('vec3'), last('int')));
  pool.push(b.iterate(fn, n, last('vec2'), last('vec3'), 3));
  grow(b, pool, ALL, 20, chance);
  return pool.filter((each) => each.type !== 'sampler2D');
};
