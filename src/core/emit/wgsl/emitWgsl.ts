import type { SurfaceSettings } from '../../document/shader.ts';
import { readsTexture } from '../../program/primitives.ts';
import { INPUTS, type InputName } from '../../program/inputs.ts';
import {
  functionsOf,
  reachable,
  type Program,
  type ProgramFunction,
  type Value,
} from '../../program/value.ts';
import { packLifetime } from '../glsl/packLifetime.ts';
import { nameFunctions, writeFunctions, writeStatements } from '../source/statements.ts';
import {
  FRAGMENT_READS,
  GIVEN_FIELDS,
  VARYINGS,
  VERTEX_READS,
  type GivenField,
  type WgslRead,
} from './inputReads.ts';
import { LIGHTING } from './lighting.ts';
import { surfaceLocals, type SurfaceLocal } from '../../language/names/glslNames.ts';
import { WGSL_LOCALS, WGSL_TOP_NAMES } from '../../language/names/wgslNames.ts';
import { createWgsl, samplerName, WGSL_TYPES } from './spell.ts';

export interface WgslOptions {
  readonly surface: SurfaceSettings;
  readonly title: string;
  readonly notes?: ReadonlyMap<string, string>;
}

export type WgslSource =
  { readonly code: string; readonly refused?: undefined } | { readonly code: null; readonly refused: string };

const STEP = '0.002';

const MESH = `struct Mesh {
  @location(0) position: vec3f,
  @location(1) normal: vec3f,
  @location(2) uv: vec2f,
  @location(3) uv2: vec2f,
  @location(4) tangent: vec4f,
  @location(5) color: vec4f,
  @location(6) stretch: vec2f,
}`;

type Reads = Readonly<Partial<Record<InputName, WgslRead>>>;

const withNeeds = (names: Iterable<InputName>, reads: Reads): InputName[] => {
  const found = new Set<InputName>();
  const visit = (name: InputName) => {
    for (const need of reads[name]?.needs ?? []) visit(need);
    found.add(name);
  };
  for (const name of names) visit(name);
  return [...found];
};

/** Textures and their samplers stand at the top of the module under their own names. */
const mapNames = ({ parameters }: Program): string[] =>
  parameters.filter((each) => each.type === 'sampler2D').flatMap(({ name }) => [name, samplerName(name)]);

/** Writes the values of one stage. A vertex and a fragment stage share one module, so functions are named together. */
const writeStage = (
  stage: 'vertex' | 'fragment',
  roots: readonly Value[],
  program: Program,
  options: WgslOptions,
  functions: ReadonlyMap<ProgramFunction, string>,
  alsoRead: readonly InputName[],
) => {
  const dialect = createWgsl(stage);
  const lifetime = packLifetime(program.parameters);
  const readParameter = (value: Value): string => {
    const name = value.payload as string;
    if (value.type === 'sampler2D') return `${name}, ${samplerName(name)}`;
    const packed = lifetime.reads.get(name);
    if (packed) return `parameters.${packed}`;
    return value.type === 'bool' ? `(parameters.${name} != 0u)` : `parameters.${name}`;
  };
  const outside = (value: Value): string | null => {
    if (value.op === 'parameter') return readParameter(value);
    if (value.op === 'input' && value.type === 'sampler2D') {
      const name = value.payload as string;
      return `${name}, ${samplerName(name)}`;
    }
    return null;
  };
  const reads: Reads = stage === 'vertex' ? VERTEX_READS : FRAGMENT_READS;
  const values = reachable(roots);
  const inputs = withNeeds(
    new Set([
      ...values
        .filter((value) => value.op === 'input' && value.type !== 'sampler2D')
        .map((value) => value.payload as InputName),
      ...alsoRead,
    ]),
    reads,
  );
  const wished = new Map<Value, string>();
  for (const tap of program.taps)
    if (!wished.has(tap.value) && tap.value.origin?.step === tap.step) wished.set(tap.value, tap.label);
  const taken = new Set([
    ...dialect.reserved,
    ...WGSL_TOP_NAMES,
    ...WGSL_LOCALS,
    ...Object.keys(INPUTS),
    ...functions.values(),
    ...mapNames(program),
  ]);
  const { lines, textOf } = writeStatements(dialect, roots, {
    wished,
    functions,
    taken,
    outside,
    heading: (strand) => {
      const note = options.notes?.get(strand);
      return note ? `${strand}: ${note}` : strand;
    },
  });
  return {
    inputs,
    values,
    fields: inputs.flatMap((name) => reads[name]?.given ?? []),
    lines: [
      ...inputs.flatMap((name) => (reads[name] ? [`let ${name} = ${reads[name]!.text};`] : [])),
      ...lines.map((line) => line.text),
    ],
    text: textOf,
    locals: surfaceLocals(taken),
  };
};

