import { INPUTS, type InputName } from '../../program/inputs.ts';
import { frameValuesOf } from '../../program/passes/rates.ts';
import { baseOf, componentsOf, type Type } from '../../program/types.ts';
import { reachable, type Program, type Value } from '../../program/value.ts';
import { packSlots, readSlot, type Place } from '../../numbers/pack.ts';
import type { SurfaceSettings } from '../../document/shader.ts';
import { LIGHTING } from './lighting.ts';
import { writeFunctions, writeStatements } from './statements.ts';

/** One value that changes from frame to frame, and where its numbers go among the uniforms. */
export interface LiveSlot {
  readonly value: Value;
  /** `float` numbers go to `live`, whole numbers and booleans to `liveInt`. */
  readonly array: 'live' | 'liveInt';
  readonly place: Place;
}

export interface LiveLayout {
  readonly slots: readonly LiveSlot[];
  /** Four-number slots in each array. */
  readonly floats: number;
  readonly ints: number;
}

export interface GlslSource {
  readonly vertex: string;
  readonly fragment: string;
  /** Present in live source: what to compute each frame, and where to put it. */
  readonly layout: LiveLayout;
  /** Names of the textures that the source samples, each a `sampler2D` uniform. */
  readonly textures: readonly string[];
}

export interface EmitOptions {
  /** `live` reads packed uniforms and can show any tap; `handover` is the source a game takes. */
  readonly purpose: 'live' | 'handover';
  readonly surface: SurfaceSettings;
  readonly title: string;
  /** A line on what each strand is for. */
  readonly notes?: ReadonlyMap<string, string>;
}

/** Views of the surface that need no step: the numbers the tap switch knows them by. */
export const VIEW_TAPS = { finished: 0, normals: -1, uv: -2 } as const;

const VERTEX_READS: Readonly<Partial<Record<InputName, string>>> = {
  uv: 'vec2 uv = a_uv;',
  objectPosition: 'vec3 objectPosition = a_position;',
  position: 'vec3 position = (modelMatrix * vec4(a_position, 1.0)).xyz;',
  normal: 'vec3 normal = normalize(mat3(transpose(inverse(modelMatrix))) * a_normal);',
  viewDirection:
    'vec3 viewDirection = normalize(cameraPosition - (modelMatrix * vec4(a_position, 1.0)).xyz);',
};

const FRAGMENT_READS: Readonly<Partial<Record<InputName, string>>> = {
  uv: 'vec2 uv = v_uv;',
  objectPosition: 'vec3 objectPosition = v_objectPosition;',
  position: 'vec3 position = v_position;',
  normal: 'vec3 normal = normalize(gl_FrontFacing ? v_normal : -v_normal);',
  viewDirection: 'vec3 viewDirection = normalize(cameraPosition - v_position);',
};

const inputsOf = (values: readonly Value[]): Set<InputName> =>
  new Set(values.filter((value) => value.op === 'input').map((value) => value.payload as InputName));

const layOut = (values: readonly Value[]): LiveLayout => {
  // A mat3 is three columns; nothing authored makes one live today, so it is left to the pixel.
  const usable = values.filter((value) => componentsOf(value.type) <= 4);
  const isFloat = (value: Value) => baseOf(value.type) === 'float';
  const pack = (array: LiveSlot['array'], list: readonly Value[]) => {
    const { places, slots } = packSlots(list.map((value) => componentsOf(value.type)));
    return { slots, list: list.map((value, i) => ({ value, array, place: places[i]! })) };
  };
  const floats = pack('live', usable.filter(isFloat));
  const ints = pack(
    'liveInt',
    usable.filter((value) => !isFloat(value)),
  );
  // The first slot stays empty: a NaN at the head of a flat array is taken for something else on its way to WebGL.
  const moved = floats.list.map((slot) => ({
    ...slot,
    place: { ...slot.place, slot: slot.place.slot + 1 },
  }));
  return { slots: [...moved, ...ints.list], floats: floats.slots && floats.slots + 1, ints: ints.slots };
};

const readLive = (slot: LiveSlot): string => {
  const text = readSlot(slot.array, slot.place);
  return slot.value.type === 'uint' || slot.value.type === 'bool' ? `${slot.value.type}(${text})` : text;
};

/** A value as the four numbers a tap shows. */
const asTap = (type: Type, text: string): string => {
  switch (type) {
    case 'float':
      return `vec4(vec3(${text}), 1.0)`;
    case 'vec2':
      return `vec4(${text}, 0.0, 1.0)`;
    case 'vec3':
      return `vec4(${text}, 1.0)`;
    case 'vec4':
      return text;
    default:
      return `vec4(vec3(float(${text})), 1.0)`;
  }
};

