import { codeNames } from '../language/codeNames.ts';
import type { Analysed } from '../language/glsl/analyseModule.ts';
import type { FunctionSource, Global, Module } from '../language/glsl/syntax.ts';
import { emptyShader, type ShaderDocument, type Strand } from '../document/shader.ts';
import { freeName } from './freeName.ts';
import { importUniforms, type Setting } from './importUniforms.ts';
import type { InputName } from '../program/inputs.ts';
import { importVaryings, isVarying, type ImportedVarying } from './importVaryings.ts';
import { isOpaque } from './isOpaque.ts';
import { refuseImport } from './refuseImport.ts';
import { renameIn } from './renameIn.ts';

export interface ImportedShader {
  readonly document: ShaderDocument;
  readonly varyings: readonly ImportedVarying[];
  /** What was left out or changed on the way, in sentences. */
  readonly notes: readonly string[];
}

/** Functions whose open corners are decided here (docs/meaning.md). */
const DECIDED: readonly (readonly [word: string, means: string])[] = [
  ['pow', 'pow of a base below 0 is that of 0'],
  ['sqrt', 'sqrt of what is below 0 is 0'],
  ['inversesqrt', 'inversesqrt takes at least 10⁻³⁰'],
  ['log2?', 'a logarithm takes at least 2⁻¹²⁶'],
  ['a(sin|cos)', 'asin and acos take −1 to 1'],
  ['normalize', 'normalize of nothing is zero'],
];

const DISCARDED = 'vec4(0.0, 0.0, 0.0, -1.0)';
const DISCARD = /\bdiscard\s*;/g;

interface Output {
  readonly name: string;
  readonly type: string;
  /** Whether all that is written to it leaves its alpha at 1. */
  readonly opaque: boolean;
}

/** What a fragment writes its colour to: the output at location 0, the first, or GLSL ES 1.00's own. */
const outputOf = (
  text: string,
  module: Module,
): { readonly output: Output; readonly others: readonly Output[] } => {
  const outs = module.globals.filter((each) => each.qualifiers.includes('out'));
  if (!outs.length)
    return {
      output: { name: 'gl_FragColor', type: 'vec4', opaque: isOpaque(text, module, 'gl_FragColor') },
      others: [],
    };
  const first =
    outs.find((each) => /location\s*=\s*0\b/.test(text.slice(each.from, each.names[0]!.from))) ?? outs[0]!;
  if (first.type.name !== 'vec4' && first.type.name !== 'vec3')
    refuseImport(
      first,
      `The output ${first.names[0]!.name} is a ${first.type.name}; a surface's colour is a vec3 or a vec4.`,
    );
  const named = (each: Global): Output => {
    const { name } = each.names[0]!;
    return { name, type: each.type.name, opaque: each.type.name === 'vec3' || isOpaque(text, module, name) };
  };
  return { output: named(first), others: outs.filter((each) => each !== first).map(named) };
};

/** Names that each function's body mentions. */
type Mentions = ReadonlyMap<FunctionSource, ReadonlySet<string>>;
const mentionsIn = (text: string, { functions }: Module): Mentions =>
  new Map(
    functions.map((each) => [
      each,
      new Set(codeNames(text.slice(each.bodyAt.from, each.bodyAt.to)).map(({ name }) => name)),
    ]),
  );

/** Names of what is added: none that stands in the source. */
interface Added {
  readonly fragment: string;
  readonly shaded: string;
  readonly cutAway: string;
}

/** A helper's source; where it discards, it leaves a flag that main looks at in the end. */
const helperSource = (text: string, fn: FunctionSource, { cutAway }: Added): string => {
  const back = text.slice(fn.returns.from, fn.nameAt.from).trim();
  const leave = back === 'void' ? 'return;' : `${back} nothing; return nothing;`;
  return text.slice(fn.from, fn.to).replace(DISCARD, `{ ${cutAway} = true; ${leave} }`);
};

