import { componentsOf, floatType, isFloating, isScalar, type Type } from './types.ts';

/** Says why the inputs do not fit, as the end of a sentence, or gives the result's type. */
type Rule = (inputs: readonly Type[], payload: unknown) => Type | { readonly why: string };

const no = (why: string) => ({ why });

/** Floats of one size, scalars spread over vectors. */
const componentwise: Rule = (inputs) => {
  let size = 1;
  for (const type of inputs) {
    if (!isFloating(type)) return no(`it works on float and vectors, not on ${type}`);
    const own = componentsOf(type);
    if (size > 1 && own > 1 && own !== size) return no(`its inputs differ in size: ${inputs.join(', ')}`);
    size = Math.max(size, own);
  }
  return floatType(size);
};

/** Like `componentwise`, and also whole numbers when every input is the same kind of them. */
const arithmetic: Rule = (inputs, payload) => {
  const first = inputs[0]!;
  if ((first === 'int' || first === 'uint') && inputs.every((type) => type === first)) return first;
  return componentwise(inputs, payload);
};

const whole: Rule = (inputs) => {
  const first = inputs[0]!;
  if ((first === 'int' || first === 'uint') && inputs.every((type) => type === first)) return first;
  return no(`it works on int or uint, both sides alike, not on ${inputs.join(' and ')}`);
};

const shift: Rule = (inputs) =>
  (inputs[0] === 'int' || inputs[0] === 'uint') && (inputs[1] === 'int' || inputs[1] === 'uint')
    ? inputs[0]
    : no(`it shifts int or uint, not ${inputs.join(' by ')}`);

const comparison: Rule = (inputs) =>
  isScalar(inputs[0]!) && inputs[0] !== 'bool' && inputs[0] === inputs[1]
    ? 'bool'
    : no(`it compares two numbers of one type, not ${inputs.join(' with ')}`);

const equality: Rule = (inputs) =>
  inputs[0] === inputs[1] && inputs[0] !== 'sampler2D'
    ? 'bool'
    : no(`it compares two values of one type, not ${inputs.join(' with ')}`);

const logic: Rule = (inputs) =>
  inputs.every((type) => type === 'bool') ? 'bool' : no(`it works on bool, not on ${inputs.join(' and ')}`);

/** Vectors (or floats) of one size to a float. */
const measure: Rule = (inputs) =>
  isFloating(inputs[0]!) && inputs.every((type) => type === inputs[0])
    ? 'float'
    : no(`it needs vectors of one size, not ${inputs.join(' and ')}`);

const sameVectors: Rule = (inputs) =>
  isFloating(inputs[0]!) && inputs.every((type) => type === inputs[0])
    ? inputs[0]!
    : no(`it needs vectors of one size, not ${inputs.join(' and ')}`);

const exactly =
  (wanted: readonly Type[], result: Type): Rule =>
  (inputs) =>
    inputs.length === wanted.length && inputs.every((type, i) => type === wanted[i])
      ? result
      : no(`it needs ${wanted.join(', ')}, not ${inputs.join(', ')}`);

const select: Rule = ([condition, yes, other]) =>
  condition === 'bool' && yes === other && yes !== 'sampler2D'
    ? yes!
    : no(`it needs a bool and two values of one type, not ${condition}, ${yes}, ${other}`);

const construct: Rule = (inputs, payload) => {
  const type = payload as Type;
  const given = inputs.reduce((sum, each) => sum + componentsOf(each), 0);
  if (!inputs.every(isFloating)) return no(`it is made of floats, not of ${inputs.join(', ')}`);
  return given === componentsOf(type)
    ? type
    : no(`${type} needs ${componentsOf(type)} numbers and was given ${given}`);
};

const swizzle: Rule = ([source], payload) => {
  const picks = payload as string;
  const size = componentsOf(source!);
  if (!isFloating(source!)) return no(`${source} has no components`);
  const beyond = [...picks].find((letter) => 'xyzw'.indexOf(letter) >= size);
  return beyond ? no(`${source} has no component ${beyond}`) : floatType(picks.length);
};

const convert: Rule = ([source], payload) =>
  isScalar(source!) ? (payload as Type) : no(`a ${source} cannot become a ${String(payload)}`);

const transform: Rule = ([m, v]) =>
  m === 'mat3' && (v === 'vec3' || v === 'mat3') ? v : no(`it needs a mat3 and a vec3, not ${m} and ${v}`);

