import type { InputName } from '../../program/inputs.ts';
import { ATTRIBUTES, VARYINGS } from '../../language/names/glslInterface.ts';
import { frameValuesOf } from '../../program/passes/rates.ts';
import { baseOf, componentsOf, type Type } from '../../program/types.ts';
import {
  functionsOf,
  reachable,
  reachableInside,
  type Program,
  type ProgramFunction,
  type Value,
} from '../../program/value.ts';
import { packSlots, readSlot, type Place } from '../../numbers/pack.ts';
import type { SurfaceSettings } from '../../document/shader.ts';
import type { Line } from '../source/dialect.ts';
import { nameFunctions, writeFunctions, writeStatements } from '../source/statements.ts';
import { FRAGMENT_READS, VERTEX_READS, withNeeds, type InputRead } from './inputReads.ts';
import { LIGHTING } from './lighting.ts';
import { packLifetime } from './packLifetime.ts';
import {
  GLSL_LOCALS,
  GLSL_TOP_NAMES,
  surfaceLocals,
  type SurfaceLocal,
} from '../../language/names/glslNames.ts';
import { GLSL } from './spell.ts';
import { movedNormal, SCREEN_OF } from './vertexStage.ts';

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
  /** The step that each line of the fragment source comes from. */
  readonly fragmentSteps: readonly (string | null)[];
  /** Where code that runs as it is written stands in the fragment source: its step, its first line and its last, from 1. */
  readonly written: readonly { readonly step: string; readonly from: number; readonly to: number }[];
  /** Present in live source: what to compute each frame, and where to put it. */
  readonly layout: LiveLayout;
  /** Names of the textures, curves and gradients that the source samples, each a `sampler2D` uniform. */
  readonly textures: readonly string[];
  /** Names of the uniforms that are not the author's, and of the mesh's attributes. */
  readonly builtIn: readonly string[];
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
export const VIEW_TAPS = { finished: 0, normals: -1, uv: -2, wireframe: -3 } as const;
/** The edges that are drawn over a wireframe’s dark faces. */
export const EDGES_TAP = -4;

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

const plain = (texts: readonly string[]): Line[] => texts.map((text) => ({ text, step: null }));
const indent = (lines: readonly Line[]): Line[] => lines.map((line) => ({ ...line, text: `  ${line.text}` }));
const joined = (lines: readonly Line[]): string => lines.map((line) => line.text).join('\n');

interface StageWriting {
  readonly roots: readonly Value[];
  readonly program: Program;
  readonly options: EmitOptions;
  readonly outside: ReadonlyMap<Value, string>;
  readonly reads: Readonly<Partial<Record<InputName, InputRead>>>;
  readonly alsoRead: readonly InputName[];
}

/** Writes one stage's computation: reads, strands, and what each root is called. */
const writeStage = ({ roots, program, options, outside, reads, alsoRead }: StageWriting) => {
  const wished = new Map<Value, string>();
  // A value goes by the name of the step that first made it; one met again elsewhere keeps that name.
  for (const tap of program.taps)
    if (!wished.has(tap.value) && tap.value.origin?.step === tap.step) wished.set(tap.value, tap.label);
  const read = (value: Value) =>
    outside.get(value) ?? (value.op === 'parameter' ? (value.payload as string) : null);
  // What lies behind a value that is read from outside is computed elsewhere.
  const values = reachableInside(roots, (value) => read(value) === null).filter(
    (value) => !outside.has(value),
  );
  const inputs = withNeeds(new Set([...inputsOf(values), ...alsoRead]), reads);
  const taken = new Set<string>([
    ...GLSL.reserved,
    ...GLSL_TOP_NAMES,
    ...GLSL_LOCALS,
    ...program.parameters.map((parameter) => parameter.name),
  ]);
  const functions = nameFunctions(functionsOf(values), taken);
  const { lines, textOf } = writeStatements(GLSL, roots, {
    wished,
    taken,
    functions,
    outside: read,
    heading: (strand) => {
      const note = options.notes?.get(strand);
      return note ? `${strand}: ${note}` : strand;
    },
  });
  return {
    inputs,
    lines: [...plain(inputs.flatMap((name) => reads[name]?.line ?? [])), ...lines],
    functions: functionLines(values, functions),
    uniforms: inputs.flatMap((name) => reads[name]?.uniforms ?? []),
    text: textOf,
    locals: surfaceLocals(taken),
    /** Everything the roots depend on, read from outside or not. */
    reached: reachable(roots),
  };
};