const surfaceLines = (
  outputs: Readonly<Record<string, Value>>,
  { lit, alphaMode }: SurfaceSettings,
  text: (value: Value) => string,
  own: Readonly<Record<SurfaceLocal, string>>,
): string[] => {
  const output = (name: SurfaceLocal, type: string, fallback: string) => {
    const value = outputs[name];
    return `let ${own[name]}: ${type} = ${value ? text(value) : fallback};`;
  };
  const shaded = outputs['normal'] ? text(outputs['normal']) : 'normal';
  const alpha = alphaMode === 'blended' || alphaMode === 'added' ? own.opacity : '1.0';
  return [
    '// surface',
    output('baseColor', 'vec3f', 'vec3f(0.5)'),
    ...(alphaMode === 'opaque' ? [] : [output('opacity', 'f32', '1.0')]),
    output('emission', 'vec3f', 'vec3f(0.0)'),
    ...(alphaMode === 'cutout' ? [`if (${own.opacity} < 0.5) { discard; }`] : []),
    ...(lit
      ? [
          output('metallic', 'f32', '0.0'),
          output('roughness', 'f32', '0.8'),
          output('occlusion', 'f32', '1.0'),
          `let ${own.color} = lightSurface(${own.baseColor}, ${own.metallic}, ${own.roughness}, ${own.occlusion}, ${shaded}, viewDirection, position) + ${own.emission};`,
        ]
      : [`let ${own.color} = ${own.baseColor} + ${own.emission};`]),
    `return vec4f(${own.color}, ${alpha});`,
  ];
};

