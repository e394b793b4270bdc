import {
  BackSide,
  CustomBlending,
  DoubleSide,
  FrontSide,
  GLSL3,
  NoBlending,
  OneFactor,
  OneMinusSrcAlphaFactor,
  RawShaderMaterial,
  SrcAlphaFactor,
  ClampToEdgeWrapping,
  Data3DTexture,
  DataTexture,
  FloatType,
  Matrix4,
  NearestFilter,
  RedFormat,
  RGBAFormat,
  Vector3,
  ZeroFactor,
  type IUniform,
  type Texture,
} from 'three';
import { requirementsOf } from '#core/analyse/requirements.ts';
import type { Requirement } from '#core/program/inputs.ts';
import type { Triple } from '#core/numbers/vectors.ts';
import type { CompiledShader } from '#core/compileShader.ts';
import type { AlphaMode, SurfaceSettings } from '#core/document/shader.ts';
import { EDGES_TAP, VIEW_TAPS } from '#core/emit/glsl/fragmentStage.ts';
import { prepareLive, type LiveNumbers } from '#core/time/packLive.ts';
import { TABLE_SIZE } from '#core/numbers/curve.ts';
import { TICK_SECONDS } from '#core/time/tick.ts';

export type { LiveNumbers };

/** What a material is drawn with right now. */
export interface MaterialNumbers {
  readonly parameters: ReadonlyMap<string, readonly number[]>;
  readonly knobs: ReadonlyMap<string, readonly number[]>;
  /** The picture each texture reads; one that is missing or on its way is plain grey. */
  readonly textures: ReadonlyMap<string, Texture>;
  /** The samples of each curve and gradient. */
  readonly tables?: ReadonlyMap<string, Float32Array>;
}

/** The GPU's side of one material: a program shared with its step pictures, and the numbers it reads. */
export interface PropMaterial {
  readonly shader: CompiledShader;
  /** Drawn on the stage. */
  readonly surface: RawShaderMaterial;
  /** Drawn laid out by uv, for pictures of steps. */
  readonly picture: RawShaderMaterial;
  /** The edges of its triangles alone. */
  readonly edges: RawShaderMaterial;
  /** Whether it stands in a light's way: what blends and what is added does not. */
  readonly casts: boolean;
  /** Drawn from a light, where its mesh alone does not tell where it is: it is cut out, or moved. */
  readonly caster: RawShaderMaterial | null;
  /** Drawn over the whole frame, whatever stands there; made when it is first asked for. */
  readonly overlay: () => RawShaderMaterial;
  /** What its program asks of the stage. */
  readonly needs: ReadonlySet<Requirement>;
  /** What of the frame behind it its program reads. */
  readonly asks: 'color' | 'depth' | null;
  /** Hands over what lies behind it; null where nothing does. */
  readonly setBehind: (behind: { readonly depth: Texture; readonly color: Texture | null } | null) => void;
  /** Sets what it is drawn with from when a target is next set. */
  readonly setNumbers: (numbers: MaterialNumbers, time: number, camera: CameraFrame) => void;
  /** What it computes each frame, for one thing of it that has numbers of its own. */
  readonly numbersFor: (numbers: MaterialNumbers, time: number, camera: CameraFrame) => LiveNumbers;
  /** Draws with such numbers until it is given none: those of `setNumbers` again. */
  readonly lend: (own: LiveNumbers | null) => void;
  readonly showTap: (tap: number) => void;
  readonly dispose: () => void;
}

/** Where the camera is and how it stands, in the world. */
export interface CameraFrame {
  readonly position: Triple;
  readonly right: Triple;
  readonly up: Triple;
  readonly back: Triple;
}

/** A row of samples as a texture: read at their centres, so that nothing is filtered. */
const tableTexture = (table: Float32Array): DataTexture => {
  const texture = new DataTexture(table, TABLE_SIZE, 1, RGBAFormat, FloatType);
  texture.minFilter = NearestFilter;
  texture.magFilter = NearestFilter;
  texture.wrapS = ClampToEdgeWrapping;
  texture.wrapT = ClampToEdgeWrapping;
  texture.needsUpdate = true;
  return texture;
};