/** Each function's lines, linked to the step that first calls it; definitions belong to none. */
const functionLines = (values: readonly Value[], names: ReadonlyMap<ProgramFunction, string>): Line[] => {
  const steps = new Map<ProgramFunction, string | null>();
  const visit = (fn: ProgramFunction, step: string | null) => {
    if (steps.has(fn)) return;
    steps.set(fn, step);
    for (const inner of functionsOf([fn.result])) visit(inner, step);
  };
  for (const value of values) if (value.fn) visit(value.fn, value.origin?.step ?? null);
  const used = functionsOf(values);
  const texts = writeFunctions(GLSL, values, names);
  const defined = texts.length - used.length;
  return texts.flatMap((text, i) => {
    const step = i < defined ? null : (steps.get(used[i - defined]!) ?? null);
    return [...text.split('\n').map((line) => ({ text: line, step })), { text: '', step: null }];
  });
};

/** The parameters that a stage reads, as uniforms; those of a lifetime are packed. */
const parameterLines = (
  program: Program,
  values: readonly Value[],
  live: boolean,
  layout: LiveLayout,
  lifetime: ReturnType<typeof packLifetime>,
): string[] => {
  const read = new Set(values.filter((value) => value.op === 'parameter').map((value) => value.payload));
  const declared = program.parameters.filter(
    (parameter) =>
      read.has(parameter.name) &&
      (live ? parameter.type === 'sampler2D' : !lifetime.reads.has(parameter.name)),
  );
  const packed =
    !live && program.parameters.some((each) => read.has(each.name) && lifetime.reads.has(each.name));
  return [
    ...declared.map((parameter) => `uniform ${parameter.type} ${parameter.name};`),
    ...(packed ? [`uniform vec4 lifetime[${lifetime.slots}];`] : []),
    ...(live && layout.floats ? [`uniform vec4 live[${layout.floats}];`] : []),
    ...(live && layout.ints ? [`uniform ivec4 liveInt[${layout.ints}];`] : []),
  ];
};

const uniform = (declarations: Iterable<string>): string[] =>
  [...new Set(declarations)].map((declaration) => `uniform ${declaration};`);

const HEADER = [
  '#version 300 es',
  'precision highp float;',
  'precision highp int;',
  'precision highp sampler2D;',
];

const SETTINGS: readonly InputName[] = ['normal', 'position', 'viewDirection'];

/** The surface's outputs, lit or not, as the last lines of the fragment. */
const surfaceLines = (
  outputs: Readonly<Record<string, Value>>,
  surface: SurfaceSettings,
  text: (value: Value) => string,
  own: Readonly<Record<SurfaceLocal, string>>,
): string[] => {
  const output = (name: SurfaceLocal, type: string, fallback: string) => {
    const value = outputs[name];
    return `${type} ${own[name]} = ${value ? text(value) : fallback};`;
  };
  const { alphaMode, lit } = surface;
  const normal = outputs['normal'];
  const shaded = normal ? text(normal) : 'normal';
  return [
    '// surface',
    output('baseColor', 'vec3', 'vec3(0.5)'),
    ...(alphaMode === 'opaque' ? [] : [output('opacity', 'float', '1.0')]),
    output('emission', 'vec3', 'vec3(0.0)'),
    ...(alphaMode === 'cutout' ? [`if (${own.opacity} < 0.5) discard;`] : []),
    ...(lit
      ? [
          output('metallic', 'float', '0.0'),
          output('roughness', 'float', '0.8'),
          output('occlusion', 'float', '1.0'),
          `vec3 ${own.color} = lightSurface(${own.baseColor}, ${own.metallic}, ${own.roughness}, ${own.occlusion}, ${shaded}, viewDirection, position) + ${own.emission};`,
        ]
      : [`vec3 ${own.color} = ${own.baseColor} + ${own.emission};`]),
    `fragColor = vec4(${own.color}, ${alphaMode === 'blended' || alphaMode === 'added' ? own.opacity : '1.0'});`,
  ];
};