/** The body of main as a function that gives its colour back. */
const mainSource = (
  text: string,
  main: FunctionSource,
  output: Output,
  { fragment, shaded, cutAway }: Added,
  given: { readonly isLocal: boolean; readonly flagged: boolean },
): string => {
  const whole = output.type === 'vec3' ? `vec4(${shaded}, 1.0)` : shaded;
  const result = given.flagged ? `${cutAway} ? ${DISCARDED} : ${whole}` : whole;
  const body = text
    .slice(main.bodyAt.from + 1, main.bodyAt.to - 1)
    .replace(DISCARD, `return ${DISCARDED};`)
    .replace(/\breturn\s*;/g, `return ${result};`)
    .replace(/^\n+|\s+$/g, '');
  const start = given.isLocal ? `  ${startOf(output, shaded)}\n` : '';
  return `vec4 ${fragment}() {\n${start}${body}\n  return ${result};\n}`;
};
/** What stands in the output before anything is written: 0, as browsers have it; an alpha that stays out of it is 1. */
const startOf = ({ type, opaque }: Output, shaded: string): string =>
  type === 'vec3'
    ? `vec3 ${shaded} = vec3(0.0);`
    : `vec4 ${shaded} = vec4(vec3(0.0), ${opaque ? '1.0' : '0.0'});`;

