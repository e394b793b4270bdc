import {
  ClampToEdgeWrapping,
  HalfFloatType,
  LinearFilter,
  LinearMipmapLinearFilter,
  NoColorSpace,
  RepeatWrapping,
  SRGBColorSpace,
  Texture,
  DataTexture,
  WebGLRenderTarget,
  type WebGLRenderer,
} from 'three';
import { HDRLoader } from 'three/addons/loaders/HDRLoader.js';
import type { Environment } from '#core/document/project.ts';
import { AROUND } from '#core/emit/glsl/around.ts';
import { AROUND_ROW, ENVIRONMENT_HEIGHT, ENVIRONMENT_ROWS } from '#core/emit/glsl/lighting.ts';
import { createFullFrame } from '../passes/fullFrame.ts';
import type { Lights } from './lights.ts';

const HEIGHT = ENVIRONMENT_HEIGHT;
const WIDTH = 2 * HEIGHT;
/** Directions around each; the picture's coarser levels stand for what lies between them. */
const SAMPLES = 64;

/**
 * What is gathered of a picture of everything around: by a mirror of each roughness (GGX seen from straight above, the
 * first half of B. Karis's split sum, SIGGRAPH 2013), or, where `a` is below 0, by a diffuse surface. Each sample reads
 * the level whose texel spans as much as it stands for (M. Colbert and J. Křivánek, GPU Gems 3, chapter 20).
 */
const GATHER = `const float PI = 3.14159265;
uniform sampler2D source;
uniform float a;
uniform float texels;
${AROUND}
vec3 from(vec3 d, float level) { return textureLod(source, aroundPlace(d), level).rgb; }
float reversed(uint n) {
  n = (n << 16u) | (n >> 16u);
  n = ((n & 0x55555555u) << 1u) | ((n & 0xAAAAAAAAu) >> 1u);
  n = ((n & 0x33333333u) << 2u) | ((n & 0xCCCCCCCCu) >> 2u);
  n = ((n & 0x0F0F0F0Fu) << 4u) | ((n & 0xF0F0F0F0u) >> 4u);
  n = ((n & 0x00FF00FFu) << 8u) | ((n & 0xFF00FF00u) >> 8u);
  return float(n) * 2.3283064365386963e-10;
}
void main() {
  float phi = (at.x - 0.5) * 2.0 * PI;
  float theta = at.y * PI;
  vec3 n = vec3(sin(theta) * sin(phi), cos(theta), -sin(theta) * cos(phi));
  if (a == 0.0) { color = vec4(from(n, max(0.0, 0.5 * log2(texels / ${WIDTH * HEIGHT}.0))), 1.0); return; }
  vec3 side = normalize(cross(abs(n.y) < 0.9 ? vec3(0.0, 1.0, 0.0) : vec3(1.0, 0.0, 0.0), n));
  vec3 ahead = cross(n, side);
  vec3 sum = vec3(0.0);
  float weight = 0.0;
  for (int i = 0; i < ${SAMPLES}; ++i) {
    vec2 r = vec2((float(i) + 0.5) / ${SAMPLES}.0, reversed(uint(i)));
    float up = a < 0.0 ? sqrt(1.0 - r.x) : sqrt((1.0 - r.x) / (1.0 + (a * a - 1.0) * r.x));
    float out_ = sqrt(max(0.0, 1.0 - up * up));
    vec3 h = (side * cos(2.0 * PI * r.y) + ahead * sin(2.0 * PI * r.y)) * out_ + n * up;
    vec3 l = a < 0.0 ? h : reflect(-n, h);
    float nl = dot(n, l);
    if (nl <= 0.0) continue;
    float d = (up * up) * (a * a - 1.0) + 1.0;
    float density = a < 0.0 ? nl / PI : a * a / (PI * d * d) / 4.0;
    float level = 0.5 * log2(texels / (4.0 * PI) / (density * ${SAMPLES}.0)) + 0.5;
    float counts = a < 0.0 ? 1.0 : nl;
    sum += from(l, max(level, 0.0)) * counts;
    weight += counts;
  }
  color = vec4(sum / weight, 1.0);
}`;