const indent = (lines: readonly string[]): string[] => lines.map((line) => `  ${line}`);

/** Writes one stage's computation: reads, strands, and what each root is called. */
const writeStage = (
  roots: readonly Value[],
  program: Program,
  options: EmitOptions,
  outside: ReadonlyMap<Value, string>,
  reads: Readonly<Partial<Record<InputName, string>>>,
  alsoRead: readonly InputName[],
) => {
  const wished = new Map<Value, string>();
  // A value goes by the name of the step that first made it; one met again elsewhere keeps that name.
  for (const tap of program.taps)
    if (!wished.has(tap.value) && tap.value.origin?.step === tap.step) wished.set(tap.value, tap.label);
  const values = reachable(roots).filter((value) => !outside.has(value));
  const inputs = inputsOf(values);
  for (const name of alsoRead) inputs.add(name);
  const taken = new Set<string>([
    ...Object.keys(INPUTS),
    ...program.parameters.map((parameter) => parameter.name),
    ...['baseColor', 'opacity', 'emission', 'metallic', 'roughness', 'occlusion', 'tap', 'shown', 'live'],
    ...['liveInt', 'fragColor', 'picture', 'color', 'placed', 'vertexOffset', 'i'],
  ]);
  const { lines, spelled } = writeStatements(roots, {
    wished,
    taken,
    outside: (value) => outside.get(value) ?? (value.op === 'parameter' ? (value.payload as string) : null),
    heading: (strand) => {
      const note = options.notes?.get(strand);
      return note ? `${strand}: ${note}` : strand;
    },
  });
  const readLines = [...inputs].flatMap((name) => reads[name] ?? []);
  return {
    inputs,
    lines: [...readLines, ...lines],
    functions: writeFunctions(values),
    text: (value: Value) => spelled.get(value)!.text,
    values,
  };
};

const uniformLines = (
  program: Program,
  values: readonly Value[],
  live: boolean,
  layout: LiveLayout,
): string[] => {
  const read = new Set(values.filter((value) => value.op === 'parameter').map((value) => value.payload));
  const declared = program.parameters.filter(
    (parameter) => read.has(parameter.name) && (!live || parameter.type === 'sampler2D'),
  );
  return [
    ...declared.map((parameter) => `uniform ${parameter.type} ${parameter.name};`),
    ...(live && layout.floats ? [`uniform vec4 live[${layout.floats}];`] : []),
    ...(live && layout.ints ? [`uniform ivec4 liveInt[${layout.ints}];`] : []),
  ];
};

/** What the fragment stage needs from the vertex stage. */
const VARYINGS: readonly (readonly [InputName, string, string])[] = [
  ['uv', 'vec2 v_uv', 'v_uv = a_uv;'],
  ['objectPosition', 'vec3 v_objectPosition', 'v_objectPosition = a_position;'],
  ['position', 'vec3 v_position', 'v_position = placed.xyz;'],
  ['normal', 'vec3 v_normal', 'v_normal = mat3(transpose(inverse(modelMatrix))) * a_normal;'],
];

const HEADER = ['#version 300 es', 'precision highp float;', 'precision highp int;'];

/**
 * Writes a program as GLSL ES 3.00, with the author's names, in the author's order.
 *
 * Outputs it knows: baseColor vec3, opacity float, emission vec3, metallic, roughness and occlusion floats,
 * vertexOffset vec3 in metres in the world, all optional.
 */
