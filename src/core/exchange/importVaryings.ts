import { programType } from '../language/glsl/codeValue.ts';
import type { Declared, Global } from '../language/glsl/syntax.ts';
import type { Strand } from '../document/shader.ts';
import { INPUTS, INPUT_NAMES } from '../program/inputs.ts';
import { freeName } from './freeName.ts';
import type { Setting } from './importUniforms.ts';
import { refuseImport } from './refuseImport.ts';

/** Something the fragment is handed by a vertex stage that is not imported, and what it most likely is. */
export interface ImportedVarying {
  readonly name: string;
  readonly type: string;
  /** An expression: what it reads unless the author says otherwise. */
  readonly guess: string;
}

/** Names for what a shader is given, as they are commonly called. */
const COMMON: readonly (readonly [pattern: RegExp, type: string, reads: string])[] = [
  [/uv2|uv1$|lightmap/i, 'vec2', 'uv2'],
  [/uv|tex_?coord|st$/i, 'vec2', 'uv'],
  [/uv|tex_?coord/i, 'vec3', 'vec3(uv, 0.0)'],
  [/uv|tex_?coord/i, 'vec4', 'vec4(uv, uv2)'],
  [/(object|local)_?(pos|normal)/i, 'vec3', 'objectPosition'],
  [/view_?(dir|vec)|eye_?dir/i, 'vec3', 'viewDirection'],
  [/(view|eye|mv)_?pos/i, 'vec3', 'viewPosition'],
  [/pos/i, 'vec3', 'position'],
  [/pos/i, 'vec4', 'vec4(position, 1.0)'],
  [/bi(tangent|normal)/i, 'vec3', 'bitangent'],
  [/tangent/i, 'vec3', 'tangent'],
  [/norm|nrm/i, 'vec3', 'normal'],
  [/col(o|ou)r/i, 'vec4', 'vertexColor'],
  [/col(o|ou)r/i, 'vec3', 'vertexColor.xyz'],
  [/depth|dist/i, 'float', 'cameraDistance()'],
];
const ZERO: Readonly<Record<string, string>> = {
  float: '0.0',
  vec2: 'vec2(0.0)',
  vec3: 'vec3(0.0)',
  vec4: 'vec4(0.0)',
};
/** A matrix that carries directions out of a surface's own frame, column after column. */
const FRAME = ['tangent', 'bitangent', 'normal'];

const guessOf = (name: string, type: string): string =>
  COMMON.find(([pattern, of]) => of === type && pattern.test(name))?.[2] ??
  (type === 'int' ? undefined : INPUT_NAMES.find((each) => INPUTS[each].type === type)) ??
  ZERO[type] ??
  '0';

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
    if (size && !isArray) {
      const columns = Array.from({ length: size }, (_, i) =>
        add(`${each.name}${i}`, `vec${size}`, size === 3 ? FRAME[i]! : `vec${size}(0.0)`),
      );
      taken.add(each.name);
      declared.push(`${type.name} ${each.name} = ${type.name}(${columns.join(', ')});`);
      return;
    }
    if (programType(type.name) && !isArray) {
      const free = add(each.name, type.name, guessOf(each.name, type.name));
      if (free !== each.name) renames.set(each.name, free);
    } else
      refuseImport(each, `${each.name} is a ${type.name}${isArray ? '[]' : ''}, which a strand cannot hold.`);
  };
  for (const global of module.globals.filter(isVarying))
    for (const each of global.names) addOne(global, each);
  return { strands, varyings, declared, notes };
};
