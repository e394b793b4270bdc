import type { Builder } from '../../program/builder.ts';
import { floatType, type Type } from '../../program/types.ts';
import type { Value } from '../../program/value.ts';

/**
 * A value of a GLSL type, as values of the program. Floats, vectors of floats, scalars and samplers are one; a vector
 * of whole numbers or booleans is one for each component, a matrix one for each column, an array or a structure
 * those of its members one after another.
 */
export interface GlslValue {
  readonly type: string;
  readonly parts: readonly Value[];
}

interface TypeShape {
  readonly base: 'float' | 'int' | 'uint' | 'bool' | 'sampler2D' | 'none';
  readonly form: 'scalar' | 'vector' | 'wholes' | 'matrix' | 'sampler' | 'array' | 'structure';
  /** Components, columns, elements or fields. */
  readonly size: number;
  readonly members?: readonly Placed[];
}

/** A member of an array or a structure, and where its values stand among those of the whole. */
interface Placed {
  readonly name: string;
  readonly type: string;
  readonly from: number;
  readonly to: number;
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

/** Types that are made by a call of their name. */
export const CONSTRUCTED: readonly string[] = [...SHAPES.keys()].filter((each) => each !== 'sampler2D');

/** The type of an array of so many. */
export const arrayType = (element: string, length: number): string => `${element}[${length}]`;
/** The type of a structure, which spells its fields: `Ray{vec3 at;vec3 way}`. */
export const structureType = (
  name: string,
  fields: readonly (readonly [name: string, type: string])[],
): string => `${name}{${fields.map(([field, type]) => `${type} ${field}`).join(';')}}`;

const placed = (members: readonly (readonly [name: string, type: string])[]): Placed[] => {
  let to = 0;
  return members.map(([name, type]) => {
    const from = to;
    to += partCount(type);
    return { name, type, from, to };
  });
};
/** Reads the types made above. */
const readCompound = (type: string): TypeShape | undefined => {
  const array = /^(.+)\[(\d+)\]$/.exec(type);
  if (array) {
    const size = Number(array[2]);
    const members = placed(Array.from({ length: size }, (_, i) => [String(i), array[1]!] as const));
    return { base: 'none', form: 'array', size, members };
  }
  if (!type.endsWith('}')) return undefined;
  let depth = 0;
  const fields = [...type.slice(type.indexOf('{') + 1, -1)].reduce<string[]>(
    (list, letter) => {
      depth += Number(letter === '{') - Number(letter === '}');
      if (letter === ';' && !depth) list.push('');
      else list[list.length - 1] += letter;
      return list;
    },
    [''],
  );
  const members = placed(
    fields.map((field) => {
      const at = field.lastIndexOf(' ');
      return [field.slice(at + 1), field.slice(0, at)] as const;
    }),
  );
  return { base: 'none', form: 'structure', size: members.length, members };
};
const compounds = new Map<string, TypeShape>();
const MOST_KEPT = 1000;
const compoundOf = (type: string): TypeShape | undefined => {
  const before = compounds.get(type);
  const found = before ?? readCompound(type);
  if (!found || before) return found;
  if (compounds.size >= MOST_KEPT) compounds.clear();
  compounds.set(type, found);
  return found;
};
/** A type as its author writes it. */
export const spelled = (type: string): string => type.replace(/\{.*\}/, '');

/** How a GLSL type is kept in the program, or undefined where it cannot be. */
export const shapeOf = (type: string): TypeShape | undefined => SHAPES.get(type) ?? compoundOf(type);
export const shape = (value: GlslValue): TypeShape => shapeOf(value.type)!;

/** How many values of the program a type is. */
export const partCount = (type: string): number => {
  const { form, size, members } = shapeOf(type)!;
  return members ? (members.at(-1)?.to ?? 0) : form === 'wholes' || form === 'matrix' ? size : 1;
};

/** A member of an array or a structure. */
export const memberOf = (value: GlslValue, index: number): GlslValue => {
  const { type, from, to } = shape(value).members![index]!;
  return { type, parts: value.parts.slice(from, to) };
};
/** The whole with one of its members changed. */
export const withMember = (value: GlslValue, index: number, member: GlslValue): GlslValue => {
  const { from, to } = shape(value).members![index]!;
  return { type: value.type, parts: value.parts.toSpliced(from, to - from, ...member.parts) };
};

/** The program's own type of a GLSL type that is one value, or null. */
export const programType = (type: string): Type | null => {
  const found = SHAPES.get(type);
  return found && found.form !== 'wholes' && found.form !== 'matrix' ? (type as Type) : null;
};

export const one = (value: Value): GlslValue => ({ type: value.type, parts: [value] });

/** A vector type of a base and a size: vec3, ivec2, float. */
export const vectorType = (base: TypeShape['base'], size: number): string =>
  size === 1
    ? base
    : `${{ float: '', int: 'i', uint: 'u', bool: 'b', sampler2D: '', none: '' }[base]}vec${size}`;

export const zeroOf = (b: Builder, type: string): GlslValue => {
  const { base, form, size, members } = shapeOf(type)!;
  if (members) return { type, parts: members.flatMap((member) => zeroOf(b, member.type).parts) };
  const each = (t: Type, n: number) => b.constant(t, new Array<number>(n).fill(0));
  if (form === 'matrix')
    return { type, parts: Array.from({ length: size }, () => each(floatType(size), size)) };
  if (form === 'wholes') return { type, parts: Array.from({ length: size }, () => each(base as Type, 1)) };
  return { type, parts: [each(type as Type, size)] };
};

/** A value's components, each a scalar; a matrix's column after column. */
export const componentsOf = (b: Builder, value: GlslValue): Value[] => {
  const { form, size } = shape(value);
  if (form === 'vector' || form === 'matrix')
    return value.parts.flatMap((part) => Array.from({ length: size }, (_, i) => b.swizzle(part, 'xyzw'[i]!)));
  return [...value.parts];
};

/** Puts scalars together as a type. */
export const fromComponents = (b: Builder, type: string, scalars: readonly Value[]): GlslValue => {
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
export const choose = (b: Builder, condition: Value, yes: GlslValue, no: GlslValue): GlslValue => ({
  type: yes.type,
  parts: yes.parts.map((part, i) => (part === no.parts[i] ? part : b.select(condition, part, no.parts[i]!))),
});
