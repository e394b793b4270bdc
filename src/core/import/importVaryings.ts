import { programType } from '../lower/expression/glslValue.ts';
import type { Declared, Global } from '../language/glsl/syntax.ts';
import type { Strand } from '../document/shader.ts';
import { INPUTS, INPUT_NAMES } from '../program/inputs.ts';
import { freeName } from './freeName.ts';
import { countOf, MOST_ELEMENTS, type Setting } from './importUniforms.ts';
import { refuseImport } from './refuseImport.ts';

/** Something the fragment is handed by a vertex stage that is not imported, and what it most likely is. */
export interface ImportedVarying {
  readonly name: string;
  readonly type: string;
  /** An expression: what it reads unless the author says otherwise. */
  readonly guess: string;
}

/** Words of names for what a shader is given, as they are commonly called; all of them have to stand in it. */
const COMMON: readonly (readonly [words: RegExp, type: string, reads: string])[] = [
  [/ (uv ?2|uv ?1|lightmap) /, 'vec2', 'uv2'],
  [/ (uv|uvs|uv ?0|st|tex ?coords?( ?0)?|texture ?coords?|coords?) /, 'vec2', 'uv'],
  [/ (uv|uvs|tex ?coords?) /, 'vec3', 'vec3(uv, 0.0)'],
  [/ (uv|uvs|tex ?coords?) /, 'vec4', 'vec4(uv, uv2)'],
  [/ (object|local) .*(normal|norm) /, 'vec3', 'objectNormal'],
  [/ (object|local) .*(pos|position) /, 'vec3', 'objectPosition'],
  [/ (view|eye) (dir|direction|vec|vector) /, 'vec3', 'viewDirection'],
  [/ (view|eye|mv) .*normal /, 'vec3', 'viewNormal'],
  [/ (view|eye|mv) .*(pos|position) /, 'vec3', 'viewPosition'],
  [/ (pos|position) /, 'vec3', 'position'],
  [/ (pos|position) /, 'vec4', 'vec4(position, 1.0)'],
  [/ (bitangent|binormal) /, 'vec3', 'bitangent'],
  [/ tangent /, 'vec3', 'tangent'],
  [/ (normal|norm|nrm) /, 'vec3', 'normal'],
  [/ (color|colour|col) /, 'vec4', 'vertexColor'],
  [/ (color|colour|col) /, 'vec3', 'vertexColor.xyz'],
  [/ instance seed /, 'float', 'float(instanceSeed)'],
  [/ (depth|fog depth|distance|dist) /, 'float', 'cameraDistance()'],
];
/** vWorldPos_2 is “ world pos 2 ”. */
const wordsOf = (name: string): string =>
  ` ${name
    .replace(/^(v|f|fs|vs|in|var)(?=[A-Z_])_?/, '')
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .replace(/_/g, ' ')
    .trim()
    .toLowerCase()} `;
const ZERO: Readonly<Record<string, string>> = {
  float: '0.0',
  vec2: 'vec2(0.0)',
  vec3: 'vec3(0.0)',
  vec4: 'vec4(0.0)',
};
/** A matrix that carries directions out of a surface's own frame, column after column. */
const FRAME = ['tangent', 'bitangent', 'normal'];

/** What a name says it is, or null. */
const knownAs = (name: string, type: string): string | null => {
  const words = wordsOf(name);
  const bare = words.trim().replace(/ (\w)/g, (_, letter: string) => letter.toUpperCase());
  const given = INPUT_NAMES.find((each) => (each === bare || each === name) && INPUTS[each].type === type);
  return given ?? COMMON.find(([pattern, of]) => of === type && pattern.test(words))?.[2] ?? null;
};

export const isVarying = ({ qualifiers }: Global): boolean =>
  (qualifiers.includes('in') || qualifiers.includes('varying')) && !qualifiers.includes('uniform');

/** A strand for each thing that is handed over, and declarations that put matrices together of theirs. */
export const importVaryings = (
  { module, taken, used, renames, isRead }: Setting,
  chosen: Readonly<Record<string, string>>,
): {
  readonly strands: readonly Strand[];
  readonly varyings: readonly ImportedVarying[];
  readonly declared: readonly string[];
  readonly notes: readonly string[];
} => {
  const strands: Strand[] = [];
  const varyings: ImportedVarying[] = [];
  const declared: string[] = [];
  const notes: string[] = [];
  const add = (name: string, type: string, guess: string): string => {
    varyings.push({ name, type, guess });
    const free = freeName(name, taken, used);
    taken.add(free);
    strands.push({
      ...{ id: `s-${free}`, name: free, note: `was handed over as ${name}` },
      steps: [{ id: `s-${free}-1`, operator: 'value', arguments: { x: chosen[name] ?? guess } }],
    });
    return free;
  };
  const addOne = ({ type }: Global, each: Declared): void => {
    const size = Number(/^mat(\d)(x\1)?$/.exec(type.name)?.[1] ?? 0);
    const isArray = each.brackets !== null || type.brackets !== null;
    if (!isRead(each.name)) {
      notes.push(`${each.name} is handed over and not read; it is left out.`);
      return;
    }
    const length = (each.brackets ?? type.brackets)?.length;
    const count = isArray && length && programType(type.name) ? countOf(length, module) : null;
    if (count !== null && count > 0 && count <= MOST_ELEMENTS) {
      const elements = Array.from({ length: count }, (_, i) =>
        add(`${each.name}${i}`, type.name, knownAs(each.name, type.name) ?? ZERO[type.name] ?? '0'),
      );
      taken.add(each.name);
      declared.push(`${type.name} ${each.name}[${count}] = ${type.name}[${count}](${elements.join(', ')});`);
      return;
    }
    if (size && !isArray) {
      const columns = Array.from({ length: size }, (_, i) =>
        add(`${each.name}${i}`, `vec${size}`, size === 3 ? FRAME[i]! : `vec${size}(0.0)`),
      );
      taken.add(each.name);
      declared.push(`${type.name} ${each.name} = ${type.name}(${columns.join(', ')});`);
      return;
    }
    if (programType(type.name) && !isArray) {
      const known = knownAs(each.name, type.name);
      const free = add(each.name, type.name, known ?? ZERO[type.name] ?? '0');
      if (known === null && chosen[each.name] === undefined)
        notes.push(
          `${each.name} is handed over, and its name does not tell what it is; it is ${ZERO[type.name] ?? '0'} until you say what it reads.`,
        );
      if (free !== each.name) renames.set(each.name, free);
    } else
      refuseImport(each, `${each.name} is a ${type.name}${isArray ? '[]' : ''}, which a strand cannot hold.`);
  };
  for (const global of module.globals.filter(isVarying))
    for (const each of global.names) addOne(global, each);
  return { strands, varyings, declared, notes };
};
