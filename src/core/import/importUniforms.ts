import type { Brackets, Declared, Global, Module, TypeName } from '../language/glsl/syntax.ts';
import type { Span } from '../language/mistake.ts';
import type { Expression } from '../language/syntax.ts';
import { MOST_PARAMETERS } from '../document/score.ts';
import { startOf, type Parameter, type ParameterKind } from '../document/shader.ts';
import { INPUT_NAMES, INPUTS, type InputName } from '../program/inputs.ts';
import { freeName } from './freeName.ts';
import { refuseImport } from './refuseImport.ts';

/** Uniforms that are what a shader is given anyway. */
const GIVEN: readonly (readonly [pattern: RegExp, input: InputName])[] = [
  [/^([ug]_?)?(time|elapsed(_?time)?|seconds)$/i, 'time'],
  [/^([ug]_?)?(camera|eye|view)_?pos(ition)?$/i, 'cameraPosition'],
];
/** How a picture's size is commonly called. */
const PICTURE_SIZE =
  /^([ug]_?)?(picture_?size|resolution|viewport(_?size)?|screen_?(size|resolution)|canvas_?size)$/i;

/** Elements that one uniform array may have: each becomes a parameter. */
export const MOST_ELEMENTS = 64;

const PARAMETER_TYPES: ReadonlySet<string> = new Set([
  ...['float', 'int', 'bool', 'vec2', 'vec3', 'vec4', 'sampler2D'],
]);

const isColour = (name: string): boolean => /col(o|ou)r|tint/i.test(name);

const kindOf = (name: string, type: string): ParameterKind =>
  type === 'sampler2D' ? 'texture' : type === 'vec3' && isColour(name) ? 'color' : (type as ParameterKind);

const isPictureSize = (name: string, type: string): boolean =>
  PICTURE_SIZE.test(name) && type.startsWith('vec');

const parameterFor = (name: string, type: string, description: string, guesses: boolean): Parameter => {
  const kind = kindOf(name, type);
  const isSize = guesses && isPictureSize(name, type);
  const start = isSize
    ? [512, 512, 1, 1].slice(0, Number(type[3]))
    : kind === 'float'
      ? [0.5]
      : kind === 'color'
        ? [1, 1, 1, 0]
        : startOf(kind);
  const [min, max] = isSize ? [1, 8192] : kind === 'color' ? [-4, 8] : kind === 'int' ? [0, 16] : [0, 1];
  return {
    ...{ id: `p-${name}`, name, kind, default: start, min, max, unit: '', group: 'Imported' },
    description,
  };
};

/** What the author wrote behind a declaration. */
const remarkOn = (text: string, { to }: Span): string =>
  (/^[^\n]*?\/\/+[ \t]*([^\n]*)/.exec(text.slice(to))?.[1] ?? '').trim().slice(0, 200);

const isUniform = ({ qualifiers }: Global): boolean => qualifiers.includes('uniform');

export interface Uniforms {
  readonly parameters: readonly Parameter[];
  /** Declarations that put arrays, matrices, structures and whole vectors together of parameters. */
  readonly declared: readonly string[];
  readonly notes: readonly string[];
  /** Uniforms that are not set by their own names any more, and what they are made of. */
  readonly renamed: readonly (readonly [from: string, to: string])[];
  /** The name of the parameter that tells how large the picture is, where there is one. */
  readonly pictureSize: string | null;
}

/** What surrounds uniforms and varyings in the source they come from. */
export interface Setting {
  readonly text: string;
  readonly module: Module;
  /** Names in use; those that are made join them. */
  readonly taken: Set<string>;
  /** Every name in the source. */
  readonly used: ReadonlySet<string>;
  /** Takes the names that change. */
  readonly renames: Map<string, string>;
  /** What the fragment uses; what it does not, and no parameter could be, is left out. */
  readonly isRead: (name: string) => boolean;
}

/**
 * Uniforms as parameters, under names that are free; what is no parameter's kind is put together of several.
 * @param own the uniforms, in source of our making, that whoever draws gives: the others are named as what they are,
 *   and nothing is guessed of them
 */
