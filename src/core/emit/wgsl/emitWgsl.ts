import { isSampler } from '../../program/types.ts';
import { readsTexture } from '../../program/primitives.ts';
import { INPUTS, type InputName } from '../../program/inputs.ts';
import {
  declaredIn,
  functionsOf,
  reachable,
  shadingOf,
  writtenBy,
  type Program,
  type ProgramFunction,
  type Stage,
  type Value,
} from '../../program/value.ts';
import { packLifetime } from '../glsl/packLifetime.ts';
import { movedNormal, type MeshWords } from '../source/movedNormal.ts';
import { nameFunctions } from '../source/statements.ts';
import { joined, writeStage } from '../source/writeStage.ts';
import { writeSurface, type PixelEnds } from '../source/writeSurface.ts';
import { FRAGMENT_READS, GIVEN_FIELDS, VARYINGS, VERTEX_READS, type GivenField } from './inputReads.ts';
import { LIGHTING } from './lighting.ts';
import { WGSL_LOCALS, WGSL_TOP_NAMES } from '../../language/names/wgslNames.ts';
import { createWgsl, samplerName, WGSL_TYPES } from './spell.ts';

export interface WgslOptions {
  readonly title: string;
  readonly notes?: ReadonlyMap<string, string>;
}

export type WgslSource =
  { readonly code: string; readonly refused?: undefined } | { readonly code: null; readonly refused: string };

const meshOf = (hasInstances: boolean): string => `struct Mesh {
  @location(0) position: vec3f,
  @location(1) normal: vec3f,
  @location(2) uv: vec2f,
  @location(3) uv2: vec2f,
  @location(4) tangent: vec4f,
  @location(5) color: vec4f,
  @location(6) stretch: vec2f,${hasInstances ? '\n  @location(7) instance: vec3f,' : ''}
}`;
const INSTANCE: readonly InputName[] = ['instanceAge', 'instanceOrder', 'instanceSeed'];

/** Textures and their samplers stand at the top of the module under their own names. */
const mapNames = ({ parameters }: Program): string[] =>
  parameters.filter((each) => isSampler(each.type)).flatMap(({ name }) => [name, samplerName(name)]);

/** The author's parameters in one uniform block; booleans as whole numbers, those of a lifetime packed. */
const parameterBlock = (program: Program): string[] => {
  const lifetime = packLifetime(program.parameters);
  const plain = program.parameters.filter((each) => !isSampler(each.type) && !lifetime.reads.has(each.name));
  if (!plain.length && !lifetime.slots) return [];
  return [
    'struct Parameters {',
    ...plain.map((each) => `  ${each.name}: ${each.type === 'bool' ? 'u32' : WGSL_TYPES[each.type]},`),
    ...(lifetime.slots ? [`  lifetime: array<vec4f, ${lifetime.slots}>,`] : []),
    '}',
    '@group(0) @binding(1) var<uniform> parameters: Parameters;',
  ];
};

/** True where a function reads a texture: the stages do so in ways of their own. */
const samples = (fn: ProgramFunction): boolean =>
  reachable([fn.result]).some((value) => readsTexture(value.op) || (value.fn !== null && samples(value.fn)));

/** Numbers that WGSL cannot write are read from the bits of variables, which no compiler computes beforehand. */
const PRIVATE = ['var<private> nanBits: u32 = 0x7fc00000u;', 'var<private> infinityBits: u32 = 0x7f800000u;'];
const isUnwritten = ({ op, payload }: Value): boolean =>
  op === 'constant' && !(payload as readonly number[]).every(Number.isFinite);
const SCREEN_OF = 'fn screenOf(clip: vec4f) -> vec2f { return clip.xy / max(clip.w, 1e-4) * 0.5 + 0.5; }';

const MATRICES: readonly GivenField[] = ['modelMatrix', 'viewMatrix', 'projectionMatrix', 'normalMatrix'];
const LIT_READS: readonly InputName[] = ['normal', 'position', 'viewDirection'];
/** What is turned towards the camera on back faces, or tells of them. */
const FACED: readonly InputName[] = ['normal', 'tangent', 'bitangent', 'frontFacing'];

