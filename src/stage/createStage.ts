import {
  Box3,
  type BufferGeometry,
  Color,
  FloatType,
  Frustum,
  Matrix4,
  Mesh as MeshObject,
  NearestFilter,
  NoColorSpace,
  PerspectiveCamera,
  RepeatWrapping,
  Scene,
  TextureLoader,
  Vector3,
  Vector4,
  WebGLRenderer,
  WebGLRenderTarget,
  type IUniform,
  type Texture,
} from 'three';
import { OrbitControls } from 'three/addons/controls/OrbitControls.js';
import type { CompiledShader } from '#core/compileShader.ts';
import type { StageDocument } from '#core/document/project.ts';
import type { SurfaceSettings } from '#core/document/shader.ts';
import { LIGHTS } from '#core/emit/glsl/lighting.ts';
import { componentsOf } from '#core/program/types.ts';
import { prepareMovedBounds } from '#core/analyse/movedBounds.ts';
import { makeMesh, type Mesh, type MeshRecipe } from '#core/meshes/makeMesh.ts';
import { TICK_SECONDS } from '#core/rehearse/tick.ts';
import { QUALITIES, spend, startBudget } from './budget.ts';
import { toGeometry } from './geometry.ts';
import { createBloom, createPass, FINISH, hdrTarget } from './passes.ts';
import {
  createPropMaterial,
  type CameraFrame,
  type MaterialNumbers,
  type PropMaterial,
} from './propMaterial.ts';

/** What the stage shows: the finished picture, one tap of one material, or a view of the surface. */
export interface View {
  /** Tap number in its shader; 0 is the finished picture, negative numbers are views of the surface. */
  readonly tap: number;
  /** The material whose tap is shown; the others leave the stage meanwhile. Null shows all. */
  readonly material: string | null;
}

export interface StageMaterial {
  readonly shader: CompiledShader;
  readonly settings: SurfaceSettings;
}

/** A material's numbers, and where the picture of each texture comes from. */
export interface StageNumbers extends Omit<MaterialNumbers, 'textures'> {
  readonly pictures?: ReadonlyMap<string, string>;
}

/** A rendered step: four floats a pixel, bottom row first, as `measureTap` and `paintTap` read them. */
export interface TapPicture {
  readonly tap: number;
  readonly components: number;
  readonly rgba: Float32Array;
}

export interface StageCounts {
  readonly frames: number;
  /** Programs linked by the GPU since the stage was made. */
  readonly links: number;
}

export interface Stage {
  /** Sets what stands on the stage. Materials without a working shader keep their last good one. */
  readonly setScene: (stage: StageDocument, materials: ReadonlyMap<string, StageMaterial>) => void;
  /** Sets a material's numbers; shows in the next frame, compiles nothing. */
  readonly setNumbers: (material: string, numbers: StageNumbers) => void;
  readonly setTime: (seconds: number) => void;
  readonly setView: (view: View) => void;
  readonly resetCamera: () => void;
  /** Draws the wanted taps of a material over its prop, laid out by uv. */
  readonly pictures: (material: string, taps: readonly number[], size: number) => Promise<TapPicture[]>;
  readonly resize: (width: number, height: number, pixelRatio: number) => void;
  readonly counts: () => StageCounts;
  /** Draws at once and gives the picture as a PNG. */
  readonly snapshot: () => Promise<Blob | null>;
  readonly dispose: () => void;
}

export interface StageEvents {
  /** The driver refused a material's shader, and what it said; null once it takes one. */
  readonly onRefused?: (material: string, shader: CompiledShader, log: string | null) => void;
  /** The GPU went away or came back, or a picture could not be loaded. */
  readonly onTrouble?: (sentence: string | null) => void;
  readonly onFrame?: () => void;
  /** A picture has arrived, and step pictures that read it are out of date. */
  readonly onPicture?: () => void;
}

