import type { Builder } from '../program/builder.ts';
import { floatType } from '../program/types.ts';
import type { Value } from '../program/value.ts';
import { any, choice, float, operator, vec3 } from './declare.ts';

export const length = operator({
  name: 'length',
  family: 'vectors',
  summary: 'How long a vector is.',
  inputs: { x: any([0, 0]) },
  flow: 'x',
  formula: '√(x·x)',
  synonyms: ['magnitude', 'size', 'norm'],
  example: 'length(uv - 0.5)',
  lower: (b, { x }) => b.length(x),
});

export const distance = operator({
  name: 'distance',
  family: 'vectors',
  summary: 'How far apart two points are.',
  inputs: { x: any([0, 0]), y: any([0, 0]) },
  flow: 'x',
  formula: '|x − y|',
  synonyms: ['far', 'radius', 'between'],
  example: 'distance(position, cameraPosition)',
  lower: (b, { x, y }) => b.distance(...alike(b, x, y)),
});

/** A scalar beside a vector is written out as one. */
const alike = (b: Builder, x: Value, y: Value): [Value, Value] => {
  const wide = (value: Value, other: Value) =>
    value.type === 'float' && other.type !== 'float' ? b.construct(other.type, value) : value;
  return [wide(x, y), wide(y, x)];
};

export const normalize = operator({
  name: 'normalize',
  family: 'vectors',
  summary: 'A vector of the same direction, one long; zero stays zero.',
  inputs: { x: any([0, 1, 0]) },
  flow: 'x',
  formula: 'x / |x|',
  synonyms: ['unit', 'direction'],
  example: 'normalize(position)',
  lower: (b, { x }) => b.normalize(x),
});

export const dot = operator({
  name: 'dot',
  family: 'vectors',
  summary: 'How far two vectors agree: the product of their lengths and the cosine between them.',
  inputs: { x: any([0, 0, 0]), y: any([0, 1, 0]) },
  flow: 'x',
  formula: 'x·y',
  synonyms: ['scalar product', 'project', 'facing'],
  example: 'dot(normal, vec3(0.0, 1.0, 0.0))',
  lower: (b, { x, y }) => b.dot(...alike(b, x, y)),
});

export const cross = operator({
  name: 'cross',
  family: 'vectors',
  summary: 'A vector square to both.',
  inputs: { x: vec3([1, 0, 0]), y: vec3([0, 1, 0]) },
  flow: 'x',
  formula: 'x × y',
  synonyms: ['vector product', 'perpendicular'],
  example: 'cross(normal, tangent)',
  lower: (b, { x, y }) => b.cross(x, y),
});

export const reflect = operator({
  name: 'reflect',
  family: 'vectors',
  summary: 'A direction as a mirror sends it on; n is one long.',
  inputs: { x: vec3([0, -1, 0]), n: vec3('normal') },
  flow: 'x',
  formula: 'x − 2(n·x)n',
  synonyms: ['mirror', 'bounce'],
  example: 'reflect(-viewDirection, normal)',
  lower: (b, { x, n }) => b.reflect(x, n),
});

export const refract = operator({
  name: 'refract',
  family: 'vectors',
  summary: 'A direction as it goes on inside another medium; zero where it is thrown back whole.',
  inputs: {
    x: vec3([0, -1, 0]),
    n: vec3('normal'),
    ratio: float(0.75, {
      min: 0.3,
      max: 3,
      summary: 'Index outside over index inside: air to water is 0.75.',
    }),
  },
  flow: 'x',
  formula: 'r·x − (r(n·x) + √k)n, k = 1 − r²(1 − (n·x)²), 0 where k < 0',
  source: 'GLSL ES 3.00, section 8.5',
  synonyms: ['bend', 'glass', 'water', 'ior'],
  example: 'refract(-viewDirection, normal, 0.75)',
  lower: (b, { x, n, ratio }) => {
    const d = b.dot(n, x);
    const k = b.subtract(1, b.multiply(b.multiply(ratio, ratio), b.subtract(1, b.multiply(d, d))));
    const bent = b.subtract(
      b.multiply(x, ratio),
      b.multiply(n, b.add(b.multiply(ratio, d), b.sqrt(b.max(k, 0)))),
    );
    return b.select(b.less(k, 0), b.constant('vec3', [0, 0, 0]), bent);
  },
});

export const extract = operator({
  name: 'extract',
  family: 'vectors',
  summary: 'One number of a vector; 0 where it has no such number.',
  inputs: {
    x: any([0, 0, 0]),
    component: choice(['x', 'y', 'z', 'w'], { summary: 'x, y, z, w are red, green, blue, alpha.' }),
  },
  flow: 'x',
  formula: 'x.component',
  synonyms: ['split', 'channel', 'component', 'red', 'green', 'blue', 'alpha', 'swizzle'],
  example: 'extract(position, y)',
  lower: (b, { x }, chosen) => {
    const at = 'xyzw'.indexOf(chosen['component']!);
    const size = { float: 1, vec2: 2, vec3: 3, vec4: 4 }[x.type as string] ?? 1;
    if (at >= size) return b.float(0);
    return size === 1 ? x : b.swizzle(x, chosen['component']!);
  },
});

