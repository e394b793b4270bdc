import type { Builder } from '../../program/builder.ts';
import { floatType, type Type } from '../../program/types.ts';
import type { Value } from '../../program/value.ts';

/**
 * A value of a GLSL type, as values of the program. Floats, vectors of floats, scalars and samplers are one; a vector
 * of whole numbers or booleans is one for each component, a matrix one for each column.
 */
export interface CodeValue {
  readonly type: string;
  readonly parts: readonly Value[];
}

interface TypeShape {
  readonly base: 'float' | 'int' | 'uint' | 'bool' | 'sampler2D';
  readonly form: 'scalar' | 'vector' | 'wholes' | 'matrix' | 'sampler';
  /** Components, or columns. */
  readonly size: number;
}

const scalar = (base: TypeShape['base']): TypeShape => ({ base, form: 'scalar', size: 1 });
const SHAPES: ReadonlyMap<string, TypeShape> = new Map<string, TypeShape>([
  ...(['float', 'int', 'uint', 'bool'] as const).map((base) => [base, scalar(base)] as const),
  ...[2, 3, 4].flatMap((size) => [
    [`vec${size}`, { base: 'float', form: 'vector', size }] as const,
    [`ivec${size}`, { base: 'int', form: 'wholes', size }] as const,
    [`uvec${size}`, { base: 'uint', form: 'wholes', size }] as const,
    [`bvec${size}`, { base: 'bool', form: 'wholes', size }] as const,
    [`mat${size}`, { base: 'float', form: 'matrix', size }] as const,
    [`mat${size}x${size}`, { base: 'float', form: 'matrix', size }] as const,
  ]),
  ['sampler2D', { base: 'sampler2D', form: 'sampler', size: 1 }],
]);

/** How a GLSL type is kept in the program, or undefined where it cannot be. */
export const shapeOf = (type: string): TypeShape | undefined => SHAPES.get(type);
export const shape = (value: CodeValue): TypeShape => SHAPES.get(value.type)!;

/** The program's own type of a GLSL type that is one value, or null. */
export const programType = (type: string): Type | null => {
  const found = SHAPES.get(type);
  return found && found.form !== 'wholes' && found.form !== 'matrix' ? (type as Type) : null;
};

export const one = (value: Value): CodeValue => ({ type: value.type, parts: [value] });

/** A vector type of a base and a size: vec3, ivec2, float. */
export const vectorType = (base: TypeShape['base'], size: number): string =>
  size === 1 ? base : `${{ float: '', int: 'i', uint: 'u', bool: 'b', sampler2D: '' }[base]}vec${size}`;

export const zeroOf = (b: Builder, type: string): CodeValue => {
  const { base, form, size } = SHAPES.get(type)!;
  const each = (t: Type, n: number) => b.constant(t, new Array<number>(n).fill(0));
  if (form === 'matrix')
    return { type, parts: Array.from({ length: size }, () => each(floatType(size), size)) };
  if (form === 'wholes') return { type, parts: Array.from({ length: size }, () => each(base as Type, 1)) };
  return { type, parts: [each(type as Type, size)] };
};

/** A value's components, each a scalar; a matrix's column after column. */
export const componentsOf = (b: Builder, value: CodeValue): Value[] => {
  const { form, size } = shape(value);
  if (form === 'vector' || form === 'matrix')
    return value.parts.flatMap((part) => Array.from({ length: size }, (_, i) => b.swizzle(part, 'xyzw'[i]!)));
  return [...value.parts];
};

/** Puts scalars together as a type. */
export const fromComponents = (b: Builder, type: string, scalars: readonly Value[]): CodeValue => {
  const { form, size } = SHAPES.get(type)!;
  if (form === 'vector') return { type, parts: [b.construct(type as Type, ...scalars)] };
  if (form === 'matrix')
    return {
      type,
      parts: Array.from({ length: size }, (_, c) =>
        b.construct(floatType(size), ...scalars.slice(c * size, (c + 1) * size)),
      ),
    };
  return { type, parts: scalars };
};

/** One value where a condition holds, another where it does not, part by part. */
export const choose = (b: Builder, condition: Value, yes: CodeValue, no: CodeValue): CodeValue => ({
  type: yes.type,
  parts: yes.parts.map((part, i) => (part === no.parts[i] ? part : b.select(condition, part, no.parts[i]!))),
});
