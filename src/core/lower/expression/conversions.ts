import type { Builder } from '../../program/builder.ts';
import { fail, type Span } from '../../language/mistake.ts';
import { one, shape, shapeOf, spelled, type GlslValue } from './glslValue.ts';

/** A whole number as what an operator beside it asks for, where GLSL lets it. */
export const promote = (b: Builder, value: GlslValue, base: string): GlslValue => {
  const from = shape(value);
  if (from.base === base || from.base === 'bool' || from.form === 'sampler') return value;
  if (from.form === 'scalar' && (base === 'float' || base === 'uint'))
    return one(b.convert(base as 'float', value.parts[0]!));
  return value;
};
/** Two values of one base, where promoting brings them there. */
export const unify = (b: Builder, x: GlslValue, y: GlslValue): [GlslValue, GlslValue] => {
  const bases = [shape(x).base, shape(y).base];
  const base = bases.includes('float') ? 'float' : bases.includes('uint') ? 'uint' : 'int';
  return [promote(b, x, base), promote(b, y, base)];
};
/** A value as a wanted type. @throws SourceError where it is of another */
export const coerce = (b: Builder, value: GlslValue, type: string, at: Span, what: string): GlslValue => {
  const wanted = type.replace(/^mat(\d)x\1$/, 'mat$1');
  if (value.type === wanted) return value;
  // Empty brackets take as many as there are.
  if (wanted.endsWith('[]') && value.type.replace(/\d+\]$/, ']') === wanted) return value;
  const promoted = shapeOf(wanted)?.form === 'scalar' ? promote(b, value, shapeOf(wanted)!.base) : value;
  if (promoted.type === wanted) return promoted;
  return fail(at, `${what} is a ${spelled(wanted)}, and this is a ${spelled(value.type)}.`);
};
