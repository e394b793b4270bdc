import type { InputName } from '../../program/inputs.ts';

/** How one input is read in a stage: the line that makes it, and what that line needs. */
export interface InputRead {
  readonly line?: string;
  readonly needs?: readonly InputName[];
  readonly uniforms?: readonly string[];
}

const MODEL = 'mat4 modelMatrix';
const VIEW = 'mat4 viewMatrix';
const CAMERA = 'vec3 cameraPosition';

const modelColumn = (name: InputName, column: number): InputRead => ({
  line: `vec3 ${name} = modelMatrix[${column}].xyz;`,
  uniforms: [MODEL],
});
/** The view matrix turns the world into the camera's frame; its rows are the camera's axes. */
const viewRow = (name: InputName, row: number): InputRead => ({
  line: `vec3 ${name} = vec3(viewMatrix[0][${row}], viewMatrix[1][${row}], viewMatrix[2][${row}]);`,
  uniforms: [VIEW],
});
const plain = (declaration: string): InputRead => ({ uniforms: [declaration] });

/** What reads the same in both stages. */
const BOTH: Partial<Record<InputName, InputRead>> = {
  viewPosition: {
    line: 'vec3 viewPosition = (viewMatrix * vec4(position, 1.0)).xyz;',
    needs: ['position'],
    uniforms: [VIEW],
  },
  viewNormal: {
    line: 'vec3 viewNormal = mat3(viewMatrix) * normal;',
    needs: ['normal'],
    uniforms: [VIEW],
  },
  viewDirection: {
    line: 'vec3 viewDirection = normalize(cameraPosition - position);',
    needs: ['position'],
    uniforms: [CAMERA],
  },
  objectRight: modelColumn('objectRight', 0),
  objectUp: modelColumn('objectUp', 1),
  objectForward: modelColumn('objectForward', 2),
  objectOrigin: modelColumn('objectOrigin', 3),
  boundsLow: plain('vec3 boundsLow'),
  boundsHigh: plain('vec3 boundsHigh'),
  cameraPosition: plain(CAMERA),
  cameraRight: viewRow('cameraRight', 0),
  cameraUp: viewRow('cameraUp', 1),
  cameraBack: viewRow('cameraBack', 2),
  time: plain('float time'),
  timeStep: plain('float timeStep'),
  instanceAge: plain('float instanceAge'),
  instanceOrder: plain('float instanceOrder'),
  instanceSeed: plain('int instanceSeed'),
  surfaceDistance: {
    line: 'float surfaceDistance = texture(surfaceDistanceMap, (surfaceDistanceFrame * vec4(position, 1.0)).xyz).r;',
    needs: ['position'],
    uniforms: ['highp sampler3D surfaceDistanceMap', 'mat4 surfaceDistanceFrame'],
  },
  sceneDepthMap: plain('sampler2D sceneDepthMap'),
  sceneColorMap: plain('sampler2D sceneColorMap'),
};

export const FRAGMENT_READS: Readonly<Partial<Record<InputName, InputRead>>> = {
  ...BOTH,
  uv: { line: 'vec2 uv = v_uv;' },
  uv2: { line: 'vec2 uv2 = v_uv2;' },
  objectPosition: { line: 'vec3 objectPosition = v_objectPosition;' },
  position: { line: 'vec3 position = v_position;' },
  objectNormal: { line: 'vec3 objectNormal = normalize(v_objectNormal);' },
  normal: { line: 'vec3 normal = normalize(gl_FrontFacing ? v_normal : -v_normal);' },
  tangent: { line: 'vec3 tangent = normalize(gl_FrontFacing ? v_tangent : -v_tangent);' },
  bitangent: { line: 'vec3 bitangent = normalize(gl_FrontFacing ? v_bitangent : -v_bitangent);' },
  vertexColor: { line: 'vec4 vertexColor = v_color;' },
  screenUv: { line: 'vec2 screenUv = gl_FragCoord.xy / resolution;', uniforms: ['vec2 resolution'] },
};

/** In the vertex stage `at` is the point of the mesh and `uv` its coordinate: both move where a slope is felt for. */
export const VERTEX_READS: Readonly<Partial<Record<InputName, InputRead>>> = {
  ...BOTH,
  uv2: { line: 'vec2 uv2 = a_uv2;' },
  objectPosition: { line: 'vec3 objectPosition = at;' },
  position: { line: 'vec3 position = (modelMatrix * vec4(at, 1.0)).xyz;', uniforms: [MODEL] },
  objectNormal: { line: 'vec3 objectNormal = a_normal;' },
  normal: {
    line: 'vec3 normal = normalize(mat3(transpose(inverse(modelMatrix))) * a_normal);',
    uniforms: [MODEL],
  },
  tangent: { line: 'vec3 tangent = normalize(mat3(modelMatrix) * a_tangent.xyz);', uniforms: [MODEL] },
  bitangent: {
    line: 'vec3 bitangent = normalize(mat3(modelMatrix) * cross(a_normal, a_tangent.xyz)) * a_tangent.w;',
    uniforms: [MODEL],
  },
  vertexColor: { line: 'vec4 vertexColor = a_color;' },
  screenUv: {
    line: 'vec2 screenUv = screenOf(projectionMatrix * viewMatrix * vec4(position, 1.0));',
    needs: ['position'],
    uniforms: [VIEW, 'mat4 projectionMatrix'],
  },
};

/** Inputs with those that their reading needs, what is needed first. */
export const withNeeds = (
  names: Iterable<InputName>,
  reads: Readonly<Partial<Record<InputName, InputRead>>>,
): InputName[] => {
  const found = new Set<InputName>();
  const visit = (name: InputName) => {
    for (const need of reads[name]?.needs ?? []) visit(need);
    found.add(name);
  };
  for (const name of names) visit(name);
  return [...found];
};
