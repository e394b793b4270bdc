import { VARYINGS, type Varying } from '../../language/names/glslInterface.ts';
import { GLSL_LOCALS, GLSL_TOP_NAMES } from '../../language/names/glslNames.ts';
import type { InputName } from '../../program/inputs.ts';
import type { Type } from '../../program/types.ts';
import {
  declaredIn,
  reachable,
  shadingOf,
  writtenBy,
  type Program,
  type Value,
} from '../../program/value.ts';
import type { Line } from '../source/dialect.ts';
import { indent, plainLines, writeStage } from '../source/writeStage.ts';
import { writeSurface, type PixelEnds } from '../source/writeSurface.ts';
import type { EmitOptions } from './options.ts';
import { HEADER } from './header.ts';
import { FRAGMENT_READS } from './inputReads.ts';
import {
  AIR,
  AIR_UNIFORMS,
  LIGHT_UNIFORMS,
  LIGHTING,
  STAGE_LIGHT_UNIFORMS,
  STAGE_LIGHTING,
} from './lighting.ts';
import { GLSL } from './spell.ts';
import { declareUniforms, parameterUniforms, type Handed } from './uniforms.ts';

/** Views of the surface that need no step: the numbers the tap switch knows them by. */
export const VIEW_TAPS = { finished: 0, normals: -1, uv: -2, wireframe: -3, sides: -5, cost: -1000 } as const;
/** What a surface costs is told in thousandths, from there downwards. */
export const costTap = (share: number): number => VIEW_TAPS.cost - Math.round(Math.min(share, 1e3) * 1000);
/** The edges that are drawn over a wireframe’s dark faces. */
export const EDGES_TAP = -4;

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

/** On the stage there is air between a surface and the camera; what shows what is behind it has had its share already. */
const endsOf = (hasAir: boolean, isAdded: boolean): PixelEnds => ({
  discardWhere: (condition) => `if (${condition}) discard;`,
  give: (color, alpha) => {
    const seen = isAdded ? `${color} * airLeft()` : `mix(airColor.rgb, ${color}, airLeft())`;
    return `fragColor = vec4(${hasAir ? seen : color}, ${alpha});`;
  },
});

/** What the light of a surface is worked out from. */
const LIT_READS: readonly InputName[] = ['normal', 'position', 'viewDirection'];
/** What the views of a surface show. */
const VIEW_READS: readonly InputName[] = ['uv', 'normal'];

const tapLines = (program: Program, text: (value: Value) => string): string[] => [
  'if (tap != 0) {',
  '  vec4 shown = vec4(0.0);',
  '  switch (tap) {',
  // The front is light, the back dark and hatched.
  `    case ${VIEW_TAPS.sides}: shown = vec4(vec3(gl_FrontFacing ? 0.5 : mod(gl_FragCoord.x - gl_FragCoord.y, 10.0) < 5.0 ? 0.02 : 0.1), 1.0); break;`,
  `    case ${VIEW_TAPS.normals}: shown = vec4(normal * 0.5 + 0.5, 1.0); break;`,
  `    case ${VIEW_TAPS.uv}: shown = vec4(uv, 0.0, 1.0); break;`,
  `    case ${VIEW_TAPS.wireframe}: shown = vec4(vec3(0.03), 1.0); break;`,
  `    case ${EDGES_TAP}: shown = vec4(vec3(0.62), 1.0); break;`,
  ...program.taps.map(
    (tap, i) => `    case ${i + 1}: shown = ${asTap(tap.value.type, text(tap.value))}; break;`,
  ),
  `    default: shown = vec4(vec3(float(${VIEW_TAPS.cost} - tap) / 1000.0), 1.0);`,
  '  }',
  '  fragColor = shown;',
  '  return;',
  '}',
];

export interface FragmentStage {
  readonly lines: readonly Line[];
  readonly varyings: readonly Varying[];
  /** Declarations of what it is handed. */
  readonly uniforms: readonly string[];
}

/** Writes the fragment stage: what it is handed, its functions, its steps and its surface. */
export const writeFragment = (
  program: Program,
  options: EmitOptions,
  handed: Handed,
  outside: (value: Value) => string | null,
): FragmentStage => {
  const { live } = handed;
  const shading = shadingOf(program);
  const { lit } = shading;
  const stage = writeStage(GLSL, {
    roots: [...(live ? program.taps.map((tap) => tap.value) : []), ...writtenBy(program, 'fragment')],
    taps: program.taps,
    reads: FRAGMENT_READS,
    alsoRead: [...(lit ? LIT_READS : []), ...(live ? VIEW_READS : [])],
    ...{ outside, kept: keptNames(program), notes: options.notes },
  });
  const read = new Set(stage.inputs);
  const varyings = VARYINGS.filter(({ input }) => read.has(input));
  const showsBehind = reachable(writtenBy(program, 'fragment')).some(
    ({ op, payload }) => op === 'input' && payload === 'sceneColorMap',
  );
  const hasAir = live && !showsBehind;
  const uniforms = [
    ...new Set(stage.from),
    ...parameterUniforms(program, stage.reached, handed),
    ...(live ? ['int tap'] : []),
    ...(lit ? LIGHT_UNIFORMS : []),
    ...(lit && live ? STAGE_LIGHT_UNIFORMS : []),
    ...(hasAir ? AIR_UNIFORMS : []),
  ];
  const surface = writeSurface(
    ...([GLSL, endsOf(hasAir, shading.alphaMode === 'added'), declaredIn(program, 'fragment')] as const),
    ...([program.outputs, shading] as const),
    ...([stage.text, stage.locals] as const),
  );
  return {
    ...{ varyings, uniforms },
    lines: [
      ...plainLines([
        ...HEADER,
        '',
        `// ${options.title}`,
        ...varyings.map(({ declaration }) => `in ${declaration};`),
        'out vec4 fragColor;',
        '',
        ...declareUniforms(uniforms),
        '',
        ...(hasAir ? [...AIR.split('\n'), ''] : []),
        ...(lit ? [...(live ? STAGE_LIGHTING : LIGHTING).split('\n'), ''] : []),
      ]),
      ...stage.functions,
      ...plainLines(['void main() {']),
      ...indent([
        ...stage.lines,
        ...plainLines([...(live ? tapLines(program, stage.text) : []), ...surface]),
      ]),
      ...plainLines(['}', '']),
    ],
  };
};

/** Names at the top of the source, and the stages' own, that no value may be given. */
export const keptNames = (program: Program): string[] => [
  ...GLSL_TOP_NAMES,
  ...GLSL_LOCALS,
  ...program.parameters.map((parameter) => parameter.name),
];
