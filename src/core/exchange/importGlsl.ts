import { preprocess } from '@shaderfrog/glsl-parser/preprocessor/index.js';
import { nameProblem } from '../language/reserved.ts';
import { codeNames } from '../language/codeNames.ts';
import { analyseModule } from '../language/glsl/analyseModule.ts';
import { programType } from '../language/glsl/codeValue.ts';
import { parseModule } from '../language/glsl/parseModule.ts';
import type { FunctionSource, Global, Module } from '../language/glsl/syntax.ts';
import { placeInText, type TextPlace } from '../language/placeInText.ts';
import type { Span } from '../language/mistake.ts';
import { LONGEST_CODE } from '../document/parseShader.ts';
import {
  emptyShader,
  startOf,
  type Parameter,
  type ParameterKind,
  type ShaderDocument,
  type Strand,
} from '../document/shader.ts';
import { OPERATOR_NAMES } from '../operators/catalogue.ts';
import { INPUTS, INPUT_NAMES, type InputName } from '../program/inputs.ts';
import { straightShader } from './importStraight.ts';

/** Something the fragment is handed by a vertex stage that is not imported, and what it most likely is. */
export interface ImportedVarying {
  readonly name: string;
  readonly type: string;
  /** An expression: what it reads unless the author says otherwise. */
  readonly guess: string;
}

export interface ImportProblem extends TextPlace {
  readonly message: string;
}

export type Imported =
  | {
      readonly document: ShaderDocument;
      readonly varyings: readonly ImportedVarying[];
      /** What was left out or changed on the way, in sentences. */
      readonly notes: readonly string[];
      readonly problems: readonly [];
    }
  | { readonly document: null; readonly problems: readonly ImportProblem[] };