/** Nothing behind the surface, and no other surface near: what a scene shows until the stage draws it. */
const FAR = new DataTexture(new Float32Array([1e4, 0, 0, 1]), 1, 1, RGBAFormat, FloatType);
FAR.needsUpdate = true;
export const NOWHERE = new Data3DTexture(new Float32Array([1e4]), 1, 1, 1);
NOWHERE.format = RedFormat;
NOWHERE.type = FloatType;
NOWHERE.needsUpdate = true;

/** What a texture without a picture shows. */
const GREY = new DataTexture(new Uint8Array([128, 128, 128, 255]), 1, 1);
GREY.needsUpdate = true;

const SIDES = { front: FrontSide, back: BackSide, both: DoubleSide } as const;
/** three writes the version line itself, from `glslVersion`. */
const body = (source: string) => source.replace('#version 300 es\n', '');

const blend = (material: RawShaderMaterial, alphaMode: AlphaMode): void => {
  const added = alphaMode === 'added';
  material.transparent = added || alphaMode === 'blended';
  material.blending = material.transparent ? CustomBlending : NoBlending;
  material.blendSrc = SrcAlphaFactor;
  material.blendDst = added ? OneFactor : OneMinusSrcAlphaFactor;
  // What is added covers nothing: what surrounds the stage is seen through it.
  material.blendSrcAlpha = added ? ZeroFactor : OneFactor;
  material.blendDstAlpha = added ? OneFactor : OneMinusSrcAlphaFactor;
};

/** Whether numbers are there for everything that a program reads. */
export const knowsAll = (numbers: MaterialNumbers, shader: CompiledShader): boolean =>
  [...shader.knobs.keys()].every((name) => numbers.knobs.has(name)) &&
  shader.program.parameters.every(({ name, type }) => type === 'sampler2D' || numbers.parameters.has(name));

const inputsNow = (time: number, camera: CameraFrame) => ({
  ...{ time: [time], timeStep: [TICK_SECONDS], cameraPosition: camera.position },
  ...{ cameraRight: camera.right, cameraUp: camera.up, cameraBack: camera.back },
});
let last: {
  readonly time: number;
  readonly camera: CameraFrame;
  readonly inputs: ReturnType<typeof inputsNow>;
} | null = null;
/** The same for every material of a frame. */
const inputsAt = (time: number, camera: CameraFrame) => {
  if (last?.time !== time || last.camera !== camera) last = { time, camera, inputs: inputsNow(time, camera) };
  return last.inputs;
};

/** The lights every lit surface reads, shared by all of them. */
export type LightUniforms = Readonly<Record<string, IUniform>>;

