import { defineFunction, type Builder } from '../program/builder.ts';
import type { Value } from '../program/value.ts';
import { choice, float, operator, vec3 } from './declare.ts';

const packed = (start: readonly [number, number, number], summary: string) =>
  vec3(start, { min: 0, max: 1, summary });
const FLAT = [0.5, 0.5, 1] as const;

const unpack = (b: Builder, n: Value) => b.subtract(b.multiply(n, 2), 1);
const pack = (b: Builder, n: Value) => b.add(b.multiply(n, 0.5), 0.5);

export const unpackNormal = operator({
  name: 'unpackNormal',
  family: 'normals',
  summary: 'A normal as pictures keep it, 0–1, as a vector from −1 to 1.',
  inputs: { color: packed(FLAT, 'A sample of a normal map, never read as sRGB.') },
  flow: 'color',
  formula: 'color·2 − 1',
  synonyms: ['decode normal', 'normal map', 'tangent space'],
  example: 'unpackNormal(vec3(0.5, 0.5, 1.0))',
  lower: (b, i) => unpack(b, i.color),
});

export const packNormal = operator({
  name: 'packNormal',
  family: 'normals',
  summary: 'A vector from −1 to 1 as pictures keep normals, 0–1.',
  inputs: { n: vec3([0, 0, 1]) },
  flow: 'n',
  formula: 'n·½ + ½',
  synonyms: ['encode normal', 'normal map'],
  example: 'packNormal(normal)',
  lower: (b, i) => pack(b, i.n),
});

export const normalStrength = operator({
  name: 'normalStrength',
  family: 'normals',
  summary: 'Deepens or flattens a packed normal: 0 is flat, 1 as it is, below 0 reversed.',
  inputs: { color: packed(FLAT, 'A packed normal.'), amount: float(1, { min: -2, max: 4 }) },
  flow: 'color',
  formula: 'pack(normalize(n.xy·amount, n.z))',
  synonyms: ['bump strength', 'intensity', 'flatten'],
  example: 'normalStrength(vec3(0.6, 0.5, 0.9), 2.0)',
  lower: (b, i) => {
    const n = unpack(b, i.color);
    const bent = b.construct('vec3', b.multiply(b.swizzle(n, 'xy'), i.amount), b.swizzle(n, 'z'));
    return pack(b, b.normalize(bent));
  },
});

/**
 * A base, and a detail: as it is, by an amount, and mixed with the flat normal by that amount. At 0 each method gives
 * the base alone.
 */
interface Layers {
  readonly n: Value;
  readonly whole: Value;
  readonly amount: Value;
  readonly d: Value;
}
/** Ways to lay a detail on a base, both unpacked. */
const METHODS: Readonly<Record<string, (b: Builder, layers: Layers) => Value>> = {
  reoriented: (b, { n, d }) => b.call(reorient, n, d),
  mix: (b, { n, whole, amount }) => b.mix(n, whole, amount),
  add: (b, { n, whole, amount }) =>
    b.construct(
      'vec3',
      b.add(xy(b, n), b.multiply(xy(b, whole), amount)),
      b.add(b.swizzle(n, 'z'), b.multiply(b.swizzle(whole, 'z'), b.abs(amount))),
    ),
  basis: (b, { n, d }) => b.call(intoBasis, n, d),
  whiteout: (b, { n, d }) =>
    b.construct('vec3', b.add(xy(b, n), xy(b, d)), b.multiply(b.swizzle(n, 'z'), b.swizzle(d, 'z'))),
  baseHeight: (b, { n, d }) => b.construct('vec3', b.add(xy(b, n), xy(b, d)), b.swizzle(n, 'z')),
  unitHeight: (b, { n, d, amount }) =>
    b.construct('vec3', b.add(xy(b, n), xy(b, d)), b.mix(b.swizzle(n, 'z'), 1, b.saturate(b.abs(amount)))),
};
const xy = (b: Builder, v: Value) => b.swizzle(v, 'xy');

