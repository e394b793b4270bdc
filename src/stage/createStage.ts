import {
  Box3,
  Color,
  Frustum,
  Matrix4,
  Mesh as MeshObject,
  PerspectiveCamera,
  Scene,
  Vector3,
  WebGLRenderer,
  type WebGLRenderTarget,
} from 'three';
import { OrbitControls } from 'three/addons/controls/OrbitControls.js';
import type { StageDocument } from '#core/document/project.ts';
import type { SurfaceSettings } from '#core/document/shader.ts';
import { componentsOf } from '#core/program/types.ts';
import { prepareMovedBounds } from '#core/analyse/movedBounds.ts';
import { coarse, type MeshRecipe } from '#core/meshes/makeMesh.ts';
import { TICK_SECONDS } from '#core/time/tick.ts';
import { QUALITIES } from './budget.ts';
import { createLights, setLights } from './lights.ts';
import { createMeshes } from './meshes.ts';
import { createPacer } from './pacing.ts';
import { createBloom, createPass, FINISH, hdrTarget } from './passes.ts';
import {
  createPropMaterial,
  type CameraFrame,
  type MaterialNumbers,
  type PropMaterial,
} from './propMaterial.ts';
import type { Stage, StageEvents, StageMaterial, View } from './stage.ts';
import { createTapPictures } from './tapPictures.ts';
import { createTextures } from './textures.ts';

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

/** Step pictures are small: a coarser mesh shows the same values, and is drawn once for every step. */
const FEW = 48;

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
  const camera = new PerspectiveCamera(40, 1, 0.05, 200);
  const controls = new OrbitControls(camera, canvas);
  controls.enableDamping = false;
  controls.minDistance = 0.3;
  controls.maxDistance = 40;

  const lights = createLights();

  let document: StageDocument | null = null;
  let time = 0;
  let view: View = { tap: 0, material: null };
  let width = 1;
  let height = 1;
  let frames = 0;
  let links = 0;
  let disposed = false;
  /** What the driver said of the program being linked, where it refused it. */
  let refusal: string | null = null;
  const targets = new Map<number, WebGLRenderTarget>();
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

  const textures = createTextures(
    () => {
      invalidate();
      events.onPicture?.();
    },
    () => events.onTrouble?.('A picture of this material could not be loaded; it shows as plain grey.'),
  );

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
    const bounds = prop.moved(meshes.meshFor(prop.recipe), prop.object.matrixWorld.elements, {
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

  const pacer = createPacer(canvas, renderer.getContext() as WebGL2RenderingContext, draw);
  const { invalidate } = pacer;
  controls.addEventListener('change', invalidate);

  const meshes = createMeshes();

  const placeCamera = (stage: StageDocument) => {
    camera.fov = stage.camera.fieldOfView;
    camera.position.fromArray([...stage.camera.position]);
    controls.target.fromArray([...stage.camera.target]);
    camera.updateProjectionMatrix();
    controls.update();
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
    const probe = new MeshObject(meshes.geometryFor(PROBE), made.surface);
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
  const PROBE: MeshRecipe = { kind: 'plane', size: [1, 1], divisions: [1, 1] };

  const setScene: Stage['setScene'] = (stage, wanted) => {
    const first = document === null;
    document = stage;
    setLights(lights, stage);
    for (const [id, material] of wanted) adopt(id, material);
    for (const prop of props) scene.remove(prop.object);
    props = stage.props.flatMap((prop) => {
      const material = materials.get(prop.material);
      if (!material) return [];
      const object = new MeshObject(meshes.geometryFor(prop.mesh), material.surface);
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

  const tapPictures = createTapPictures(renderer, camera);
  const pictures: Stage['pictures'] = async (id, asked, size) => {
    const material = materials.get(id);
    const prop = props.find((each) => each.material === id);
    if (!material || !prop || !asked.length || disposed || renderer.getContext().isContextLost()) return [];
    upload(id, cameraFrame());
    prop.object.updateMatrixWorld();
    const geometry = meshes.geometryFor(coarse(prop.recipe, FEW));
    return tapPictures.take(material, geometry, prop.object.matrixWorld, asked, size);
  };

  return {
    setScene,
    setNumbers: (id, { pictures: addresses, ...given }) => {
      const sampled = new Map(
        [...(addresses ?? [])].map(([name, address]) => [name, textures.textureAt(address)]),
      );
      numbers.set(id, { ...given, textures: sampled });
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
      pacer.stop();
      controls.dispose();
      canvas.removeEventListener('webglcontextlost', onLost);
      canvas.removeEventListener('webglcontextrestored', onRestored);
      for (const material of materials.values()) material.dispose();
      meshes.dispose();
      for (const target of targets.values()) target.dispose();
      textures.dispose();
      tapPictures.dispose();
      bloom.dispose();
      finish.dispose();
      renderer.dispose();
    },
  };
};