export const importUniforms = (
  { text, module, taken, used, renames, isRead }: Setting,
  own: ReadonlySet<string> | null = null,
): Uniforms => {
  const parameters: Parameter[] = [];
  const declared: string[] = [];
  const notes: string[] = [];
  const renamed: (readonly [string, string])[] = [];
  let pictureSize: string | null = null;
  let remark = '';

  const add = (wish: string, type: string, change: Partial<Parameter> = {}): string => {
    const name = freeName(wish, taken, used);
    taken.add(name);
    if (parameters.length >= MOST_PARAMETERS)
      refuseImport(
        { from: 0, to: 0 },
        `The uniforms come to more than ${MOST_PARAMETERS} parameters, which no shader can have.`,
      );
    // A name that was changed tells less of what it is than the author's own.
    parameters.push({ ...parameterFor(wish, type, remark, !own), id: `p-${name}`, name, ...change });
    return name;
  };
  const givenAs = (name: string, type: string): InputName | undefined =>
    own
      ? INPUT_NAMES.find((each) => each === name && INPUTS[each].type === type)
      : GIVEN.find(([pattern, input]) => pattern.test(name) && INPUTS[input].type === type)?.[1];
  /** An expression that gives a uniform's value, of parameters made for it. */
  const build = (wish: string, type: TypeName, onName: Brackets | null, at: Span): string => {
    const brackets = onName ?? type.brackets;
    const structure = module.structs.find((each) => each.name === type.name);
    if (brackets) {
      const count = brackets.length ? countOf(brackets.length, module) : null;
      if (count === null || count < 1 || count > MOST_ELEMENTS)
        return refuseImport(
          at,
          `The uniform ${wish} has to have between 1 and ${MOST_ELEMENTS} elements, for each becomes a parameter.`,
        );
      const each = Array.from({ length: count }, (_, i) =>
        type.name === 'sampler2D'
          ? add(`${wish}${i}`, 'sampler2D')
          : build(`${wish}${i}`, { ...type, brackets: null }, null, at),
      );
      return `${type.name}[${count}](${each.join(', ')})`;
    }
    if (structure) {
      const fields = structure.fields.map((field) =>
        build(`${wish}${field.name[0]!.toUpperCase()}${field.name.slice(1)}`, field.type, field.brackets, at),
      );
      return `${type.name}(${fields.join(', ')})`;
    }
    const matrix = /^mat(\d)(x\1)?$/.exec(type.name);
    if (matrix) {
      const size = Number(matrix[1]);
      const columns = Array.from({ length: size }, (_, i) =>
        add(`${wish}${i}`, `vec${size}`, {
          ...{ kind: `vec${size}` as ParameterKind, min: -1, max: 1 },
          default: Array.from({ length: size }, (_one, k) => Number(k === i)),
        }),
      );
      return `${type.name}(${columns.join(', ')})`;
    }
    if (type.name === 'vec4' && isColour(wish) && !own)
      return `vec4(${add(wish, 'vec3')}, ${add(`${wish}Alpha`, 'float', { default: [1] })})`;
    const whole = /^([iub])vec(\d)$/.exec(type.name);
    if (whole)
      return `${type.name}(${add(`${wish}Value`, `vec${whole[2]!}`, { max: whole[1] === 'b' ? 1 : 16 })})`;
    if (type.name === 'uint') return `uint(${add(`${wish}Value`, 'int')})`;
    if (PARAMETER_TYPES.has(type.name)) return add(wish, type.name);
    return refuseImport(at, `The uniform ${wish} is a ${type.name}, which no parameter can be.`);
  };

  const addUniform = (type: TypeName, { name, brackets, ...at }: Declared): void => {
    const isArray = brackets !== null || type.brackets !== null;
    const given = isArray ? undefined : givenAs(name, type.name);
    if (given) {
      if (used.has(given) && given !== name) declared.push(`${type.name} ${name} = ${given};`);
      else if (given !== name) renames.set(name, given);
      if (given !== name) renamed.push([name, given]);
      return;
    }
    if ((isArray || !PARAMETER_TYPES.has(type.name)) && !isRead(name)) {
      notes.push(`The uniform ${name}, a ${type.name}${isArray ? '[]' : ''}, is not read and is left out.`);
      return;
    }
    const isSize = !own && !isArray && isPictureSize(name, type.name);
    const isTexture = !isArray && type.name === 'sampler2D';
    const value = isTexture ? add(name, type.name) : build(isSize ? 'pictureSize' : name, type, brackets, at);
    if (isSize) pictureSize = value;
    if (value !== name) renamed.push([name, value]);
    if (/^\w+$/.test(value)) {
      if (value !== name) renames.set(name, value);
      return;
    }
    const length = /^\w+(\[\d+\])/.exec(value)?.[1] ?? '';
    // A parameter may have taken the name.
    const whole = taken.has(name) ? freeName(`${name}Whole`, taken, used) : name;
    taken.add(whole);
    if (whole !== name) renames.set(name, whole);
    declared.push(`${type.name} ${whole}${length} = ${value};`);
  };
  for (const global of module.globals.filter(isUniform)) {
    remark = remarkOn(text, global);
    for (const each of global.names) if (!own?.has(each.name)) addUniform(global.type, each);
  }
  return { parameters, declared, notes, renamed, pictureSize };
};

/** A length: a number, a constant, or sums and products of them. */
export const countOf = (length: Expression, module: Module): number | null => {
  if (length.kind === 'literal') return length.value;
  if (length.kind === 'binary') {
    const [x, y] = [countOf(length.left, module), countOf(length.right, module)];
    if (x === null || y === null) return null;
    return (
      ({ '+': x + y, '-': x - y, '*': x * y, '/': Math.trunc(x / y) } as const)[length.sign as '+'] ?? null
    );
  }
  if (length.kind !== 'name') return null;
  const value = module.globals
    .filter((each) => each.qualifiers.includes('const'))
    .flatMap((each) => each.names)
    .find((each) => each.name === length.name)?.value;
  return value ? countOf(value, module) : null;
};