/** The detail turned by the shortest turn that takes straight up onto the base. */
const reorient = defineFunction('reorientNormal', { n: 'vec3', d: 'vec3' }, (b, { n, d }) => {
  const t = b.name('t', b.add(n, b.constant('vec3', [0, 0, 1])));
  const u = b.name('u', b.multiply(d, b.constant('vec3', [-1, -1, 1])));
  const up = b.max(b.swizzle(t, 'z'), 1e-4);
  return b.subtract(b.multiply(b.divide(t, up), b.dot(t, u)), u);
});

/** The detail in a frame whose third axis is the base and whose first lies in the plane of x. */
const intoBasis = defineFunction('normalInBasis', { n: 'vec3', d: 'vec3' }, (b, { n, d }) => {
  const [x, y, z] = [b.swizzle(n, 'x'), b.swizzle(n, 'y'), b.swizzle(n, 'z')];
  const across = b.construct('vec3', z, y, b.negate(x));
  const up = b.construct('vec3', x, z, b.negate(y));
  return b.add(
    b.add(b.multiply(across, b.swizzle(d, 'x')), b.multiply(up, b.swizzle(d, 'y'))),
    b.multiply(n, b.swizzle(d, 'z')),
  );
});

export const combineNormals = operator({
  name: 'combineNormals',
  family: 'normals',
  summary:
    'Lays a detail’s packed normal on a base’s, by one of seven methods; all but mix keep both at amount 1, where mix is the detail alone.',
  inputs: {
    base: packed(FLAT, 'The packed normal below.'),
    detail: packed(FLAT, 'The packed normal laid on.'),
    amount: float(1, {
      min: -2,
      max: 3,
      summary: '0 is the base alone, above 1 exaggerates, below 0 reverses the detail.',
    }),
    method: choice(Object.keys(METHODS)),
  },
  flow: 'base',
  formula:
    'pack(normalize(method(n, mix(flat, d, amount)))); mix: mix(n, d, amount); add: n + (amount·d.xy, |amount|·d.z); unitHeight: (n.xy + d.xy, mix(n.z, 1, saturate(|amount|)))',
  source: 'C. Barré-Brisebois and S. Hill, Blending in Detail, 2012',
  synonyms: ['normal blend', 'detail normal', 'reoriented', 'whiteout', 'partial derivative', 'overlay'],
  example: 'combineNormals(vec3(0.6, 0.5, 0.9), vec3(0.5, 0.6, 0.9), 1.0, whiteout)',
  lower: (b, i, chosen) => {
    const flat = b.constant('vec3', FLAT);
    const layers = {
      ...{ n: unpack(b, i.base), whole: unpack(b, i.detail), amount: i.amount },
      d: unpack(b, b.mix(flat, i.detail, i.amount)),
    };
    return pack(b, b.normalize(METHODS[chosen['method']!]!(b, layers)));
  },
});

/** The frame of a surface from its normal and the way u grows. */
export const tangentToWorld = operator({
  name: 'tangentToWorld',
  family: 'normals',
  summary: 'A packed tangent-space normal as a unit normal in the world.',
  inputs: {
    color: packed(FLAT, 'A packed normal.'),
    n: vec3('normal'),
    tangent: vec3('tangent'),
    bitangent: vec3('bitangent', {
      summary: 'Which side of n and tangent v grows on; a mirrored uv has the other.',
    }),
  },
  flow: 'color',
  formula:
    'normalize(T·d.x + B·d.y + N·d.z), B = ±(N × T) on the side of bitangent; the whole frame turns on back faces',
  source: 'glTF 2.0, 3.7.2.1 and 3.9.4',
  synonyms: ['normal map', 'tbn', 'bump', 'world normal'],
  example: 'tangentToWorld(vec3(0.6, 0.5, 0.9))',
  lower: (b, i) => {
    const d = unpack(b, i.color);
    const across = b.normalize(b.subtract(i.tangent, b.multiply(i.n, b.dot(i.n, i.tangent))));
    const square = b.cross(i.n, across);
    const up = b.multiply(square, b.subtract(b.multiply(b.step(0, b.dot(square, i.bitangent)), 2), 1));
    return b.normalize(
      b.add(
        b.add(b.multiply(across, b.swizzle(d, 'x')), b.multiply(up, b.swizzle(d, 'y'))),
        b.multiply(i.n, b.swizzle(d, 'z')),
      ),
    );
  },
});