const combine = (n: 2 | 3 | 4, synonyms: readonly string[], example: string) => {
  const names = ['x', 'y', 'z', 'w'].slice(0, n);
  return operator({
    name: `combine${n}`,
    family: 'vectors',
    summary: `A vector of ${['two', 'three', 'four'][n - 2]} numbers.`,
    inputs: Object.fromEntries(names.map((name) => [name, float(name === 'w' ? 1 : 0)])),
    flow: 'x',
    formula: `(${names.join(', ')})`,
    synonyms: ['combine', 'join', 'append', `vec${n}`, ...synonyms],
    example,
    lower: (b, inputs) => b.construct(floatType(n), ...names.map((name) => inputs[name]!)),
  });
};
export const combine2 = combine(2, ['make uv'], 'combine2(uv.x, uv.y)');
export const combine3 = combine(3, ['colour', 'rgb'], 'combine3(uv.x, uv.y, 0.0)');
export const combine4 = combine(4, ['rgba'], 'combine4(uv.x, uv.y, 0.0, 1.0)');

export const rotateAbout = operator({
  name: 'rotateAbout',
  family: 'vectors',
  summary: 'Turns a vector around an axis, anticlockwise as the axis points at you.',
  inputs: {
    x: vec3([1, 0, 0]),
    axis: vec3([0, 1, 0]),
    turns: float(0.25, { min: 0, max: 1, cyclic: true, summary: 'Turns of a full circle.' }),
  },
  flow: 'x',
  formula: 'x cos θ + (a × x) sin θ + a(a·x)(1 − cos θ), θ = 2π·turns',
  source: 'O. Rodrigues, 1840',
  synonyms: ['spin', 'turn', 'axis', 'angle'],
  example: 'rotateAbout(position, vec3(0.0, 1.0, 0.0), 0.25)',
  lower: (b, { x, axis, turns }) => {
    const a = b.normalize(axis);
    const angle = b.multiply(turns, 2 * Math.PI);
    const c = b.cos(angle);
    return b.add(
      b.add(b.multiply(x, c), b.multiply(b.cross(a, x), b.sin(angle))),
      b.multiply(a, b.multiply(b.dot(a, x), b.subtract(1, c))),
    );
  },
});

const SPACES = ['object', 'world', 'view'];

/** A vector by its share along each of three axes. */
const along = (b: Builder, x: Value, axes: readonly Value[], perLength: boolean): Value =>
  b.construct(
    'vec3',
    ...axes.map((axis) => {
      const share = b.dot(x, axis);
      return perLength ? b.divide(share, b.max(b.dot(axis, axis), 1e-12)) : share;
    }),
  );
const sumOf = (b: Builder, x: Value, axes: readonly Value[]): Value =>
  axes.map((axis, i) => b.multiply(axis, b.swizzle(x, 'xyz'[i]!))).reduce((sum, each) => b.add(sum, each));

export const changeSpace = operator({
  name: 'changeSpace',
  family: 'vectors',
  summary: 'A point or a direction as another space sees it: the prop’s own, the world’s, or the camera’s.',
  inputs: {
    x: vec3('position'),
    from: choice(['world', 'object', 'view']),
    to: choice(SPACES),
    as: choice(['point', 'direction'], { summary: 'A direction is not moved, only turned and scaled.' }),
  },
  flow: 'x',
  formula: 'through the world: Σ axisᵢ·xᵢ + origin, or its inverse',
  synonyms: ['transform', 'local', 'world', 'camera', 'tangent', 'matrix'],
  example: 'changeSpace(position, world, object, point)',
  lower: (b, { x }, chosen) => {
    const isPoint = chosen['as'] === 'point';
    const object = [b.input('objectRight'), b.input('objectUp'), b.input('objectForward')];
    const camera = [b.input('cameraRight'), b.input('cameraUp'), b.input('cameraBack')];
    const { from, to } = chosen;
    if (from === to) return x;
    const origin = (space: string) => b.input(space === 'object' ? 'objectOrigin' : 'cameraPosition');
    const axesOf = (space: string) => (space === 'object' ? object : camera);
    const turned = from === 'world' ? x : sumOf(b, x, axesOf(from!));
    const world = from !== 'world' && isPoint ? b.add(turned, origin(from!)) : turned;
    if (to === 'world') return world;
    const moved = isPoint ? b.subtract(world, origin(to!)) : world;
    return along(b, moved, axesOf(to!), to === 'object');
  },
});
