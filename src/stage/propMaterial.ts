import {
  AdditiveBlending,
  BackSide,
  CustomBlending,
  DoubleSide,
  FrontSide,
  GLSL3,
  NoBlending,
  NormalBlending,
  OneFactor,
  OneMinusSrcAlphaFactor,
  RawShaderMaterial,
  SrcAlphaFactor,
  DataTexture,
  type IUniform,
  type Texture,
} from 'three';
import type { CompiledShader } from '#core/compileShader.ts';
import type { SurfaceSettings } from '#core/document/shader.ts';
import { prepareLive } from '#core/emit/glsl/packLive.ts';

/** What a material is drawn with right now. */
export interface MaterialNumbers {
  readonly parameters: ReadonlyMap<string, readonly number[]>;
  readonly knobs: ReadonlyMap<string, readonly number[]>;
  /** The picture each texture reads; one that is missing or on its way is plain grey. */
  readonly textures: ReadonlyMap<string, Texture>;
}

/** The GPU's side of one material: a program shared with its step pictures, and the numbers it reads. */
export interface PropMaterial {
  readonly shader: CompiledShader;
  /** Drawn on the stage. */
  readonly surface: RawShaderMaterial;
  /** Drawn laid out by uv, for pictures of steps. */
  readonly picture: RawShaderMaterial;
  readonly setNumbers: (numbers: MaterialNumbers, time: number, camera: readonly number[]) => void;
  readonly showTap: (tap: number) => void;
  readonly dispose: () => void;
}

/** What a texture without a picture shows. */
const GREY = new DataTexture(new Uint8Array([128, 128, 128, 255]), 1, 1);
GREY.needsUpdate = true;

const SIDES = { front: FrontSide, back: BackSide, both: DoubleSide } as const;
/** three writes the version line itself, from `glslVersion`. */
const body = (source: string) => source.replace('#version 300 es\n', '');

/** The lights every lit surface reads, shared by all of them. */
export type LightUniforms = Readonly<Record<string, IUniform>>;

export const createPropMaterial = (
  shader: CompiledShader,
  settings: SurfaceSettings,
  lights: LightUniforms,
): PropMaterial => {
  const { vertex, fragment, layout } = shader.live;
  const pack = prepareLive(layout);
  const shared: Record<string, IUniform> = {
    ...lights,
    live: { value: new Float32Array(layout.floats * 4) },
    liveInt: { value: new Int32Array(layout.ints * 4) },
    time: { value: 0 },
    ...Object.fromEntries(shader.live.textures.map((name) => [name, { value: null }])),
  };
  const make = (picture: 0 | 1) =>
    new RawShaderMaterial({
      glslVersion: GLSL3,
      vertexShader: body(vertex),
      fragmentShader: body(fragment),
      uniforms: { ...shared, tap: { value: 0 }, picture: { value: picture } },
    });
  const surface = make(0);
  const picture = make(1);
  picture.side = DoubleSide;
  picture.depthTest = false;
  picture.depthWrite = false;
  picture.blending = NoBlending;

  const settle = (tap: number) => {
    const finished = tap === 0;
    const { alphaMode } = settings;
    const blends = finished && (alphaMode === 'blended' || alphaMode === 'added');
    surface.side = SIDES[settings.sides];
    surface.depthWrite = settings.depthWrite || !finished;
    surface.transparent = blends;
    surface.blending = !blends ? NoBlending : alphaMode === 'added' ? AdditiveBlending : CustomBlending;
    if (surface.blending === CustomBlending) {
      surface.blendSrc = SrcAlphaFactor;
      surface.blendDst = OneMinusSrcAlphaFactor;
      surface.blendSrcAlpha = OneFactor;
      surface.blendDstAlpha = OneMinusSrcAlphaFactor;
    } else if (blends && alphaMode !== 'added') surface.blending = NormalBlending;
    surface.uniforms['tap']!.value = tap;
  };
  settle(0);
  return {
    shader,
    surface,
    picture,
    setNumbers: (numbers, time, camera) => {
      const { floats, ints } = pack({ ...numbers, inputs: { time: [time], cameraPosition: camera } });
      shared['live']!.value = floats;
      shared['liveInt']!.value = ints;
      shared['time']!.value = time;
      for (const name of shader.live.textures) shared[name]!.value = numbers.textures.get(name) ?? GREY;
      for (const material of [surface, picture]) material.uniformsNeedUpdate = true;
    },
    showTap: settle,
    dispose: () => {
      surface.dispose();
      picture.dispose();
    },
  };
};