const ENDS: PixelEnds = {
  discardWhere: (condition) => `if (${condition}) { discard; }`,
  give: (color, alpha) => `return vec4f(${color}, ${alpha});`,
};

const WORDS: MeshWords = {
  ...{ position: 'mesh.position', normal: 'mesh.normal', uv: 'mesh.uv', tangent: 'mesh.tangent' },
  ...{ stretch: 'mesh.stretch', vec2: 'vec2f', out: 'out.normal' },
  turned: (way) => `(given.modelMatrix * vec4f(${way}, 0.0)).xyz`,
  moved: (at, uv) => `moved(${at}, ${uv}, mesh)`,
  declare: (name, text) => `let ${name} = ${text};`,
};

/** How parameters and textures are read: a sampler is two names, a boolean a whole number. */
const outsideOf = (program: Program): ((value: Value) => string | null) => {
  const lifetime = packLifetime(program.parameters);
  return (value) => {
    const name = value.payload as string;
    if (value.op !== 'parameter' && !(value.op === 'input' && isSampler(value.type))) return null;
    if (isSampler(value.type)) return `${name}, ${samplerName(name)}`;
    const packed = lifetime.reads.get(name);
    if (packed) return `parameters.${packed}`;
    return value.type === 'bool' ? `(parameters.${name} != 0u)` : `parameters.${name}`;
  };
};

/** Every texture the module samples, with its type. */
const texturesOf = (
  program: Program,
  values: readonly Value[],
  needsDistance: boolean,
): ReadonlyMap<string, string> => {
  const given = values.filter(({ op, type }) => op === 'input' && isSampler(type));
  return new Map(
    [
      ...program.parameters.map(({ name, type }) => [name, type] as const),
      ...given.map(({ payload, type }) => [payload as string, type] as const),
      ...(needsDistance ? [['surfaceDistanceMap', 'sampler3D'] as const] : []),
    ].flatMap(([name, type]): [string, string][] => (isSampler(type) ? [[name, WGSL_TYPES[type]]] : [])),
  );
};

/**
 * Writes a program as one WGSL module with a vertexMain and a fragmentMain. Block 0 is what whoever draws gives, 1 the
 * parameters, 2 the lights of a lit surface; textures and their samplers follow in pairs.
 */