const negation: Rule = ([type]) =>
  isFloating(type!) || type === 'int' || type === 'uint' ? type! : no(`${type} cannot be negated`);

const slope: Rule = ([type]) => (isFloating(type!) ? type! : no(`${type} has no slope`));

/** A sampler and a place on it, with what moves the level of detail where that is given. */
const sampled =
  (...least: readonly Type[]) =>
  (most: readonly Type[] = []): Rule =>
  (inputs) => {
    const wanted: readonly Type[] = ['sampler2D', 'vec2', ...least, ...most];
    return inputs.length >= 2 + least.length && inputs.every((type, i) => type === wanted[i])
      ? 'vec4'
      : no(`it needs ${wanted.join(', ')}, not ${inputs.join(', ')}`);
  };

const bitcast: Rule = ([source], payload) =>
  source === 'float' || source === 'int' || source === 'uint'
    ? (payload as Type)
    : no(`a ${source} has no 32 bits to read otherwise`);

/**
 * The small set of operations every back end knows. Operators lower to these; a new operator needs none.
 * Names are GLSL's where GLSL has one.
 */
export const PRIMITIVES = {
  add: arithmetic,
  subtract: arithmetic,
  multiply: arithmetic,
  divide: componentwise,
  negate: negation,
  min: arithmetic,
  max: arithmetic,
  clamp: arithmetic,
  mod: componentwise,
  pow: componentwise,
  abs: arithmetic,
  sign: componentwise,
  floor: componentwise,
  ceil: componentwise,
  round: componentwise,
  trunc: componentwise,
  fract: componentwise,
  sqrt: componentwise,
  inversesqrt: componentwise,
  exp: componentwise,
  log: componentwise,
  exp2: componentwise,
  log2: componentwise,
  sin: componentwise,
  cos: componentwise,
  tan: componentwise,
  asin: componentwise,
  acos: componentwise,
  atan: componentwise,
  atan2: componentwise,
  mix: componentwise,
  step: componentwise,
  smoothstep: componentwise,
  dot: measure,
  length: measure,
  distance: measure,
  normalize: sameVectors,
  reflect: sameVectors,
  cross: exactly(['vec3', 'vec3'], 'vec3'),
  transform,
  quotient: whole,
  remainder: whole,
  bitAnd: whole,
  bitOr: whole,
  bitXor: whole,
  bitNot: whole,
  shiftLeft: shift,
  shiftRight: shift,
  less: comparison,
  lessEqual: comparison,
  equal: equality,
  not: logic,
  and: logic,
  or: logic,
  xor: logic,
  select,
  isnan: (([type]) => (type === 'float' ? 'bool' : no(`it asks of one float, not of ${type}`))) as Rule,
  construct,
  swizzle,
  convert,
  dFdx: slope,
  dFdy: slope,
  fwidth: slope,
  texture: sampled()(['float']),
  textureLod: sampled('float')(),
  textureGrad: sampled('vec2', 'vec2')(),
  texelFetch: exactly(['sampler2D', 'int', 'int', 'int'], 'vec4'),
  textureWidth: exactly(['sampler2D', 'int'], 'int'),
  textureHeight: exactly(['sampler2D', 'int'], 'int'),
  bitcast,
  packHalf2x16: exactly(['vec2'], 'uint'),
  packSnorm2x16: exactly(['vec2'], 'uint'),
  packUnorm2x16: exactly(['vec2'], 'uint'),
  unpackHalf2x16: exactly(['uint'], 'vec2'),
  unpackSnorm2x16: exactly(['uint'], 'vec2'),
  unpackUnorm2x16: exactly(['uint'], 'vec2'),
} satisfies Record<string, Rule>;

export type PrimitiveName = keyof typeof PRIMITIVES;

/** Operations that ask a texture. The first three may carry a whole offset in texels, [x, y], as their payload. */
export const ASKS_TEXTURE: ReadonlySet<string> = new Set<PrimitiveName>([
  ...(['texture', 'textureLod', 'textureGrad', 'texelFetch', 'textureWidth', 'textureHeight'] as const),
]);
/** Of those, the ones that read it. */
export const READS_TEXTURE: ReadonlySet<string> = new Set<PrimitiveName>([
  ...(['texture', 'textureLod', 'textureGrad', 'texelFetch'] as const),
]);

/** True where the first input's scalar kind decides what a bare number beside it means. */
export const numberKind = (type: Type | undefined): 'int' | 'uint' | 'float' =>
  type === 'int' || type === 'uint' ? type : 'float';