/** The author's parameters in one uniform block; booleans as whole numbers, those of a lifetime packed. */
const parameterBlock = (program: Program): string[] => {
  const lifetime = packLifetime(program.parameters);
  const plain = program.parameters.filter(
    (each) => each.type !== 'sampler2D' && !lifetime.reads.has(each.name),
  );
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

const PRIVATE = 'var<private> nanBits: u32 = 0x7fc00000u;\nvar<private> infinityBits: u32 = 0x7f800000u;';
const SCREEN_OF = 'fn screenOf(clip: vec4f) -> vec2f { return clip.xy / max(clip.w, 1e-4) * 0.5 + 0.5; }';

/**
 * Writes a program as one WGSL module with a vertexMain and a fragmentMain. Block 0 is what whoever draws gives, 1 the
 * parameters, 2 the lights of a lit surface; textures and their samplers follow in pairs.
 */
export const emitWgsl = (program: Program, options: WgslOptions): WgslSource => {
  const { vertexOffset, ...pixelOutputs } = program.outputs;
  const { lit } = options.surface;
  const vertexRoots = vertexOffset ? [vertexOffset] : [];
  const all = reachable([...Object.values(program.outputs)]);
  const used = functionsOf(all);
  const opaque = used.find((fn) => fn.opaque);
  if (opaque)
    return { code: null, refused: `${opaque.name} can be written only as GLSL: ${opaque.opaque!.why}.` };
  const functions = nameFunctions(
    used,
    new Set([
      ...createWgsl('fragment').reserved,
      ...WGSL_TOP_NAMES,
      ...WGSL_LOCALS,
      ...Object.keys(INPUTS),
      ...mapNames(program),
    ]),
  );
  const fragment = writeStage('fragment', Object.values(pixelOutputs), program, options, functions, [
    ...(lit ? (['normal', 'position', 'viewDirection'] as const) : []),
  ]);
  const vertexNames = new Map(
    [...functions].map(([fn, name]) => [fn, samples(fn) ? `${name}InVertex` : name]),
  );
  const vertex = writeStage('vertex', vertexRoots, { ...program, taps: [] }, options, vertexNames, []);
  const varied = new Set(fragment.inputs);
  const varyings = VARYINGS.filter(([name]) => varied.has(name));
  const facing = fragment.inputs.some((name) =>
    ['normal', 'tangent', 'bitangent', 'frontFacing'].includes(name),
  );
  const followsNormal = !!vertexOffset && varied.has('normal');
  const fields = new Set<GivenField>([
    ...(['modelMatrix', 'viewMatrix', 'projectionMatrix', 'normalMatrix'] as const),
    ...fragment.fields,
    ...vertex.fields,
  ]);
  const maps = new Set([
    ...program.parameters.filter((each) => each.type === 'sampler2D').map((each) => each.name),
    ...all
      .filter((value) => value.op === 'input' && value.type === 'sampler2D')
      .map((value) => value.payload as string),
  ]);
  const needsDistance = [...fragment.inputs, ...vertex.inputs].includes('surfaceDistance');
  const textures = [
    ...[...maps].map((name) => [name, 'texture_2d<f32>'] as const),
    ...(needsDistance ? [['surfaceDistanceMap', 'texture_3d<f32>'] as const] : []),
  ].flatMap(([name, type], i) => [
    `@group(0) @binding(${3 + 2 * i}) var ${name}: ${type};`,
    `@group(0) @binding(${4 + 2 * i}) var ${samplerName(name)}: sampler;`,
  ]);

  const fragmentFunctions = writeFunctions(createWgsl('fragment'), fragment.values, functions);
  const vertexFunctions = writeFunctions(createWgsl('vertex'), vertex.values, vertexNames);
  const uvBeside = (step: string) => (vertex.inputs.includes('uv') ? `mesh.uv + ${step}` : 'mesh.uv');
  const moved = vertexOffset
    ? [
        'fn moved(at: vec3f, uv: vec2f, mesh: Mesh) -> vec3f {',
        ...vertex.lines.map((line) => `  ${line}`),
        `  return ${vertex.text(vertexOffset)};`,
        '}',
      ]
    : [];
  const turned = (way: string) => `(given.modelMatrix * vec4f(${way} * ${STEP}, 0.0)).xyz`;
  const vertexBody = [
    'var out: Varying;',
    'var placed = given.modelMatrix * vec4f(mesh.position, 1.0);',
    ...(vertexOffset
      ? [
          'let offset = moved(mesh.position, mesh.uv, mesh);',
          'placed = vec4f(placed.xyz + offset, placed.w);',
        ]
      : []),
    ...varyings
      .filter(([name]) => !(followsNormal && name === 'normal'))
      .map(([name, , write]) => `out.${name} = ${write};`),
    ...(followsNormal
      ? [
          'let sideways = cross(mesh.normal, mesh.tangent.xyz) * mesh.tangent.w;',
          `let alongU = ${turned('mesh.tangent.xyz')} + moved(mesh.position + mesh.tangent.xyz * ${STEP}, ${uvBeside(`vec2f(${STEP} / mesh.stretch.x, 0.0)`)}, mesh) - offset;`,
          `let alongV = ${turned('sideways')} + moved(mesh.position + sideways * ${STEP}, ${uvBeside(`vec2f(0.0, ${STEP} / mesh.stretch.y)`)}, mesh) - offset;`,
          'out.normal = normalize(cross(alongU, alongV)) * mesh.tangent.w;',
        ]
      : []),
    'out.clip = given.projectionMatrix * given.viewMatrix * placed;',
    'return out;',
  ];
  const body = [...new Set([...vertexFunctions, ...fragmentFunctions])].flatMap((text) => [text, '']);
  const main = [
    ...(lit ? [LIGHTING, ''] : []),
    ...body,
    ...(moved.length ? [...moved, ''] : []),
    '@vertex',
    'fn vertexMain(mesh: Mesh) -> Varying {',
    ...vertexBody.map((line) => `  ${line}`),
    '}',
    '',
    '@fragment',
    `fn fragmentMain(carried: Varying${facing ? ', @builtin(front_facing) frontFacing: bool' : ''}) -> @location(0) vec4f {`,
    ...[
      ...fragment.lines,
      ...surfaceLines(pixelOutputs, options.surface, fragment.text, fragment.locals),
    ].map((line) => `  ${line}`),
    '}',
    '',
  ];
  const text = main.join('\n');
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
    ...textures,
    '',
    MESH,
    '',
    'struct Varying {',
    '  @builtin(position) clip: vec4f,',
    ...varyings.map(([name, type], i) => `  @location(${i}) ${name}: ${type},`),
    '}',
    '',
    ...(/nanBits|infinityBits/.test(text) ? [PRIVATE, ''] : []),
    ...(text.includes('screenOf(') ? [SCREEN_OF, ''] : []),
    text,
  ].join('\n');
  return { code, refused: undefined };
};