/** A fragment of any making as a shader: uniforms are parameters, varyings strands, the body one step of code. */
export const importFragment = (
  { text, module, functions }: Analysed,
  main: FunctionSource,
  chosen: Readonly<Record<string, string>>,
): ImportedShader => {
  const mentions = mentionsIn(text, module);
  // What was declared ahead comes after all that it calls.
  const helpers = [...functions.keys()].filter((each) => each.name !== main.name);
  const read = new Set(module.functions.flatMap((each) => [...mentions.get(each)!]));
  for (const each of module.globals)
    if (!each.qualifiers.includes('uniform') && !isVarying(each))
      codeNames(text.slice(each.from, each.to)).forEach(({ name }) => read.add(name));
  const { output, others } = outputOf(text, module);

  const used = new Set(codeNames(text).map(({ name }) => name));
  const taken = new Set(module.functions.map((each) => each.name));
  const renames = new Map<string, string>([
    ['texture2D', 'texture'],
    ['texture2DProj', 'textureProj'],
    ['texture2DLod', 'textureLod'],
    ['texture2DLodEXT', 'textureLod'],
    ['texture2DGradEXT', 'textureGrad'],
  ]);
  const fresh = (wish: string): string => {
    const name = freeName(wish, new Set([...taken, ...used]));
    taken.add(name);
    return name;
  };
  const added: Added = { fragment: fresh('fragment'), shaded: fresh('shaded'), cutAway: fresh('cutAway') };
  renames.set(output.name, added.shaded);
  const setting: Setting = { text, module, taken, used, renames, isRead: (name) => read.has(name) };
  const uniforms = importUniforms(setting);
  const handed = importVaryings(setting, chosen);
  const renamed = Object.fromEntries(uniforms.renamed);
  const told = uniforms.renamed.map(([from, to]) => `${from} is ${to}`);
  const notes = [
    ...(told.length
      ? [
          `Uniforms that are called otherwise now, for whoever sets them: ${told.join('; ')}. The contract lists them.`,
        ]
      : []),
    ...uniforms.notes,
    ...handed.notes,
  ];
  const declared = [...uniforms.declared, ...handed.declared];
  /** What GLSL gives by itself, as what is given here; by a name of its own where the source uses that one for another. */
  const give = (name: string, type: string, input: InputName, value: string = input): void => {
    if (!read.has(name)) return;
    if (!used.has(input)) {
      renames.set(name, value);
      return;
    }
    const own = fresh(`${input}Given`);
    declared.push(`${type} ${own} = ${value};`);
    renames.set(name, own);
  };
  const across = uniforms.pictureSize ? `${uniforms.pictureSize}.xy` : '512.0';
  give('gl_FragCoord', 'vec4', 'screenUv', `vec4(screenUv * ${across}, 0.0, 1.0)`);
  give('gl_FrontFacing', 'bool', 'frontFacing');
  give('gl_PointCoord', 'vec2', 'uv');

  const written = helpers.some((each) => mentions.get(each)!.has(output.name));
  const mayDiscard = ({ bodyAt }: FunctionSource) => text.slice(bodyAt.from, bodyAt.to).search(DISCARD) >= 0;
  const flagged = helpers.some(mayDiscard);
  const discards = flagged || mayDiscard(main);
  const beside = module.globals.filter(
    (each) => !isVarying(each) && !['uniform', 'out'].some((way) => each.qualifiers.includes(way)),
  );
  const left = others.filter((each) => read.has(each.name));
  for (const { name } of left) notes.push(`${name} is a second output; what is written to it goes nowhere.`);
  if (read.has('gl_FragDepth')) {
    renames.set('gl_FragDepth', fresh('fragmentDepth'));
    notes.push('What is written to gl_FragDepth goes nowhere; a surface keeps its own depth.');
  }
  const built = [
    ...beside.map((each) => text.slice(each.from, each.to)),
    ...left.map(({ type, name }) => `${type} ${name};`),
    ...(read.has('gl_FragDepth') ? ['float gl_FragDepth;'] : []),
    ...(written ? [startOf(output, added.shaded)] : []),
    ...(flagged ? [`bool ${added.cutAway} = false;`] : []),
    ...helpers.map((each) => helperSource(text, each, added)),
    mainSource(text, main, output, added, { isLocal: !written, flagged }),
  ].join('\n\n');

  if (read.has('gl_FragCoord'))
    notes.push(
      uniforms.pictureSize
        ? `gl_FragCoord became screenUv × ${uniforms.pictureSize}.`
        : 'gl_FragCoord became screenUv × 512; change the 512 to the picture’s size.',
    );
  if (read.has('gl_PointCoord')) notes.push('gl_PointCoord became uv.');
  const { opaque } = output;
  if (discards)
    notes.push(`discard became an opacity of 0${opaque ? ', on a surface that is cut out' : ''}.`);
  const open = DECIDED.filter(([word]) => new RegExp(`\\b${word}\\s*\\(`).test(text));
  if (open.length)
    notes.push(
      `Where GLSL leaves these open, they are decided here: ${open.map(([, means]) => means).join('; ')}.`,
    );
  // A structure's fields keep their names, for they are read behind a point, where no renaming reaches.
  const ahead = [
    ...module.structs.map(
      ({ name, fieldsAt }) => `struct ${name} ${text.slice(fieldsAt.from, fieldsAt.to)};`,
    ),
    ...declared,
  ]
    .map((each) => `${each}\n\n`)
    .join('');
  const body = renameIn(built.replace(/\bgl_FragData\s*\[\s*0\s*\]/g, added.shaded), renames);
  const strand = freeName('painted', taken);
  const painted: Strand = {
    ...{ id: 's-imported', name: strand, note: 'the imported fragment' },
    steps: [{ id: 's-imported-1', operator: 'code', arguments: {}, code: ahead + body }],
  };
  const alphaMode = opaque ? (discards ? 'cutout' : 'opaque') : 'blended';
  return {
    varyings: handed.varyings,
    notes,
    document: {
      ...emptyShader(),
      ...(told.length ? { renamed } : {}),
      parameters: uniforms.parameters,
      strands: [...handed.strands, painted],
      surface: {
        ...{ lit: false, alphaMode, sides: 'both', depthWrite: alphaMode !== 'blended' },
        outputs: {
          baseColor: `${strand}.xyz`,
          ...(alphaMode === 'cutout' ? { opacity: `step(0.0, ${strand}.w)` } : {}),
          // What is discarded has an alpha of −1.
          ...(alphaMode === 'blended' ? { opacity: discards ? `max(${strand}.w, 0.0)` : `${strand}.w` } : {}),
        },
      },
    },
  };
};
