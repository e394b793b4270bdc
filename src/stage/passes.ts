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
  Vector2,
  WebGLRenderTarget,
  type IUniform,
  type Texture,
  type WebGLRenderer,
} from 'three';

/** One full-frame draw: what it reads and where it writes, and nothing that leaks to the next. */
export interface Pass {
  readonly draw: (uniforms: Readonly<Record<string, unknown>>, target: WebGLRenderTarget | null) => void;
  readonly dispose: () => void;
}

const corner = new PlaneGeometry(2, 2);
const flat = new OrthographicCamera(-1, 1, 1, -1, 0, 1);

const VERTEX = `precision highp float;
in vec3 position;
out vec2 at;
void main() { at = position.xy * 0.5 + 0.5; gl_Position = vec4(position.xy, 0.0, 1.0); }
`;

export const createPass = (renderer: WebGLRenderer, names: readonly string[], fragment: string): Pass => {
  const uniforms: Record<string, IUniform> = Object.fromEntries(names.map((name) => [name, { value: null }]));
  const material = new RawShaderMaterial({
    glslVersion: GLSL3,
    vertexShader: VERTEX,
    fragmentShader: `precision highp float;\nin vec2 at;\nout vec4 color;\n${fragment}`,
    uniforms,
    depthTest: false,
    depthWrite: false,
    blending: NoBlending,
  });
  const mesh = new Mesh(corner, material);
  mesh.frustumCulled = false;
  return {
    draw: (given, target) => {
      for (const [name, value] of Object.entries(given)) uniforms[name]!.value = value;
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

/*
 * Bloom: light above a threshold, halved again and again with a 13-tap filter, then gathered back up with a tent
 * (J. Jimenez, "Next Generation Post Processing in Call of Duty", SIGGRAPH 2014, describes both filters).
 */
const BRIGHT = `uniform sampler2D source; uniform float threshold;
void main() {
  vec3 c = min(texture(source, at).rgb, vec3(64.0));
  float light = dot(c, vec3(0.2126, 0.7152, 0.0722));
  float knee = smoothstep(threshold * 0.6, threshold * 1.4 + 1e-3, light);
  color = vec4(c * knee * max(light - threshold * 0.6, 0.0) / max(light, 1e-4), 1.0);
}`;
const DOWN = `uniform sampler2D source; uniform vec2 texel;
vec3 s(float x, float y) { return texture(source, at + texel * vec2(x, y)).rgb; }
void main() {
  vec3 inner = s(-1.0, -1.0) + s(1.0, -1.0) + s(-1.0, 1.0) + s(1.0, 1.0);
  vec3 outer = s(-2.0, -2.0) + s(2.0, -2.0) + s(-2.0, 2.0) + s(2.0, 2.0);
  vec3 cross = s(0.0, -2.0) + s(-2.0, 0.0) + s(2.0, 0.0) + s(0.0, 2.0);
  color = vec4(s(0.0, 0.0) * 0.125 + inner * 0.125 + outer * 0.03125 + cross * 0.0625, 1.0);
}`;
const UP = `uniform sampler2D source; uniform sampler2D finer; uniform vec2 texel;
vec3 s(float x, float y) { return texture(source, at + texel * vec2(x, y)).rgb; }
void main() {
  vec3 tent = s(0.0, 0.0) * 4.0 + (s(-1.0, 0.0) + s(1.0, 0.0) + s(0.0, -1.0) + s(0.0, 1.0)) * 2.0
    + s(-1.0, -1.0) + s(1.0, -1.0) + s(-1.0, 1.0) + s(1.0, 1.0);
  color = vec4(texture(finer, at).rgb + tent / 16.0, 1.0);
}`;

const LEVELS = 5;

export interface Bloom {
  /** Spreads the light of `source` above `threshold`; the result is half its size and belongs to the bloom. */
  readonly spread: (source: Texture, width: number, height: number, threshold: number) => Texture;
  readonly dispose: () => void;
}

export const createBloom = (renderer: WebGLRenderer): Bloom => {
  const bright = createPass(renderer, ['source', 'threshold'], BRIGHT);
  const down = createPass(renderer, ['source', 'texel'], DOWN);
  const up = createPass(renderer, ['source', 'finer', 'texel'], UP);
  let chain: WebGLRenderTarget[] = [];
  let gathered: WebGLRenderTarget[] = [];
  let size = '';
  const free = () => [...chain, ...gathered].forEach((target) => target.dispose());
  const texel = (target: WebGLRenderTarget) => new Vector2(1 / target.width, 1 / target.height);
  const resize = (width: number, height: number) => {
    if (size === `${width}x${height}`) return;
    size = `${width}x${height}`;
    free();
    const level = (i: number) => hdrTarget(Math.max(1, width >> (i + 1)), Math.max(1, height >> (i + 1)));
    chain = Array.from({ length: LEVELS }, (_, i) => level(i));
    gathered = Array.from({ length: LEVELS - 1 }, (_, i) => level(i));
  };
  return {
    spread: (source, width, height, threshold) => {
      resize(width, height);
      bright.draw({ source, threshold }, chain[0]!);
      for (let i = 1; i < LEVELS; i += 1)
        down.draw({ source: chain[i - 1]!.texture, texel: texel(chain[i - 1]!) }, chain[i]!);
      let below = chain[LEVELS - 1]!;
      for (let i = LEVELS - 2; i >= 0; i -= 1) {
        up.draw({ source: below.texture, finer: chain[i]!.texture, texel: texel(below) }, gathered[i]!);
        below = gathered[i]!;
      }
      return below.texture;
    },
    dispose: () => {
      free();
      for (const pass of [bright, down, up]) pass.dispose();
    },
  };
};

/**
 * The last pass, and the only one that maps tones. Finished: scene and bloom, exposed, through a filmic curve
 * (K. Narkowicz's fit of the ACES curve, 2016) to sRGB. Tap: the value as it is, striped where it leaves 0–1,
 * chequered where it is not a number.
 */
export const FINISH = `uniform sampler2D source; uniform sampler2D bloom; uniform sampler2D depth;
uniform float bloomIntensity; uniform float exposure; uniform int components; uniform vec3 surround;
vec3 filmic(vec3 x) { return clamp((x * (2.51 * x + 0.03)) / (x * (2.43 * x + 0.59) + 0.14), 0.0, 1.0); }
vec3 encode(vec3 x) { return mix(x * 12.92, 1.055 * pow(max(x, 0.0), vec3(1.0 / 2.4)) - 0.055, step(0.0031308, x)); }
vec3 backdrop() { return surround * (1.5 - 0.85 * smoothstep(0.0, 0.8, distance(at, vec2(0.5, 0.6)))); }
bool broken(float x) { return isnan(x) || isinf(x); }
bool outside(float x) { return x < -1e-3 || x > 1.001; }
void main() {
  vec4 scene = texture(source, at);
  if (components == 0) {
    vec3 light = scene.rgb + backdrop() * (1.0 - scene.a) + texture(bloom, at).rgb * bloomIntensity * 0.2;
    color = vec4(encode(filmic(light * exposure)), 1.0);
    return;
  }
  if (texture(depth, at).r >= 1.0) { color = vec4(backdrop(), 1.0); return; }
  vec3 shown = components == 1 ? scene.rrr : components == 2 ? vec3(scene.rg, 0.0) : encode(clamp(scene.rgb, 0.0, 1.0));
  bool wrong = broken(scene.r) || (components > 1 && broken(scene.g)) || (components > 2 && broken(scene.b));
  bool out01 = outside(scene.r) || (components > 1 && outside(scene.g)) || (components > 2 && outside(scene.b));
  float stripe = mod(gl_FragCoord.x + gl_FragCoord.y, 10.0);
  vec2 chequer = mod(floor(gl_FragCoord.xy / 6.0), 2.0);
  vec3 oxblood = vec3(0.541, 0.122, 0.106);
  if (wrong) shown = chequer.x == chequer.y ? vec3(0.0) : oxblood;
  else if (out01 && stripe < 4.0) shown = oxblood;
  color = vec4(clamp(shown, 0.0, 1.0), 1.0);
}`;