/** A picture's light, with its coarser levels. @throws Error that says why it cannot be read */
const readPicture = async (bytes: ArrayBuffer): Promise<Texture> => {
  const isHdr = new Uint8Array(bytes, 0, 2).every((x, i) => x === '#?'.charCodeAt(i));
  let texture: Texture;
  if (isHdr) {
    const { data, width, height } = new HDRLoader().parse(bytes) as {
      readonly data: Uint16Array<ArrayBuffer>;
      readonly width: number;
      readonly height: number;
    };
    texture = new DataTexture(data, width, height);
    texture.type = HalfFloatType;
    texture.colorSpace = NoColorSpace;
    texture.flipY = true;
  } else {
    const picture = await createImageBitmap(new Blob([bytes]), {
      ...({ imageOrientation: 'flipY', premultiplyAlpha: 'none', colorSpaceConversion: 'none' } as const),
    });
    texture = new Texture(picture);
    texture.flipY = false;
    texture.colorSpace = SRGBColorSpace;
  }
  texture.wrapS = RepeatWrapping;
  texture.wrapT = ClampToEdgeWrapping;
  texture.magFilter = LinearFilter;
  texture.minFilter = LinearMipmapLinearFilter;
  texture.generateMipmaps = true;
  texture.needsUpdate = true;
  return texture;
};

const bring = async (picture: string): Promise<ArrayBuffer> => {
  const answer = await fetch(`/api/blobs/${picture}`);
  if (!answer.ok) throw new Error('it is not kept here any more');
  return answer.arrayBuffer();
};

/** Keeps what surfaces gather of a set's picture of everything around: a row a roughness, and one for diffuse light. */
export const createEnvironment = (
  renderer: WebGLRenderer,
  lights: Lights,
  events: { readonly onChanged: () => void; readonly onMissing: (why: string) => void },
) => {
  let wanted: string | null = null;
  let coming: Promise<void> | null = null;
  let source: Texture | null = null;
  let target: WebGLRenderTarget | null = null;
  let disposed = false;
  /** Until a picture is here, and where it cannot be brought, the set keeps its light from above and below. */
  const show = (map: Texture | null): void => {
    lights.environmentMap.value = map;
    lights.environmentPicture.value = map && source;
    lights.environmentTurn.value.w = map ? 1 : 0;
  };
  const letGo = (): void => {
    source?.dispose();
    target?.dispose();
    source = null;
    target = null;
    show(null);
  };
  const gather = (): void => {
    if (!source) return;
    target ??= new WebGLRenderTarget(WIDTH, HEIGHT * ENVIRONMENT_ROWS, {
      ...{ type: HalfFloatType, depthBuffer: false, magFilter: LinearFilter, minFilter: LinearFilter },
      ...{ wrapS: RepeatWrapping, wrapT: ClampToEdgeWrapping },
    });
    const frame = createFullFrame(renderer, ['source', 'a', 'texels'], GATHER);
    const { width, height } = source.image as { readonly width: number; readonly height: number };
    for (let row = 0; row < ENVIRONMENT_ROWS; row += 1) {
      const rough = row / (AROUND_ROW - 1);
      target.viewport.set(0, row * HEIGHT, WIDTH, HEIGHT);
      frame.draw({ source, texels: width * height, a: row === AROUND_ROW ? -1 : rough * rough }, target);
    }
    frame.dispose();
    show(target.texture);
  };
  const take = async (picture: string): Promise<void> => {
    try {
      const read = await readPicture(await bring(picture));
      if (disposed || wanted !== picture) return read.dispose();
      letGo();
      source = read;
      gather();
    } catch (error) {
      if (wanted !== picture || disposed) return;
      letGo();
      events.onMissing(`What is around the set could not be brought: ${(error as Error).message}.`);
    } finally {
      if (wanted === picture) {
        coming = null;
        if (!disposed) events.onChanged();
      }
    }
  };
  return {
    /** Takes what a set says; a picture is fetched once and stays until another is wanted. */
    set: (environment: Environment | undefined): void => {
      const { turn = 0, strength = 1 } = environment ?? {};
      const angle = (turn * Math.PI) / 180;
      lights.environmentTurn.value.set(Math.cos(angle), Math.sin(angle), strength, target ? 1 : 0);
      const picture = environment?.picture ?? null;
      if (picture === wanted) return;
      wanted = picture;
      coming = picture === null ? null : take(picture);
      if (!picture) letGo();
    },
    isComing: (): boolean => coming !== null,
    settled: async (): Promise<void> => {
      while (coming) await coming;
    },
    /** After the graphics context was lost. */
    redraw: gather,
    dispose: (): void => {
      disposed = true;
      letGo();
    },
  };
};