export const createPropMaterial = (
  shader: CompiledShader,
  settings: SurfaceSettings,
  lights: LightUniforms,
): PropMaterial => {
  const { vertex, fragment, layout } = shader.live;
  const pack = prepareLive(layout);
  const needs: ReadonlySet<Requirement> = new Set(requirementsOf(shader.program));
  /** The numbers that it has all of. */
  let taken: MaterialNumbers | null = null;
  let packOwn: ReturnType<typeof prepareLive> | null = null;
  let common: LiveNumbers = {
    floats: new Float32Array(layout.floats * 4),
    ints: new Int32Array(layout.ints * 4),
  };
  const live = { value: common.floats };
  const liveInt = { value: common.ints };
  const now = { value: 0 };
  const shared: Record<string, IUniform> = {
    ...lights,
    ...{ live, liveInt, time: now },
    timeStep: { value: TICK_SECONDS },
    boundsLow: { value: new Vector3() },
    boundsHigh: { value: new Vector3() },
    sceneDepthMap: { value: FAR },
    sceneColorMap: { value: GREY },
    surfaceDistanceMap: { value: NOWHERE },
    surfaceDistanceFrame: { value: new Matrix4() },
    ...Object.fromEntries(shader.live.textures.map((name) => [name, { value: null }])),
  };
  // three turns what is front round where only backs are drawn; a game that leaves fronts out does not.
  const backs =
    settings.sides === 'back' ? fragment.replaceAll('gl_FrontFacing', '(!gl_FrontFacing)') : fragment;
  const make = (picture: 0 | 1, drawn = fragment) =>
    new RawShaderMaterial({
      glslVersion: GLSL3,
      vertexShader: body(vertex),
      fragmentShader: body(drawn),
      uniforms: { ...shared, tap: { value: 0 }, picture: { value: picture } },
    });
  const surface = make(0, backs);
  const picture = make(1);
  picture.side = DoubleSide;
  picture.depthTest = false;
  picture.depthWrite = false;
  picture.blending = NoBlending;

  const edges = make(0);
  edges.wireframe = true;
  edges.uniforms['tap']!.value = EDGES_TAP;
  edges.blending = NoBlending;
  edges.depthWrite = false;

  const casts = settings.alphaMode === 'opaque' || settings.alphaMode === 'cutout';
  const caster =
    casts && (settings.alphaMode === 'cutout' || shader.program.outputs['vertexOffset']) ? make(0) : null;
  if (caster) {
    caster.side = DoubleSide;
    caster.blending = NoBlending;
    caster.colorWrite = false;
    caster.polygonOffset = true;
    caster.polygonOffsetFactor = 1.5;
    caster.polygonOffsetUnits = 4;
  }

  const settle = (tap: number) => {
    const finished = tap === 0;
    const costs = tap <= VIEW_TAPS.cost;
    const { alphaMode } = settings;
    surface.side = SIDES[settings.sides];
    surface.depthWrite = settings.depthWrite || !(finished || costs);
    blend(surface, finished || costs ? alphaMode : 'opaque');
    if (costs) {
      // Whatever is drawn is paid for: all that is drawn at a pixel, one over another.
      surface.blending = CustomBlending;
      surface.blendSrc = OneFactor;
      surface.blendDst = OneFactor;
      surface.blendSrcAlpha = OneFactor;
      surface.blendDstAlpha = OneFactor;
    }
    // Lines lie on their faces: these stand back a little.
    surface.polygonOffset = tap === VIEW_TAPS.wireframe;
    surface.polygonOffsetFactor = 1;
    surface.polygonOffsetUnits = 1;
    surface.uniforms['tap']!.value = tap;
  };
  settle(0);
  /** Its curves and gradients as they stand; one that was dragged to another is freed. */
  const tables = new Map<string, DataTexture>();
  const tableOf = (name: string, table: Float32Array): DataTexture => {
    const known = tables.get(name);
    if (known?.image.data === table) return known;
    known?.dispose();
    const made = tableTexture(table);
    tables.set(name, made);
    return made;
  };
  let overlay: RawShaderMaterial | null = null;
  const overTheFrame = (): RawShaderMaterial => {
    if (overlay) return overlay;
    overlay = make(0);
    overlay.side = DoubleSide;
    overlay.depthTest = false;
    overlay.depthWrite = false;
    blend(overlay, settings.alphaMode);
    return overlay;
  };
  const markAll = (): void => {
    for (const material of [surface, picture, edges, caster, overlay])
      if (material) material.uniformsNeedUpdate = true;
  };
  return {
    shader,
    surface,
    picture,
    edges,
    casts,
    caster,
    overlay: overTheFrame,
    needs,
    asks: needs.has('sceneColor') ? 'color' : needs.has('sceneDepth') ? 'depth' : null,
    setBehind: (behind) => {
      shared['sceneDepthMap']!.value = behind?.depth ?? FAR;
      shared['sceneColorMap']!.value = behind?.color ?? GREY;
      markAll();
    },
    setNumbers: (numbers, time, camera) => {
      if (numbers !== taken) {
        // While another program is on its way, numbers may be the new one's already; this one keeps its own.
        if (!knowsAll(numbers, shader)) return;
        taken = numbers;
        for (const name of shader.live.textures) {
          const table = numbers.tables?.get(name);
          shared[name]!.value = table ? tableOf(name, table) : (numbers.textures.get(name) ?? GREY);
        }
      }
      const { parameters, knobs } = numbers;
      common = pack({ parameters, knobs, inputs: inputsAt(time, camera) });
      live.value = common.floats;
      liveInt.value = common.ints;
      now.value = time;
      // Not marked: whatever is drawn into a target first is handed all of it anyway, and marked it would be twice.
    },
    numbersFor: (numbers, time, camera) => {
      packOwn ??= prepareLive(layout);
      const { floats, ints } = packOwn({ ...numbers, inputs: inputsAt(time, camera) });
      return { floats: floats.slice(), ints: ints.slice() };
    },
    lend: (own) => {
      const { floats, ints } = own ?? common;
      live.value = floats;
      liveInt.value = ints;
      markAll();
    },
    showTap: settle,
    dispose: () => {
      surface.dispose();
      picture.dispose();
      edges.dispose();
      caster?.dispose();
      overlay?.dispose();
      for (const table of tables.values()) table.dispose();
    },
  };
};