/** A driver counts the lines that three set before our source; ours begins with its version, then this line. */
const SECOND_LINE = 'precision highp float;';
const inOurLines = (drawn: string | null, log: string | null): string | null => {
  const before = (drawn ?? '').split('\n').indexOf(SECOND_LINE) - 1;
  return log?.replace(/ERROR: 0:(\d+)/g, (_, line: string) => `ERROR: 0:${Number(line) - before}`) ?? null;
};

/** The neutral grey around the props, as displayed. */
const SURROUND = 0x1b / 255;
/** Linear light that the filmic curve brings to about the surround's grey. */
const SURROUND_LIGHT = 0.021;

interface PlacedProp {
  readonly material: string;
  readonly object: MeshObject;
  readonly recipe: MeshRecipe;
  /** Finds where its offset takes it, for what its shader is now. */
  readonly moved: ReturnType<typeof prepareMovedBounds> | null;
}

/**
 * Makes the stage on a canvas. It draws only when something changed.
 * @throws Error when the browser has no WebGL 2
 */
export const createStage = (canvas: HTMLCanvasElement, events: StageEvents = {}): Stage => {
  const renderer = new WebGLRenderer({ canvas, antialias: false, alpha: false, preserveDrawingBuffer: true });
  renderer.autoClear = false;
  renderer.info.autoReset = false;
  const finish = createPass(
    renderer,
    ['source', 'depth', 'bloom', 'bloomIntensity', 'exposure', 'components', 'surround'],
    FINISH,
  );
  const bloom = createBloom(renderer);
  const scene = new Scene();
  const pictureScene = new Scene();
  const camera = new PerspectiveCamera(40, 1, 0.05, 200);
  const controls = new OrbitControls(camera, canvas);
  controls.enableDamping = false;
  controls.minDistance = 0.3;
  controls.maxDistance = 40;

  const lights: Record<string, IUniform> = {
    lightCount: { value: 0 },
    lightPosition: { value: Array.from({ length: LIGHTS }, () => new Vector4()) },
    lightColor: { value: Array.from({ length: LIGHTS }, () => new Vector3()) },
    ambientUp: { value: new Vector3() },
    ambientDown: { value: new Vector3() },
  };

  let document: StageDocument | null = null;
  let time = 0;
  let view: View = { tap: 0, material: null };
  let width = 1;
  let height = 1;
  let budget = startBudget;
  let frames = 0;
  let links = 0;
  let scheduled = 0;
  let settle = 0;
  let disposed = false;
  /** What the driver said of the program being linked, where it refused it. */
  let refusal: string | null = null;
  const targets = new Map<number, WebGLRenderTarget>();
  const geometries = new Map<string, BufferGeometry>();
  const materials = new Map<string, PropMaterial>();
  const numbers = new Map<string, MaterialNumbers>();
  let props: PlacedProp[] = [];

  renderer.debug.onShaderError = (gl, program, vertex, fragment) => {
    const log = [
      gl.getShaderInfoLog(vertex),
      inOurLines(gl.getShaderSource(fragment), gl.getShaderInfoLog(fragment)),
      gl.getProgramInfoLog(program),
    ];
    refusal = log.filter(Boolean).join(' ').trim() || 'it gave no reason';
  };
  const onLost = (event: Event) => {
    event.preventDefault();
    events.onTrouble?.(
      'The graphics card was taken away from the stage. It comes back by itself when it can.',
    );
  };
  const onRestored = () => {
    events.onTrouble?.(null);
    invalidate();
  };
  canvas.addEventListener('webglcontextlost', onLost);
  canvas.addEventListener('webglcontextrestored', onRestored);

  const loader = new TextureLoader();
  const loaded = new Map<string, Texture>();
  /** A picture by its address, loaded once. Its bytes are numbers: nothing is converted from sRGB. */
  const textureAt = (address: string): Texture => {
    let texture = loaded.get(address);
    if (!texture) {
      texture = loader.load(
        address,
        () => {
          invalidate();
          events.onPicture?.();
        },
        undefined,
        () => events.onTrouble?.('A picture of this material could not be loaded; it shows as plain grey.'),
      );
      texture.wrapS = RepeatWrapping;
      texture.wrapT = RepeatWrapping;
      texture.colorSpace = NoColorSpace;
      loaded.set(address, texture);
    }
    return texture;
  };

  const targetFor = (level: number): WebGLRenderTarget => {
    let target = targets.get(level);
    if (!target) {
      const { scale, samples } = QUALITIES[level]!;
      target = hdrTarget(Math.max(1, Math.round(width * scale)), Math.max(1, Math.round(height * scale)), {
        depth: true,
        samples,
      });
      targets.set(level, target);
    }
    return target;
  };

  const axis = new Vector3();
  const cameraFrame = (): CameraFrame => {
    camera.updateMatrixWorld();
    const column = (i: number) => axis.setFromMatrixColumn(camera.matrixWorld, i).toArray();
    return { position: camera.position.toArray(), right: column(0), up: column(1), back: column(2) };
  };
  const upload = (id: string, frame: CameraFrame) => {
    const found = numbers.get(id);
    if (found) materials.get(id)?.setNumbers(found, time, frame);
  };

  const tapComponents = (): number => {
    if (view.tap === 0) return 0;
    if (view.tap === -1) return 3;
    if (view.tap === -2) return 2;
    const shader = view.material ? materials.get(view.material)?.shader : undefined;
    const tap = shader?.program.taps[view.tap - 1];
    return tap ? Math.min(componentsOf(tap.value.type), 3) : 0;
  };

  const draw = (level: number) => {
    if (!document || disposed || renderer.getContext().isContextLost()) return;
    const frame = cameraFrame();
    for (const [id, material] of materials) {
      upload(id, frame);
      material.setResolution(targetFor(level).width, targetFor(level).height);
    }
    const components = tapComponents();
    for (const prop of props)
      prop.object.visible =
        (components === 0 || view.material === null || prop.material === view.material) &&
        isSeen(prop, frame);
    const target = targetFor(level);
    renderer.setRenderTarget(target);
    renderer.setClearColor(new Color(0, 0, 0), 0);
    renderer.clear();
    renderer.render(scene, camera);
    const spread = bloom.spread(target.texture, target.width, target.height, document.bloom.threshold);
    finish.draw(
      {
        source: target.texture,
        depth: target.depthTexture,
        bloom: spread,
        bloomIntensity: document.bloom.intensity,
        exposure: document.exposure,
        components,
        surround: new Vector3().setScalar(components === 0 ? SURROUND_LIGHT : SURROUND),
      },
      null,
    );
    for (const material of retired.splice(0)) material.dispose();
    frames += 1;
    canvas.dataset['frames'] = String(frames);
    events.onFrame?.();
  };

  const frustum = new Frustum();
  const projected = new Matrix4();
  const box = new Box3();
  /** Whether a prop whose mesh is moved can be in the picture; the rest is left to three. */
  const isSeen = (prop: PlacedProp, frame: CameraFrame): boolean => {
    const found = numbers.get(prop.material);
    if (!prop.moved || !found) return true;
    prop.object.updateMatrixWorld();
    const bounds = prop.moved(meshFor(prop.recipe), prop.object.matrixWorld.elements, {
      parameters: found.parameters,
      knobs: found.knobs,
      inputs: {
        time: [time],
        timeStep: [TICK_SECONDS],
        cameraPosition: frame.position,
        cameraRight: frame.right,
        cameraUp: frame.up,
        cameraBack: frame.back,
      },
    });
    if (!bounds) return true;
    frustum.setFromProjectionMatrix(
      projected.multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse),
    );
    return frustum.intersectsBox(box.set(new Vector3(...bounds.low), new Vector3(...bounds.high)));
  };

  /** Calls back when the graphics card has done all it was given so far. */
  const whenDone = (then: () => void) => {
    const gl = renderer.getContext() as WebGL2RenderingContext;
    const fence = gl.isContextLost() ? null : gl.fenceSync(gl.SYNC_GPU_COMMANDS_COMPLETE, 0);
    if (!fence) {
      then();
      return;
    }
    gl.flush();
    const look = () => {
      const state = disposed || gl.isContextLost() ? gl.ALREADY_SIGNALED : gl.clientWaitSync(fence, 0, 0);
      if (state === gl.TIMEOUT_EXPIRED) setTimeout(look, 4);
      else {
        gl.deleteSync(fence);
        then();
      }
    };
    setTimeout(look, 1);
  };

  let inFlight = false;
  let wanted = false;
  /** One frame at a time: a queue of them would only make the picture late. */
  const drawAlone = (level: number, spent: (milliseconds: number) => void) => {
    wanted = false;
    inFlight = true;
    const began = performance.now();
    draw(level);
    whenDone(() => {
      inFlight = false;
      spent(performance.now() - began);
      if (wanted) invalidate();
    });
  };
  /** The best quality this machine draws a resting picture with; stepped down once if that keeps it busy. */
  let resting = 0;
  const rest = () => {
    if (scheduled || inFlight || wanted) return;
    drawAlone(resting, (spent) => {
      if (spent > 250 && resting === 0) {
        resting = 1;
        rest();
      } else if (!wanted) canvas.dataset['rests'] = 'yes';
    });
  };
  const onTick = () => {
    scheduled = 0;
    drawAlone(budget.level, (spent) => {
      budget = spend(budget, spent);
      // Once nothing has changed for a while, one last frame at full quality.
      clearTimeout(settle);
      settle = window.setTimeout(rest, 180);
    });
  };
  const invalidate = () => {
    wanted = true;
    canvas.dataset['rests'] = 'no';
    clearTimeout(settle);
    if (!scheduled && !inFlight && !disposed) scheduled = requestAnimationFrame(onTick);
  };
  controls.addEventListener('change', invalidate);

  const meshes = new Map<string, Mesh>();
  const meshFor = (recipe: MeshRecipe): Mesh => {
    const key = JSON.stringify(recipe);
    const mesh = meshes.get(key) ?? makeMesh(recipe);
    meshes.set(key, mesh);
    return mesh;
  };
  const geometryFor = (recipe: MeshRecipe): BufferGeometry => {
    const key = JSON.stringify(recipe);
    let geometry = geometries.get(key);
    if (!geometry) geometries.set(key, (geometry = toGeometry(meshFor(recipe))));
    return geometry;
  };

  const placeCamera = (stage: StageDocument) => {
    camera.fov = stage.camera.fieldOfView;
    camera.position.fromArray([...stage.camera.position]);
    controls.target.fromArray([...stage.camera.target]);
    camera.updateProjectionMatrix();
    controls.update();
  };

  const setLights = (stage: StageDocument) => {
    lights['lightCount']!.value = Math.min(stage.lights.length, LIGHTS);
    stage.lights.slice(0, LIGHTS).forEach((light, i) => {
      (lights['lightPosition']!.value as Vector4[])[i]!.set(
        ...light.position,
        light.kind === 'point' ? 1 : 0,
      );
      const [r, g, b] = light.color;
      (lights['lightColor']!.value as Vector3[])[i]!.set(r, g, b).multiplyScalar(light.intensity);
    });
    (lights['ambientUp']!.value as Vector3).fromArray([...stage.ambientUp]);
    (lights['ambientDown']!.value as Vector3).fromArray([...stage.ambientDown]);
  };

  /** Links a new program out of sight; a refused one is dropped and the last good one stays. */
  const adopt = (id: string, wanted: StageMaterial) => {
    const before = materials.get(id);
    if (
      before &&
      before.shader.live.fragment === wanted.shader.live.fragment &&
      before.shader.live.vertex === wanted.shader.live.vertex &&
      sameSettings(before, wanted)
    ) {
      if (before.shader !== wanted.shader) {
        // Same source, other document: knob names or tap order may differ, the GPU's program does not.
        const again = createPropMaterial(wanted.shader, wanted.settings, lights);
        materials.set(id, again);
        settingsOf.set(again, wanted.settings);
        retire(before);
      }
      return;
    }
    const made = createPropMaterial(wanted.shader, wanted.settings, lights);
    settingsOf.set(made, wanted.settings);
    refusal = null;
    const probe = new MeshObject(geometryFor(PROBE), made.surface);
    probe.frustumCulled = false;
    renderer.compile(probe, camera);
    links += 1;
    canvas.dataset['links'] = String(links);
    // Reading the link's result waits for it, and tells a refusal from a success.
    const programs = renderer.info.programs ?? [];
    for (const program of programs) (program as unknown as { getUniforms: () => unknown }).getUniforms();
    if (refusal !== null) {
      events.onRefused?.(id, wanted.shader, refusal);
      made.dispose();
      return;
    }
    events.onRefused?.(id, wanted.shader, null);
    if (before) events.onTrouble?.(null);
    materials.set(id, made);
    if (before) retire(before);
  };
  const settingsOf = new WeakMap<PropMaterial, SurfaceSettings>();
  const sameSettings = (before: PropMaterial, wanted: StageMaterial) =>
    JSON.stringify(settingsOf.get(before)) === JSON.stringify(wanted.settings);
  /** Freed after the next draw: until its follower has been drawn, a program they share would be linked again. */
  const retired: PropMaterial[] = [];
  const retire = (before: PropMaterial) => retired.push(before);
  const PROBE: MeshRecipe = { kind: 'plane', size: [1, 1], divisions: [1, 1], folds: 0, depth: 0 };

  /** Step pictures are small: a coarser mesh shows the same values, and is drawn once for every step. */
  const coarse = (recipe: MeshRecipe): MeshRecipe => ({
    ...recipe,
    divisions: [Math.min(recipe.divisions[0], 48), Math.min(recipe.divisions[1], 24)],
  });

  const setScene: Stage['setScene'] = (stage, wanted) => {
    const first = document === null;
    document = stage;
    setLights(stage);
    for (const [id, material] of wanted) adopt(id, material);
    for (const prop of props) scene.remove(prop.object);
    props = stage.props.flatMap((prop) => {
      const material = materials.get(prop.material);
      if (!material) return [];
      const object = new MeshObject(geometryFor(prop.mesh), material.surface);
      object.position.fromArray([...prop.position]);
      object.rotation.set(...(prop.rotation.map((d) => (d * Math.PI) / 180) as [number, number, number]));
      const offset = material.shader.program.outputs['vertexOffset'];
      // What an offset moves is looked for where it is, not where it was.
      object.frustumCulled = !offset;
      const { boundingBox } = object.geometry;
      object.onBeforeRender = () => {
        const { boundsLow, boundsHigh } = material.surface.uniforms;
        (boundsLow!.value as Vector3).copy(boundingBox!.min);
        (boundsHigh!.value as Vector3).copy(boundingBox!.max);
        material.surface.uniformsNeedUpdate = true;
      };
      scene.add(object);
      return [
        {
          material: prop.material,
          object,
          recipe: prop.mesh,
          moved: offset ? prepareMovedBounds(offset) : null,
        },
      ];
    });
    applyView();
    if (first) placeCamera(stage);
    invalidate();
  };

  const applyView = () => {
    for (const [id, material] of materials)
      material.showTap(view.material === null || view.material === id ? view.tap : 0);
  };

  let atlas: WebGLRenderTarget | null = null;
  const atlasFor = (columns: number, rows: number, size: number): WebGLRenderTarget => {
    if (!atlas || atlas.width !== columns * size || atlas.height !== rows * size) {
      atlas?.dispose();
      atlas = new WebGLRenderTarget(columns * size, rows * size, {
        type: FloatType,
        magFilter: NearestFilter,
        minFilter: NearestFilter,
        depthBuffer: false,
      });
    }
    return atlas;
  };

  const pictures: Stage['pictures'] = async (id, asked, size) => {
    const material = materials.get(id);
    const prop = props.find((each) => each.material === id);
    if (!material || !prop || !asked.length || disposed || renderer.getContext().isContextLost()) return [];
    upload(id, cameraFrame());
    // Steps that stand for the same value share one picture.
    const valueOf = (tap: number) => material.shader.program.taps[tap - 1]?.value ?? null;
    const firsts = new Map(asked.map((tap) => [valueOf(tap), tap]));
    const taps = [...firsts.values()];
    const columns = Math.min(taps.length, 8);
    const rows = Math.ceil(taps.length / columns);
    const target = atlasFor(columns, rows, size);
    const object = new MeshObject(geometryFor(coarse(prop.recipe)), material.picture);
    object.frustumCulled = false;
    object.matrixAutoUpdate = false;
    prop.object.updateMatrixWorld();
    object.matrix.copy(prop.object.matrixWorld);
    pictureScene.add(object);
    renderer.setClearColor(new Color(-3.3e38, 0, 0), 1);
    target.scissorTest = false;
    target.viewport.set(0, 0, target.width, target.height);
    renderer.setRenderTarget(target);
    renderer.clear();
    target.scissorTest = true;
    taps.forEach((tap, i) => {
      target.viewport.set((i % columns) * size, Math.floor(i / columns) * size, size, size);
      target.scissor.copy(target.viewport);
      material.picture.uniforms['tap']!.value = tap;
      material.picture.uniformsNeedUpdate = true;
      renderer.setRenderTarget(target);
      renderer.render(pictureScene, camera);
    });
    pictureScene.remove(object);
    renderer.setRenderTarget(null);
    const all = new Float32Array(target.width * target.height * 4);
    await renderer.readRenderTargetPixelsAsync(target, 0, 0, target.width, target.height, all);
    const drawn = taps.map((tap, i) => {
      const rgba = new Float32Array(size * size * 4);
      const left = (i % columns) * size;
      const low = Math.floor(i / columns) * size;
      for (let y = 0; y < size; y += 1) {
        const from = ((low + y) * target.width + left) * 4;
        rgba.set(all.subarray(from, from + size * 4), y * size * 4);
      }
      const value = valueOf(tap);
      return { tap, components: value ? Math.min(componentsOf(value.type), 4) : 1, rgba };
    });
    return asked.map((tap) => ({ ...drawn[taps.indexOf(firsts.get(valueOf(tap))!)]!, tap }));
  };

  return {
    setScene,
    setNumbers: (id, { pictures: addresses, ...given }) => {
      const textures = new Map([...(addresses ?? [])].map(([name, address]) => [name, textureAt(address)]));
      numbers.set(id, { ...given, textures });
      invalidate();
    },
    setTime: (seconds) => {
      if (seconds === time) return;
      time = seconds;
      invalidate();
    },
    setView: (wanted) => {
      view = wanted;
      applyView();
      invalidate();
    },
    resetCamera: () => {
      if (document) placeCamera(document);
      invalidate();
    },
    pictures,
    resize: (w, h, pixelRatio) => {
      renderer.setPixelRatio(pixelRatio);
      renderer.setSize(w, h, false);
      width = Math.max(1, Math.round(w * pixelRatio));
      height = Math.max(1, Math.round(h * pixelRatio));
      camera.aspect = w / Math.max(h, 1);
      camera.updateProjectionMatrix();
      for (const target of targets.values()) target.dispose();
      targets.clear();
      invalidate();
    },
    counts: () => ({ frames, links }),
    snapshot: async () => {
      draw(0);
      return new Promise((resolve) => canvas.toBlob(resolve, 'image/png'));
    },
    dispose: () => {
      disposed = true;
      cancelAnimationFrame(scheduled);
      clearTimeout(settle);
      controls.dispose();
      canvas.removeEventListener('webglcontextlost', onLost);
      canvas.removeEventListener('webglcontextrestored', onRestored);
      for (const material of materials.values()) material.dispose();
      for (const geometry of geometries.values()) geometry.dispose();
      for (const target of targets.values()) target.dispose();
      for (const texture of loaded.values()) texture.dispose();
      atlas?.dispose();
      bloom.dispose();
      finish.dispose();
      renderer.dispose();
    },
  };
};
