import { isSampler, PLACE_ON, componentsOf, floatType, isFloating, isScalar, type Type } from './types.ts';

/** Says why the inputs do not fit, as the end of a sentence, or gives the result's type. */
export type Rule = (inputs: readonly Type[], payload: unknown) => Type | { readonly why: string };

const no = (why: string) => ({ why });

/** Floats of one size, scalars spread over vectors. */
export const componentwise: Rule = (inputs) => {
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
export const arithmetic: Rule = (inputs, payload) => {
  const first = inputs[0]!;
  if ((first === 'int' || first === 'uint') && inputs.every((type) => type === first)) return first;
  return componentwise(inputs, payload);
};

export const whole: Rule = (inputs) => {
  const first = inputs[0]!;
  if ((first === 'int' || first === 'uint') && inputs.every((type) => type === first)) return first;
  return no(`it works on int or uint, both sides alike, not on ${inputs.join(' and ')}`);
};

export const shift: Rule = (inputs) =>
  (inputs[0] === 'int' || inputs[0] === 'uint') && (inputs[1] === 'int' || inputs[1] === 'uint')
    ? inputs[0]
    : no(`it shifts int or uint, not ${inputs.join(' by ')}`);

export const comparison: Rule = (inputs) =>
  isScalar(inputs[0]!) && inputs[0] !== 'bool' && inputs[0] === inputs[1]
    ? 'bool'
    : no(`it compares two numbers of one type, not ${inputs.join(' with ')}`);

export const equality: Rule = (inputs) =>
  inputs[0] === inputs[1] && !isSampler(inputs[0]!)
    ? 'bool'
    : no(`it compares two values of one type, not ${inputs.join(' with ')}`);

export const logic: Rule = (inputs) =>
  inputs.every((type) => type === 'bool') ? 'bool' : no(`it works on bool, not on ${inputs.join(' and ')}`);

/** Vectors (or floats) of one size to a float. */
export const measure: Rule = (inputs) =>
  isFloating(inputs[0]!) && inputs.every((type) => type === inputs[0])
    ? 'float'
    : no(`it needs vectors of one size, not ${inputs.join(' and ')}`);

export const sameVectors: Rule = (inputs) =>
  isFloating(inputs[0]!) && inputs.every((type) => type === inputs[0])
    ? inputs[0]!
    : no(`it needs vectors of one size, not ${inputs.join(' and ')}`);

export const exactly =
  (wanted: readonly Type[], result: Type): Rule =>
  (inputs) =>
    inputs.length === wanted.length && inputs.every((type, i) => type === wanted[i])
      ? result
      : no(`it needs ${wanted.join(', ')}, not ${inputs.join(', ')}`);

export const select: Rule = ([condition, yes, other]) =>
  condition === 'bool' && yes === other && !isSampler(yes!)
    ? yes!
    : no(`it needs a bool and two values of one type, not ${condition}, ${yes}, ${other}`);

export const construct: Rule = (inputs, payload) => {
  const type = payload as Type;
  const given = inputs.reduce((sum, each) => sum + componentsOf(each), 0);
  if (!inputs.every(isFloating)) return no(`it is made of floats, not of ${inputs.join(', ')}`);
  return given === componentsOf(type)
    ? type
    : no(`${type} needs ${componentsOf(type)} numbers and was given ${given}`);
};

export const swizzle: Rule = ([source], payload) => {
  const picks = payload as string;
  const size = componentsOf(source!);
  if (!isFloating(source!)) return no(`${source} has no components`);
  const beyond = [...picks].find((letter) => 'xyzw'.indexOf(letter) >= size);
  return beyond ? no(`${source} has no component ${beyond}`) : floatType(picks.length);
};

export const convert: Rule = ([source], payload) =>
  isScalar(source!) ? (payload as Type) : no(`a ${source} cannot become a ${String(payload)}`);

export const transform: Rule = ([m, v]) =>
  m === 'mat3' && (v === 'vec3' || v === 'mat3') ? v : no(`it needs a mat3 and a vec3, not ${m} and ${v}`);

export const negation: Rule = ([type]) =>
  isFloating(type!) || type === 'int' || type === 'uint' ? type! : no(`${type} cannot be negated`);

export const slope: Rule = ([type]) => (isFloating(type!) ? type! : no(`${type} has no slope`));

/**
 * A sampler and a place on it, with what moves the level of detail where that is given: `place` stands for a slope. A
 * whole offset is known of pictures alone.
 */
export const sampled =
  (...least: readonly (Type | 'place')[]) =>
  (most: readonly Type[] = []): Rule =>
  (inputs, payload) => {
    const kind = isSampler(inputs[0]!) ? inputs[0] : 'sampler2D';
    if (kind === 'sampler3D' && payload) return no('an offset in texels is for a sampler2D');
    const wanted: readonly Type[] = [kind, 'place' as const, ...least, ...most].map((each) =>
      each === 'place' ? PLACE_ON[kind] : each,
    );
    return inputs.length >= 2 + least.length && inputs.every((type, i) => type === wanted[i])
      ? 'vec4'
      : no(`it needs ${wanted.join(', ')}, not ${inputs.join(', ')}`);
  };

export const bitcast: Rule = ([source], payload) =>
  source === 'float' || source === 'int' || source === 'uint'
    ? (payload as Type)
    : no(`a ${source} has no 32 bits to read otherwise`);

export const question: Rule = ([type]) =>
  type === 'float' ? 'bool' : no(`it asks of one float, not of ${type}`);