/** Names for what a shader is given, as they are commonly called. */
const COMMON: readonly (readonly [pattern: RegExp, type: string, reads: string])[] = [
  [/uv2|uv1$|lightmap/i, 'vec2', 'uv2'],
  [/uv|tex_?coord|st$/i, 'vec2', 'uv'],
  [/(object|local)_?(pos|normal)/i, 'vec3', 'objectPosition'],
  [/view_?(dir|vec)|eye_?dir/i, 'vec3', 'viewDirection'],
  [/(view|eye|mv)_?pos/i, 'vec3', 'viewPosition'],
  [/pos/i, 'vec3', 'position'],
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

const guessOf = (name: string, type: string): string =>
  COMMON.find(([pattern, of]) => of === type && pattern.test(name))?.[2] ??
  INPUT_NAMES.find((each) => INPUTS[each].type === type) ??
  ZERO[type] ??
  '0';

/** Uniforms that are what a shader is given anyway. */
const GIVEN: Readonly<Record<string, InputName>> = {
  ...{ time: 'time', uTime: 'time', u_time: 'time', iTime: 'time', elapsed: 'time' },
  ...{
    cameraPosition: 'cameraPosition',
    uCameraPosition: 'cameraPosition',
    u_cameraPosition: 'cameraPosition',
  },
};

class ImportRefusal extends Error {
  constructor(
    message: string,
    readonly at: Span,
  ) {
    super(message);
  }
}
const refuse = (at: Span, message: string): never => {
  throw new ImportRefusal(message, { from: at.from, to: at.to });
};

/** Blanks a line without moving what follows it. */
const blank = (line: string) => ' '.repeat(line.length);

/** Settles # lines: versions and extensions go, definitions and conditions are carried out. */
const settle = (text: string): string => {
  const plain = text.replace(/^[ \t]*#[ \t]*(version|extension|pragma|line)\b.*$/gm, blank);
  if (!/^[ \t]*#/m.test(plain)) return plain;
  return preprocess(plain, {
    preserveComments: true,
    defines: { GL_ES: '1', GL_FRAGMENT_PRECISION_HIGH: '1' },
  });
};

/** A free name that can stand in a shader, near to the one wished for. */
export const freeName = (wish: string, taken: ReadonlySet<string>): string => {
  const base =
    wish
      .replace(/^(v|a|u)_?(?=[A-Za-z])/, (prefix) => (prefix.endsWith('_') ? '' : prefix))
      .replace(/__+/g, '_')
      .replace(/[^A-Za-z0-9_]/g, '') || 'value';
  for (let n = 1; ; n += 1) {
    const name = n === 1 ? base : `${base}${n}`;
    if (!taken.has(name) && !nameProblem(name, OPERATOR_NAMES)) return name;
    if (n > 999) return `${base}_${taken.size}`;
  }
};

/** Replaces names in source. */
export const renameIn = (text: string, names: ReadonlyMap<string, string>): string => {
  let renamed = text;
  for (const each of codeNames(text).reverse()) {
    const to = names.get(each.name);
    if (to !== undefined) renamed = renamed.slice(0, each.from) + to + renamed.slice(each.to);
  }
  return renamed;
};

const kindOf = (name: string, type: string): ParameterKind =>
  type === 'sampler2D'
    ? 'texture'
    : type === 'vec3' && /col(o|ou)r|tint/i.test(name)
      ? 'color'
      : (type as ParameterKind);

const PARAMETER_TYPES = new Set(['float', 'int', 'bool', 'vec2', 'vec3', 'vec4', 'sampler2D']);

export const parameterFor = (name: string, type: string, id: string): Parameter => {
  const kind = kindOf(name, type);
  const start = kind === 'float' ? [0.5] : kind === 'color' ? [1, 1, 1, 0] : startOf(kind);
  const [min, max] = kind === 'color' ? [-4, 8] : kind === 'int' ? [0, 16] : [0, 1];
  return { id, name, kind, default: start, min, max, unit: '', group: 'Imported', description: '' };
};

const isUniform = (each: Global) => each.qualifiers.includes('uniform');
const isVarying = (each: Global) =>
  (each.qualifiers.includes('in') || each.qualifiers.includes('varying')) && !isUniform(each);

/** Uniforms as parameters, under names that are free. */
export const parametersFrom = (
  module: Module,
  taken: Set<string>,
  renames: Map<string, string>,
  skip: (name: string) => boolean,
): Parameter[] =>
  module.globals.filter(isUniform).flatMap((global) =>
    global.names.flatMap((each): Parameter[] => {
      if (skip(each.name)) return [];
      const given = GIVEN[each.name];
      if (given && INPUTS[given].type === global.type.name) {
        if (given !== each.name) renames.set(each.name, given);
        return [];
      }
      if (each.isArray || global.type.isArray)
        refuse(
          each,
          `The uniform ${each.name} is an array, which a parameter cannot be; give its elements uniforms of their own.`,
        );
      if (!PARAMETER_TYPES.has(global.type.name))
        refuse(
          each,
          `The uniform ${each.name} is a ${global.type.name}; a parameter is a float, int, bool, vec2, vec3, vec4 or sampler2D.`,
        );
      const name = freeName(each.name, taken);
      taken.add(name);
      if (name !== each.name) renames.set(each.name, name);
      return [parameterFor(name, global.type.name, `p-${name}`)];
    }),
  );

/** What a fragment writes its colour to. */
const outputOf = (module: Module, main: FunctionSource): string => {
  const out = module.globals.find((each) => each.qualifiers.includes('out'));
  if (!out) return 'gl_FragColor';
  if (out.type.name !== 'vec4')
    refuse(out, `The output ${out.names[0]!.name} is a ${out.type.name}; a surface's colour is a vec4.`);
  void main;
  return out.names[0]!.name;
};

const DISCARDED = 'vec4(0.0, 0.0, 0.0, -1.0)';

/** The body of main as a function that gives its colour back. */
const asFunction = (text: string, main: FunctionSource, output: string): string => {
  const body = text.slice(main.bodyAt.from + 1, main.bodyAt.to - 1);
  const settled = body
    .replace(/\bdiscard\s*;/g, `return ${DISCARDED};`)
    .replace(/\breturn\s*;/g, 'return shaded;')
    .replace(/\bgl_FragData\s*\[\s*0\s*\]/g, output);
  const renamed = renameIn(settled, new Map([[output, 'shaded']]));
  return `vec4 fragment() {\n  vec4 shaded = vec4(0.0, 0.0, 0.0, 1.0);\n${renamed.replace(/^\n+|\s+$/g, '')}\n  return shaded;\n}`;
};

/** The functions and constants beside main, as they stand. */
const besides = (text: string, module: Module, main: FunctionSource): string =>
  [
    ...module.structs,
    ...module.globals.filter((each) => each.qualifiers.includes('const')),
    ...module.functions.filter((each) => each !== main),
  ]
    .sort((a, b) => a.from - b.from)
    .map((each) => text.slice(each.from, each.to))
    .join('\n\n');

const importModule = (
  text: string,
  module: Module,
  chosen: Readonly<Record<string, string>>,
): Omit<Extract<Imported, { problems: readonly [] }>, 'problems'> => {
  const main = module.functions.find((each) => each.name === 'main');
  if (!main)
    return refuse(
      { from: 0, to: text.length },
      'There is no main here; a fragment shader needs one, or paste functions into a code step.',
    );
  const straight = straightShader(text, module, main);
  if (straight) return { ...straight, varyings: [] };
  const stray = module.globals.find(
    (each) =>
      !isUniform(each) &&
      !isVarying(each) &&
      !each.qualifiers.includes('const') &&
      !each.qualifiers.includes('out'),
  );
  if (stray)
    refuse(
      stray,
      `${stray.names[0]!.name} is a variable beside the functions; hand it to them as an argument instead.`,
    );

  const taken = new Set([...module.functions.map((each) => each.name), 'fragment', 'shaded']);
  const renames = new Map<string, string>([['texture2D', 'texture']]);
  const parameters = parametersFrom(module, taken, renames, () => false);
  const strands: Strand[] = [];
  const varyings: ImportedVarying[] = [];
  for (const global of module.globals.filter(isVarying))
    for (const each of global.names) {
      if (!programType(global.type.name) || each.isArray)
        refuse(
          each,
          `${each.name} is a ${global.type.name}${each.isArray ? '[]' : ''}, which a strand cannot hold.`,
        );
      const guess = guessOf(each.name, global.type.name);
      varyings.push({ name: each.name, type: global.type.name, guess });
      const name = freeName(each.name, taken);
      taken.add(name);
      if (name !== each.name) renames.set(each.name, name);
      strands.push({
        ...{ id: `s-${name}`, name, note: `was handed over as ${each.name}` },
        steps: [{ id: `s-${name}-1`, operator: 'value', arguments: { x: chosen[each.name] ?? guess } }],
      });
    }
  const output = outputOf(module, main);
  const discards = /\bdiscard\s*;/.test(text.slice(main.bodyAt.from, main.bodyAt.to));
  const built = [besides(text, module, main), asFunction(text, main, output)].filter(Boolean).join('\n\n');
  const renamed = renameIn(built, renames)
    .replace(/\bgl_FragCoord\b/g, 'vec4(screenUv * 512.0, 0.0, 1.0)')
    .replace(/\bgl_FrontFacing\b/g, 'frontFacing');
  const opaque = /vec4\s*\([^;]*,\s*1\.0?\s*\)\s*;/.test(text.slice(main.bodyAt.from, main.bodyAt.to));
  const strand = freeName('painted', taken);
  strands.push({
    ...{ id: 's-imported', name: strand, note: 'the imported fragment' },
    steps: [{ id: 's-imported-1', operator: 'code', arguments: {}, code: renamed }],
  });
  const notes = [
    ...(built.includes('gl_FragCoord')
      ? ['gl_FragCoord became screenUv × 512; change the 512 to the picture’s size.']
      : []),
    ...(discards ? ['discard became an opacity of 0, on a surface that is cut out.'] : []),
  ];
  const alphaMode = discards ? 'cutout' : opaque ? 'opaque' : 'blended';
  return {
    varyings,
    notes,
    document: {
      ...emptyShader(),
      parameters,
      strands,
      surface: {
        ...{ lit: false, alphaMode, sides: 'both', depthWrite: alphaMode !== 'blended' },
        outputs: {
          baseColor: `${strand}.xyz`,
          ...(alphaMode === 'cutout' ? { opacity: `step(0.0, ${strand}.w)` } : {}),
          ...(alphaMode === 'blended' ? { opacity: `${strand}.w` } : {}),
        },
      },
    },
  };
};

/**
 * Makes a shader of a GLSL fragment, ES 3.00 or 1.00: uniforms become parameters, what the vertex stage handed over
 * becomes strands, the body becomes code. What we exported ourselves comes back strand by strand.
 * @param chosen what varyings read, by name, where the author knows better than the guess
 * @returns the shader, or mistakes with their line and column; never throws
 */
export const importGlsl = (source: string, chosen: Readonly<Record<string, string>> = {}): Imported => {
  const problem = (text: string, message: string, from = 0): Imported => ({
    document: null,
    problems: [{ ...placeInText(text, from), message }],
  });
  if (source.length > LONGEST_CODE)
    return problem('', `This source has ${source.length} characters; at most ${LONGEST_CODE} are read.`);
  const odd = /[^\t\n\r\x20-\x7e]/.exec(source.replace(/\/\/[^\n]*|\/\*[\s\S]*?\*\//g, blank));
  if (odd)
    return problem(
      source,
      `“${odd[0]}” has no meaning in GLSL; names use the letters a–z, digits and _.`,
      odd.index,
    );
  let text: string;
  try {
    text = settle(source);
  } catch (error) {
    const { message, location } = error as Error & { location?: { start: TextPlace } };
    const at = location?.start ?? { line: 1, column: 1 };
    return {
      document: null,
      problems: [
        {
          line: at.line,
          column: at.column,
          message: `The lines that begin with # cannot be read: ${message.split('\n')[0]!.replace(/^Error: /, '')}`,
        },
      ],
    };
  }
  const { module, mistake } = parseModule(text);
  if (!module) return problem(text, mistake.message, mistake.from);
  try {
    const made = importModule(text, module, chosen);
    for (const strand of made.document.strands)
      for (const step of strand.steps) {
        if (step.code === undefined) continue;
        const { mistake: wrong } = analyseModule(step.code);
        if (!wrong) continue;
        // The place in the author's own source is where the same line stands there.
        const line = step.code.split('\n')[placeInText(step.code, wrong.from).line - 1]!.trim();
        return problem(source, wrong.message, Math.max(0, source.indexOf(line)));
      }
    return { ...made, problems: [] };
  } catch (error) {
    if (error instanceof ImportRefusal) return problem(text, error.message, error.at.from);
    throw error;
  }
};
