import type { InputRead, Reads } from '../source/reads.ts';

const MODEL = 'mat4 modelMatrix';
const VIEW = 'mat4 viewMatrix';
const CAMERA = 'vec3 cameraPosition';

const modelColumn = (column: number): InputRead => ({
  text: `modelMatrix[${column}].xyz`,
  from: [MODEL],
});
/** The view matrix turns the world into the camera's frame; its rows are the camera's axes. */
const viewRow = (row: number): InputRead => ({
  text: `vec3(viewMatrix[0][${row}], viewMatrix[1][${row}], viewMatrix[2][${row}])`,
  from: [VIEW],
});
const plain = (declaration: string): InputRead => ({ from: [declaration] });

/** What reads the same in both stages. */
const BOTH: Reads = {
  viewPosition: {
    text: '(viewMatrix * vec4(position, 1.0)).xyz',
    needs: ['position'],
    from: [VIEW],
  },
  viewNormal: {
    text: 'mat3(viewMatrix) * normal',
    needs: ['normal'],
    from: [VIEW],
  },
  viewDirection: {
    text: 'normalize(cameraPosition - position)',
    needs: ['position'],
    from: [CAMERA],
  },
  objectRight: modelColumn(0),
  objectUp: modelColumn(1),
  objectForward: modelColumn(2),
  objectOrigin: modelColumn(3),
  boundsLow: plain('vec3 boundsLow'),
  boundsHigh: plain('vec3 boundsHigh'),
  cameraPosition: plain(CAMERA),
  cameraRight: viewRow(0),
  cameraUp: viewRow(1),
  cameraBack: viewRow(2),
  time: plain('float time'),
  timeStep: plain('float timeStep'),
  surfaceDistance: {
    text: 'texture(surfaceDistanceMap, (surfaceDistanceFrame * vec4(position, 1.0)).xyz).r',
    needs: ['position'],
    from: ['highp sampler3D surfaceDistanceMap', 'mat4 surfaceDistanceFrame'],
  },
  sceneDepthMap: plain('sampler2D sceneDepthMap'),
  sceneColorMap: plain('sampler2D sceneColorMap'),
};

export const FRAGMENT_READS: Reads = {
  ...BOTH,
  uv: { text: 'v_uv' },
  uv2: { text: 'v_uv2' },
  objectPosition: { text: 'v_objectPosition' },
  position: { text: 'v_position' },
  objectNormal: { text: 'normalize(v_objectNormal)' },
  normal: { text: 'normalize(gl_FrontFacing ? v_normal : -v_normal)' },
  tangent: { text: 'normalize(gl_FrontFacing ? v_tangent : -v_tangent)' },
  bitangent: { text: 'normalize(gl_FrontFacing ? v_bitangent : -v_bitangent)' },
  vertexColor: { text: 'v_color' },
  instanceAge: { text: 'v_instanceAge' },
  instanceOrder: { text: 'v_instanceOrder' },
  // The same at each corner, it may come through its interpolation a little beside a whole number.
  instanceSeed: { text: 'int(floor(v_instanceSeed + 0.5))' },
  screenUv: { text: 'gl_FragCoord.xy / resolution', from: ['vec2 resolution'] },
};

/** In the vertex stage `at` is the point of the mesh and `uv` its coordinate: both move where a slope is felt for. */
export const VERTEX_READS: Reads = {
  ...BOTH,
  uv2: { mesh: ['a_uv2'], text: 'a_uv2' },
  objectPosition: { text: 'at' },
  position: { text: '(modelMatrix * vec4(at, 1.0)).xyz', from: [MODEL] },
  objectNormal: { mesh: ['a_normal'], text: 'a_normal' },
  normal: {
    mesh: ['a_normal'],
    text: 'normalize(mat3(transpose(inverse(modelMatrix))) * a_normal)',
    from: [MODEL],
  },
  tangent: { mesh: ['a_tangent'], text: 'normalize(mat3(modelMatrix) * a_tangent.xyz)', from: [MODEL] },
  bitangent: {
    mesh: ['a_normal', 'a_tangent'],
    text: 'normalize(mat3(modelMatrix) * cross(a_normal, a_tangent.xyz)) * a_tangent.w',
    from: [MODEL],
  },
  vertexColor: { mesh: ['a_color'], text: 'a_color' },
  instanceAge: { mesh: ['a_instance'], text: 'a_instance.x' },
  instanceOrder: { mesh: ['a_instance'], text: 'a_instance.y' },
  instanceSeed: { mesh: ['a_instance'], text: 'int(a_instance.z)' },
  screenUv: {
    calls: 'screenOf',
    text: 'screenOf(projectionMatrix * viewMatrix * vec4(position, 1.0))',
    needs: ['position'],
    from: [VIEW, 'mat4 projectionMatrix'],
  },
};