export const emitWgsl = (program: Program, options: WgslOptions): WgslSource => {
  const shading = shadingOf(program);
  const { lit } = shading;
  const all = reachable([...writtenBy(program, 'vertex'), ...writtenBy(program, 'fragment')]);
  const used = functionsOf(all);
  const opaque = used.find((fn) => fn.opaque);
  if (opaque)
    return { code: null, refused: `${opaque.name} can be written only as GLSL: ${opaque.opaque!.why}.` };
  const kept = [...WGSL_TOP_NAMES, ...WGSL_LOCALS, ...Object.keys(INPUTS), ...mapNames(program)];
  // Both stages share one module, so their functions are named together; those that sample differ between them.
  const functions = nameFunctions(used, new Set([...createWgsl('fragment').reserved, ...kept]));
  const vertexNames = new Map(
    [...functions].map(([fn, name]) => [fn, samples(fn) ? `${name}InVertex` : name]),
  );
  const outside = outsideOf(program);
  const write = (stage: Stage, names: ReadonlyMap<ProgramFunction, string>) =>
    writeStage(createWgsl(stage), {
      ...{ roots: writtenBy(program, stage), outside, functions: names, notes: options.notes },
      taps: stage === 'fragment' ? program.taps : [],
      reads: stage === 'fragment' ? FRAGMENT_READS : VERTEX_READS,
      alsoRead: stage === 'fragment' && lit ? LIT_READS : [],
      kept: [...kept, ...names.values()],
    });
  const fragment = write('fragment', functions);
  const vertex = write('vertex', vertexNames);
  const [offset] = writtenBy(program, 'vertex');

  const varyings = VARYINGS.filter(([name]) => fragment.inputs.includes(name));
  const facing = fragment.inputs.some((name) => FACED.includes(name));
  const followed = offset !== undefined && fragment.inputs.includes('normal');
  const vertexBody = [
    'var out: Varying;',
    'var placed = given.modelMatrix * vec4f(mesh.position, 1.0);',
    ...(offset
      ? [
          'let offset = moved(mesh.position, mesh.uv, mesh);',
          'placed = vec4f(placed.xyz + offset, placed.w);',
        ]
      : []),
    ...varyings
      .filter(([name]) => !(followed && name === 'normal'))
      .map(([name, , text]) => `out.${name} = ${text};`),
    ...(followed ? movedNormal(WORDS, vertex.inputs.includes('uv')) : []),
    'out.clip = given.projectionMatrix * given.viewMatrix * placed;',
    'return out;',
  ];
  const moved = offset
    ? [
        'fn moved(at: vec3f, uv: vec2f, mesh: Mesh) -> vec3f {',
        ...vertex.lines.map((line) => `  ${line.text}`),
        `  return ${vertex.text(offset)};`,
        '}',
        '',
      ]
    : [];
  const surface = writeSurface(
    ...([createWgsl('fragment'), ENDS, declaredIn(program, 'fragment'), program.outputs] as const),
    ...([shading, fragment.text, fragment.locals] as const),
  );
  const fields = new Set<string>([...MATRICES, ...fragment.from, ...vertex.from]);
  const needsDistance = [...fragment.inputs, ...vertex.inputs].includes('surfaceDistance');
  const computed = [...all, ...used.flatMap((fn) => reachable([fn.result]))];
  const code = [
    'diagnostic(off, derivative_uniformity);',
    '',
    `// ${options.title}`,
    'struct Given {',
    ...(Object.keys(GIVEN_FIELDS) as GivenField[])
      .filter((name) => fields.has(name))
      .map((name) => `  ${name}: ${GIVEN_FIELDS[name]},`),
    '}',
    '@group(0) @binding(0) var<uniform> given: Given;',
    ...parameterBlock(program),
    ...[...texturesOf(program, all, needsDistance)].flatMap(([name, type], i) => [
      `@group(0) @binding(${3 + 2 * i}) var ${name}: ${type};`,
      `@group(0) @binding(${4 + 2 * i}) var ${samplerName(name)}: sampler;`,
    ]),
    '',
    meshOf([...fragment.inputs, ...vertex.inputs].some((name) => INSTANCE.includes(name))),
    '',
    'struct Varying {',
    '  @builtin(position) clip: vec4f,',
    ...varyings.map(([name, type], i) => `  @location(${i}) ${name}: ${type},`),
    '}',
    '',
    ...(computed.some(isUnwritten) ? [...PRIVATE, ''] : []),
    ...(vertex.callsScreenOf || fragment.callsScreenOf ? [SCREEN_OF, ''] : []),
    ...(lit ? [LIGHTING, ''] : []),
    ...definedOnce([joined(vertex.functions), joined(fragment.functions)]),
    ...moved,
    '@vertex',
    'fn vertexMain(mesh: Mesh) -> Varying {',
    ...vertexBody.map((line) => `  ${line}`),
    '}',
    '',
    '@fragment',
    `fn fragmentMain(carried: Varying${facing ? ', @builtin(front_facing) frontFacing: bool' : ''}) -> @location(0) vec4f {`,
    ...[...fragment.lines.map((line) => line.text), ...surface].map((line) => `  ${line}`),
    '}',
    '',
  ].join('\n');
  return { code, refused: undefined };
};

/** Functions of both stages, those that are alike once. */
const definedOnce = (stages: readonly string[]): string[] =>
  [...new Set(stages.flatMap((text) => text.split(/\n\n|\n$/).filter(Boolean)))].flatMap((text) => [
    text,
    '',
  ]);
