import {
  DepthTexture,
  GLSL3,
  HalfFloatType,
  LinearFilter,
  Mesh,
  NoBlending,
  OrthographicCamera,
  PlaneGeometry,
  RawShaderMaterial,
  UnsignedIntType,
  WebGLRenderTarget,
  type IUniform,
  type WebGLRenderer,
} from 'three';

/** One draw over the whole frame: its uniforms, where it writes, and nothing that leaks to the next. */
export interface FullFrame {
  readonly draw: (uniforms: Readonly<Record<string, unknown>>, target: WebGLRenderTarget | null) => void;
  readonly dispose: () => void;
}

/** What is drawn over a whole target, and what sees it. */
export const corner = new PlaneGeometry(2, 2);
export const flat = new OrthographicCamera(-1, 1, 1, -1, 0, 1);
// It stays where it is.
flat.matrixWorldAutoUpdate = false;

/** Hands over `at`: (0, 0) at the lower left of the target, (1, 1) at the upper right. */
export const FULL_FRAME = `precision highp float;
in vec3 position;
out vec2 at;
void main() { at = position.xy * 0.5 + 0.5; gl_Position = vec4(position.xy, 0.0, 1.0); }
`;

export const createFullFrame = (
  renderer: WebGLRenderer,
  names: readonly string[],
  fragment: string,
): FullFrame => {
  const uniforms: Record<string, IUniform> = Object.fromEntries(names.map((name) => [name, { value: null }]));
  const material = new RawShaderMaterial({
    glslVersion: GLSL3,
    vertexShader: FULL_FRAME,
    fragmentShader: `precision highp float;\nin vec2 at;\nout vec4 color;\n${fragment}`,
    uniforms,
    depthTest: false,
    depthWrite: false,
    blending: NoBlending,
  });
  const mesh = new Mesh(corner, material);
  mesh.frustumCulled = false;
  mesh.matrixWorldAutoUpdate = false;
  return {
    draw: (given, target) => {
      for (const name of names) if (name in given) uniforms[name]!.value = given[name];
      renderer.setRenderTarget(target);
      renderer.render(mesh, flat);
    },
    dispose: () => material.dispose(),
  };
};

export const hdrTarget = (
  width: number,
  height: number,
  options: { readonly depth?: boolean; readonly samples?: number } = {},
): WebGLRenderTarget => {
  const target = new WebGLRenderTarget(width, height, {
    type: HalfFloatType,
    magFilter: LinearFilter,
    minFilter: LinearFilter,
    depthBuffer: options.depth ?? false,
    samples: options.samples ?? 0,
  });
  if (options.depth) target.depthTexture = new DepthTexture(width, height, UnsignedIntType);
  return target;
};