export const emitGlsl = (program: Program, options: EmitOptions): GlslSource => {
  const live = options.purpose === 'live';
  const layout = live ? layOut(frameValuesOf(program)) : { slots: [], floats: 0, ints: 0 };
  const outside = new Map(layout.slots.map((slot) => [slot.value, readLive(slot)]));
  const { vertexOffset, ...pixelOutputs } = program.outputs;
  const lit = options.surface.lit;
  const textures = program.parameters.filter((each) => each.type === 'sampler2D').map((each) => each.name);

  const taps = live ? program.taps.map((tap) => tap.value) : [];
  const alsoRead: InputName[] = [
    ...(lit ? (['normal', 'position', 'viewDirection'] as const) : []),
    ...(live ? (['uv', 'normal'] as const) : []),
  ];
  const stage = writeStage(
    [...taps, ...Object.values(pixelOutputs)],
    program,
    options,
    outside,
    FRAGMENT_READS,
    alsoRead,
  );
  const needsCamera = stage.inputs.has('viewDirection') || stage.inputs.has('cameraPosition');
  const varied = new Set(stage.inputs);
  if (varied.has('viewDirection')) varied.add('position');
  const varyings = VARYINGS.filter(([name]) => varied.has(name));

  const output = (name: string, type: string, fallback: string) => {
    const value = pixelOutputs[name];
    return `${type} ${name} = ${value ? stage.text(value) : fallback};`;
  };
  const opaque = options.surface.alphaMode === 'opaque';
  const finish = [
    '// surface',
    output('baseColor', 'vec3', 'vec3(0.5)'),
    ...(opaque ? [] : [output('opacity', 'float', '1.0')]),
    output('emission', 'vec3', 'vec3(0.0)'),
    ...(options.surface.alphaMode === 'cutout' ? ['if (opacity < 0.5) discard;'] : []),
    ...(lit
      ? [
          output('metallic', 'float', '0.0'),
          output('roughness', 'float', '0.8'),
          output('occlusion', 'float', '1.0'),
          'vec3 color = lightSurface(baseColor, metallic, roughness, occlusion, normal, viewDirection, position) + emission;',
        ]
      : ['vec3 color = baseColor + emission;']),
    `fragColor = vec4(color, ${options.surface.alphaMode === 'blended' || options.surface.alphaMode === 'added' ? 'opacity' : '1.0'});`,
  ];
  const tapLines = live
    ? [
        'if (tap != 0) {',
        '  vec4 shown = vec4(0.0);',
        '  switch (tap) {',
        `    case ${VIEW_TAPS.normals}: shown = vec4(normal * 0.5 + 0.5, 1.0); break;`,
        `    case ${VIEW_TAPS.uv}: shown = vec4(uv, 0.0, 1.0); break;`,
        ...program.taps.map(
          (tap, i) => `    case ${i + 1}: shown = ${asTap(tap.value.type, stage.text(tap.value))}; break;`,
        ),
        '  }',
        '  fragColor = shown;',
        '  return;',
        '}',
      ]
    : [];

  const fragment = [
    ...HEADER,
    '',
    `// ${options.title}`,
    ...varyings.map(([, declaration]) => `in ${declaration};`),
    'out vec4 fragColor;',
    '',
    ...(needsCamera ? ['uniform vec3 cameraPosition;'] : []),
    ...(stage.inputs.has('time') ? ['uniform float time;'] : []),
    ...uniformLines(program, stage.values, live, layout),
    ...(live ? ['uniform int tap;'] : []),
    '',
    ...(lit ? [LIGHTING, ''] : []),
    ...stage.functions.flatMap((text) => [text, '']),
    'void main() {',
    ...indent([...stage.lines, ...tapLines, ...finish]),
    '}',
    '',
  ].join('\n');

  const vertexStage = writeStage(
    vertexOffset ? [vertexOffset] : [],
    { ...program, taps: [] },
    options,
    outside,
    VERTEX_READS,
    [],
  );
  const vertexCamera = vertexStage.inputs.has('viewDirection') || vertexStage.inputs.has('cameraPosition');
  const vertex = [
    ...HEADER,
    '',
    `// ${options.title}`,
    'in vec3 a_position;',
    'in vec3 a_normal;',
    'in vec2 a_uv;',
    ...varyings.map(([, declaration]) => `out ${declaration};`),
    '',
    'uniform mat4 modelMatrix;',
    'uniform mat4 viewMatrix;',
    'uniform mat4 projectionMatrix;',
    ...(vertexCamera ? ['uniform vec3 cameraPosition;'] : []),
    ...(vertexStage.inputs.has('time') ? ['uniform float time;'] : []),
    ...uniformLines(program, vertexStage.values, live, layout),
    ...(live ? ['// 1 lays the mesh out by its uv, for pictures of a step.', 'uniform int picture;'] : []),
    '',
    ...vertexStage.functions.flatMap((text) => [text, '']),
    'void main() {',
    ...indent([
      ...vertexStage.lines,
      'vec4 placed = modelMatrix * vec4(a_position, 1.0);',
      ...(vertexOffset ? [`placed.xyz += ${vertexStage.text(vertexOffset)};`] : []),
      ...varyings.map(([, , write]) => write),
      'gl_Position = projectionMatrix * viewMatrix * placed;',
      ...(live ? ['if (picture == 1) gl_Position = vec4(a_uv * 2.0 - 1.0, 0.0, 1.0);'] : []),
    ]),
    '}',
    '',
  ].join('\n');
  return { vertex, fragment, layout, textures };
};
