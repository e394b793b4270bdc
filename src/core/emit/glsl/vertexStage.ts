import { ATTRIBUTES, type Varying } from '../../language/names/glslInterface.ts';
import { writtenBy, type Program, type Value } from '../../program/value.ts';
import { movedNormal, type MeshWords } from '../source/movedNormal.ts';
import { indent, joined, plainLines, writeStage } from '../source/writeStage.ts';
import type { EmitOptions } from './options.ts';
import { keptNames } from './fragmentStage.ts';
import { HEADER } from './header.ts';
import { VERTEX_READS } from './inputReads.ts';
import { GLSL } from './spell.ts';
import { declaredName, declareUniforms, parameterUniforms, type Handed } from './uniforms.ts';

const SCREEN_OF = 'vec2 screenOf(vec4 clip) { return clip.xy / max(clip.w, 1e-4) * 0.5 + 0.5; }';
const MATRICES: readonly string[] = ['mat4 modelMatrix', 'mat4 viewMatrix', 'mat4 projectionMatrix'];

const WORDS: MeshWords = {
  ...{ position: 'a_position', normal: 'a_normal', uv: 'a_uv', tangent: 'a_tangent', stretch: 'a_stretch' },
  vec2: 'vec2',
  turned: (way) => `mat3(modelMatrix) * ${way}`,
  moved: (at, uv) => `moved(${at}, ${uv})`,
  declare: (name, text) => `vec3 ${name} = ${text};`,
  out: 'v_normal',
};

export interface VertexStage {
  readonly text: string;
  /** Declarations of what it is handed by whoever draws, and by the mesh. */
  readonly uniforms: readonly string[];
  readonly attributes: readonly string[];
}

/** Writes the vertex stage: where each corner goes, and what the fragment stage is handed. */
export const writeVertex = (
  program: Program,
  options: EmitOptions,
  handed: Handed,
  outside: (value: Value) => string | null,
  varyings: readonly Varying[],
): VertexStage => {
  const { live } = handed;
  const [offset] = writtenBy(program, 'vertex');
  const moving = offset
    ? writeStage(GLSL, {
        ...{ roots: [offset], taps: [], reads: VERTEX_READS, alsoRead: [], outside },
        ...{ kept: keptNames(program), notes: options.notes },
      })
    : null;
  const readsUv = moving?.inputs.includes('uv') ?? false;
  // A surface that moves turns too: its normal is felt from where its neighbours went.
  const followed = moving && varyings.some(({ input }) => input === 'normal');
  const carried = varyings.filter(({ input }) => !(followed && input === 'normal'));
  const read = new Set([
    'a_position',
    ...carried.flatMap(({ mesh }) => mesh),
    ...(moving?.mesh ?? []),
    ...(moving || live ? ['a_uv'] : []),
    ...(followed ? [WORDS.normal, WORDS.tangent, ...(readsUv ? [WORDS.stretch] : [])] : []),
  ]);
  const attributes = ATTRIBUTES.filter((each) => read.has(declaredName(each)));
  const uniforms = [
    ...new Set([...MATRICES, ...(moving?.from ?? [])]),
    ...parameterUniforms(program, moving?.reached ?? [], handed),
  ];
  const body = [
    'vec4 placed = modelMatrix * vec4(a_position, 1.0);',
    ...(moving ? ['vec3 offset = moved(a_position, a_uv);', 'placed.xyz += offset;'] : []),
    ...carried.map(({ write }) => write),
    ...(followed ? movedNormal(WORDS, readsUv) : []),
    'gl_Position = projectionMatrix * viewMatrix * placed;',
    ...(live ? ['if (picture == 1) gl_Position = vec4(a_uv * 2.0 - 1.0, 0.0, 1.0);'] : []),
  ];
  const moved =
    moving && offset
      ? [
          ...plainLines(['vec3 moved(vec3 at, vec2 uv) {']),
          ...indent([...moving.lines, ...plainLines([`return ${moving.text(offset)};`])]),
          ...plainLines(['}', '']),
        ]
      : [];
  const lines = [
    ...HEADER,
    '',
    `// ${options.title}`,
    ...attributes.map((each) => `in ${each};`),
    ...varyings.map(({ declaration }) => `out ${declaration};`),
    '',
    ...declareUniforms(uniforms),
    ...(live
      ? ['// 1 lays the mesh out by its uv, for pictures of a step.', ...declareUniforms([PICTURE])]
      : []),
    '',
    ...(moving?.callsScreenOf ? [SCREEN_OF, ''] : []),
  ];
  const text = joined([
    ...plainLines(lines),
    ...(moving?.functions ?? []),
    ...moved,
    ...plainLines(['void main() {']),
    ...indent(plainLines(body)),
    ...plainLines(['}', '']),
  ]);
  return { text, uniforms: live ? [...uniforms, PICTURE] : uniforms, attributes };
};

const PICTURE = 'int picture';