/**
 * Writes a program as GLSL ES 3.00, with the author's names, in the author's order.
 *
 * Outputs it knows: baseColor vec3, opacity float, emission vec3, metallic, roughness and occlusion floats, normal
 * vec3 in the world, vertexOffset vec3 in metres in the world, all optional.
 */
export const emitGlsl = (program: Program, options: EmitOptions): GlslSource => {
  const live = options.purpose === 'live';
  const layout = live ? layOut(frameValuesOf(program)) : { slots: [], floats: 0, ints: 0 };
  const lifetime = packLifetime(program.parameters);
  const outside = new Map(layout.slots.map((slot) => [slot.value, readLive(slot)]));
  if (!live)
    for (const value of reachable([...Object.values(program.outputs)])) {
      const slot = value.op === 'parameter' ? lifetime.reads.get(value.payload as string) : undefined;
      if (slot) outside.set(value, slot);
    }
  const { vertexOffset, ...pixelOutputs } = program.outputs;
  const { lit } = options.surface;
  const textures = program.parameters.filter((each) => each.type === 'sampler2D').map((each) => each.name);

  const stage = writeStage({
    roots: [...(live ? program.taps.map((tap) => tap.value) : []), ...Object.values(pixelOutputs)],
    ...{ program, options, outside },
    reads: FRAGMENT_READS,
    alsoRead: [...(lit ? SETTINGS : []), ...(live ? (['uv', 'normal'] as const) : [])],
  });
  const varied = new Set(stage.inputs);
  const varyings = VARYINGS.filter(([name]) => varied.has(name));
  const parametersRead = (values: readonly Value[]) =>
    parameterLines(program, values, live, layout, lifetime);

  const tapLines = live
    ? [
        'if (tap != 0) {',
        '  vec4 shown = vec4(0.0);',
        '  switch (tap) {',
        `    case ${VIEW_TAPS.normals}: shown = vec4(normal * 0.5 + 0.5, 1.0); break;`,
        `    case ${VIEW_TAPS.uv}: shown = vec4(uv, 0.0, 1.0); break;`,
        `    case ${VIEW_TAPS.wireframe}: shown = vec4(vec3(0.03), 1.0); break;`,
        `    case ${EDGES_TAP}: shown = vec4(vec3(0.62), 1.0); break;`,
        ...program.taps.map(
          (tap, i) => `    case ${i + 1}: shown = ${asTap(tap.value.type, stage.text(tap.value))}; break;`,
        ),
        '  }',
        '  fragColor = shown;',
        '  return;',
        '}',
      ]
    : [];
  const fragmentUniforms = uniform(stage.uniforms);
  const fragment: Line[] = [
    ...plain([
      ...HEADER,
      '',
      `// ${options.title}`,
      ...varyings.map(([, declaration]) => `in ${declaration};`),
      'out vec4 fragColor;',
      '',
      ...fragmentUniforms,
      ...parametersRead(stage.reached),
      ...(live ? ['uniform int tap;'] : []),
      '',
      ...(lit ? [LIGHTING, ''] : []).flatMap((text) => text.split('\n')),
    ]),
    ...stage.functions,
    ...plain(['void main() {']),
    ...indent([
      ...stage.lines,
      ...plain([...tapLines, ...surfaceLines(pixelOutputs, options.surface, stage.text, stage.locals)]),
    ]),
    ...plain(['}', '']),
  ];

  const moving = vertexOffset
    ? writeStage({
        roots: [vertexOffset],
        program: { ...program, taps: [] },
        ...{ options, outside, reads: VERTEX_READS, alsoRead: [] },
      })
    : null;
  const followsNormal = moving !== null && varied.has('normal');
  const body = [
    'vec4 placed = modelMatrix * vec4(a_position, 1.0);',
    ...(moving ? ['vec3 offset = moved(a_position, a_uv);', 'placed.xyz += offset;'] : []),
    ...varyings.filter(([name]) => !(followsNormal && name === 'normal')).map(([, , write]) => write),
    ...(followsNormal ? movedNormal(moving.inputs.includes('uv')) : []),
    'gl_Position = projectionMatrix * viewMatrix * placed;',
    ...(live ? ['if (picture == 1) gl_Position = vec4(a_uv * 2.0 - 1.0, 0.0, 1.0);'] : []),
  ];
  const movedLines = moving
    ? [
        'vec3 moved(vec3 at, vec2 uv) {',
        ...moving.lines.map((line) => `  ${line.text}`),
        `  return ${moving.text(vertexOffset!)};`,
        '}',
        '',
      ]
    : [];
  const code = [...movedLines, ...body].join('\n');
  const attributes = ATTRIBUTES.filter((each) => code.includes(each.split(' ')[1]!));
  const vertex = [
    ...HEADER,
    '',
    `// ${options.title}`,
    ...attributes.map((each) => `in ${each};`),
    ...varyings.map(([, declaration]) => `out ${declaration};`),
    '',
    ...uniform(['mat4 modelMatrix', 'mat4 viewMatrix', 'mat4 projectionMatrix', ...(moving?.uniforms ?? [])]),
    ...parametersRead(moving?.reached ?? []),
    ...(live ? ['// 1 lays the mesh out by its uv, for pictures of a step.', 'uniform int picture;'] : []),
    '',
    ...(code.includes('screenOf(') ? [SCREEN_OF, ''] : []),
    ...(moving?.functions ?? []).map((line) => line.text),
    ...movedLines,
    'void main() {',
    ...body.map((line) => `  ${line}`),
    '}',
    '',
  ].join('\n');
  const source = joined(fragment);
  return {
    vertex,
    fragment: source,
    fragmentSteps: fragment.map((line) => line.step),
    written: writtenIn(source, stage.reached),
    layout,
    textures,
    builtIn: builtInNames([vertex, source], program, attributes),
  };
};

/** Finds the lines of opaque code in source, by its first line and how many follow. */
const writtenIn = (source: string, values: readonly Value[]): GlslSource['written'] =>
  values
    .filter((value) => value.fn?.opaque && value.origin)
    .flatMap((value) => {
      const text = value.fn!.opaque!.source;
      // Names may have been changed to keep them from clashing, so lines are counted from where its body is.
      const tail = text.split('\n').findLast((line) => line.trim().length > 1) ?? text;
      const at = source.indexOf(text) >= 0 ? source.indexOf(text) : source.indexOf(tail);
      if (at < 0) return [];
      const lines = text.split('\n').length;
      const first = source.slice(0, at).split('\n').length;
      const from = source.indexOf(text) >= 0 ? first : first - lines + 1;
      return [{ step: value.origin!.step, from, to: from + lines - 1 }];
    });

const builtInNames = (
  sources: readonly string[],
  program: Program,
  attributes: readonly string[],
): string[] => {
  const own = new Set(program.parameters.map((each) => each.name));
  const uniforms = sources.flatMap((source) =>
    [...source.matchAll(/^uniform (?:highp )?(\w+) (\w+)/gm)].map((each) => each[2]!),
  );
  const names = [...uniforms, ...attributes.map((each) => each.split(' ')[1]!)];
  return [...new Set(names)].filter((name) => !own.has(name)).sort();
};
