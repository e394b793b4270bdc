import { PerspectiveCamera, Scene } from 'three';
import { OrbitControls } from 'three/addons/controls/OrbitControls.js';
import type { StageDocument } from '#core/document/project.ts';
import { VIEW_TAPS } from '#core/emit/glsl/fragmentStage.ts';
import type { MeshRecipe } from '#core/meshes/makeMesh.ts';
import { createField } from './field/createField.ts';
import { createHandles } from './handles.ts';
import { createGpuTimer } from './gpuTimer.ts';
import { createReadings } from './createReadings.ts';
import { leaveRenderer, takeRenderer } from './keptRenderer.ts';
import { createOverrun } from './overrun.ts';
import { createPacer } from './pacing.ts';
import { createPicker } from './pick.ts';
import { pictureRecipes } from './pictureMeshes.ts';
import { createFrames } from './passes/createFrames.ts';
import { createTargets } from './passes/targets.ts';
import { createEnvironment } from './scene/environment.ts';
import { createLights, setLens, setLights } from './scene/lights.ts';
import { createLayers } from './scene/layers.ts';
import { createMeshes } from './scene/meshes.ts';
import { createNumbers } from './scene/numbers.ts';
import { createPrograms } from './scene/programs.ts';
import type { CameraFrame, PropMaterial } from './scene/propMaterial.ts';
import { shownComponents, tapOf } from './shownComponents.ts';
import { createProps } from './scene/props.ts';
import { createStandIn } from './standIn.ts';
import { createSight } from './scene/inSight.ts';
import { createTextures } from './scene/textures.ts';
import { createEye } from './eye.ts';
import { createFraming } from './framing.ts';
import { isSameView } from './stage.ts';
import type { Stage, StageEvents, View } from './stage.ts';
import { createWalk } from './walk.ts';
import { readsTime } from './readsTime.ts';

/** What a program is linked on, out of sight. */
const PROBE: MeshRecipe = { kind: 'plane', size: [1, 1], divisions: [1, 1] };

/**
 * Makes a stage with a canvas of its own. It draws only when something changed.
 * @throws Error when the browser has no WebGL 2
 */
export const createStage = (
  events: StageEvents = {},
  /** False where distances to surfaces are only taken from earlier visits: a small picture is not worth baking them. */
  bakes = true,
): Stage => {
  const { renderer, held } = takeRenderer();
  const canvas = renderer.domElement;
  /** Programs of who drew with it before. */
  const before = [...held];
  renderer.autoClear = false;
  renderer.info.autoReset = false;
  const scene = new Scene();
  // Once it was moved is enough; the passes render it several times a frame.
  scene.matrixWorldAutoUpdate = false;
  const camera = new PerspectiveCamera(40, 1, 0.05, 200);
  const controls = new OrbitControls(camera, canvas);
  controls.enableDamping = false;
  controls.minDistance = 0.3;
  controls.maxDistance = 40;

  /** What is drawn is another now, and so are step pictures that were made before. */
  const changed = (): void => {
    invalidate();
    events.onChanged?.();
  };
  const meshes = createMeshes({
    onArrived: () => {
      place();
      events.onChanged?.();
    },
    onMissing: (why) => {
      events.onTrouble?.(why);
      framing.settle();
      invalidate();
    },
  });
  const lights = createLights();
  const environment = createEnvironment(renderer, lights, {
    onChanged: changed,
    onMissing: (why) => events.onTrouble?.(why),
  });
  const passes = createFrames(renderer, lights);
  const props = createProps(scene, meshes);
  const field = createField(renderer, meshes, {
    onChanged: changed,
    onRead: () => events.onChanged?.(),
    onBaking: (baking) => events.onBaking?.(baking),
    onLeftOut: (left) => events.onLeftOut?.(left),
    bakes,
  });

  let document: StageDocument | null = null;
  let time = 0;
  let size = '';
  let followsTime = false;
  let view: View = { tap: 0, material: null };
  let frames = 0;
  let disposed = false;
  const overrun = createOverrun();
  /** Materials whose last shader the driver refused. */
  const refused = new Set<string>();
  const targets = createTargets();

  const programs = createPrograms(renderer, camera, lights, () => meshes.geometryFor(PROBE), {
    onRefused: (id, shader, log) => {
      events.onRefused?.(id, shader, log);
      // Other trouble stands until it is over.
      if (log !== null) refused.add(id);
      else if (refused.delete(id)) events.onTrouble?.(null);
      // A refusal ends the wait too.
      invalidate();
    },
    onLinked: (id, isFirst) => {
      const { vertex, fragment } = programs.get(id)!.shader.live;
      if (overrun.changed(id, vertex + fragment, isFirst)) events.onMuted?.(overrun.muted());
      place();
      events.onChanged?.();
    },
    onCount: (links) => (canvas.dataset['links'] = String(links)),
  });

  const onLost = (event: Event) => {
    event.preventDefault();
    if (overrun.lost()) events.onMuted?.(overrun.muted());
    events.onTrouble?.(
      'The graphics card was taken away from the stage. It comes back by itself when it can.',
    );
  };
  const onRestored = () => {
    timer.renew();
    field.redraw();
    environment.redraw();
    events.onTrouble?.(null);
    invalidate();
  };
  canvas.addEventListener('webglcontextlost', onLost);
  canvas.addEventListener('webglcontextrestored', onRestored);

  const textures = createTextures(
    () => {
      numbers.arrived();
      changed();
    },
    () => {
      numbers.arrived();
      events.onTrouble?.('A picture of this material could not be loaded; it shows as plain grey.');
      invalidate();
    },
  );

  const numbers = createNumbers(textures);

  const eye = createEye(camera, controls, () => invalidate());
  const upload = (id: string, frame: CameraFrame, material = programs.get(id)): void => {
    const found = numbers.of(id);
    if (found) material?.setNumbers(found, time, frame);
  };

  const programOf = (id: string): PropMaterial | undefined =>
    overrun.isMuted(id) ? undefined : programs.get(id);
  const isInSight = createSight(camera, meshes.meshFor);
  const layers = createLayers(scene, meshes, programOf);

  const draw = (level: number) => {
    if (!document || isGone()) return;
    const began = performance.now();
    const target = targets.at(level);
    const seenFrom = eye.frame();
    setLens(lights, camera, target.width, target.height);
    for (const [id, material] of programs.entries()) upload(id, seenFrom, material);
    const components = shownComponents(view, programs.get);
    props.settle(camera, seenFrom);
    for (const prop of props.all())
      prop.object.visible =
        !prop.hidden &&
        !overrun.isMuted(prop.material) &&
        (components === 0 || view.material === null || prop.material === view.material) &&
        (prop.moved === null || isInSight(prop, prop.moved, numbers.of(prop.material), time, seenFrom));
    standIn.show(view.tap === 0 && components === 0);
    layers.update(seenFrom, time, {
      numbersOf: numbers.of,
      isSeen: (id) => components === 0 || view.material === null || id === view.material,
    });
    const cut = view.judged === 'field' ? (view.cut ?? null) : null;
    field.update(props.all(), props.asking(), cut !== null);
    const plane = cut && field.cut(props.all(), cut);
    if (cut) events.onReach?.(plane?.reach ?? null);
    const frame = {
      set: document,
      scene,
      programOf,
      programs: programs.entries(),
      camera,
      target,
      components,
    };
    // Where it stands was worked out for the frame, and each pass would do that again.
    camera.matrixWorldAutoUpdate = false;
    try {
      passes.draw({
        ...{ ...frame, judged: view.judged ?? null, edges: view.tap === VIEW_TAPS.wireframe },
        cut: handles.cut(cut, plane),
      });
    } finally {
      camera.matrixWorldAutoUpdate = true;
    }
    handles.draw(renderer);
    programs.afterDraw();
    // What both have is linked here too by now.
    if (programs.isComplete()) for (const each of before.splice(0)) each.dispose();
    frames += 1;
    events.onFrame?.(performance.now() - began);
  };

  const gpu = renderer.getContext() as WebGL2RenderingContext;
  const timer = createGpuTimer(gpu);
  const { invalidate, stop } = createPacer(
    canvas,
    gpu,
    (level) => timer.around(() => draw(level)),
    () =>
      programs.isLinking() ||
      field.isBaking() ||
      [meshes, environment, textures].some((each) => each.isComing()),
    // A set is looked at once its props can be drawn, not as an empty one first.
    () => programs.isLinking() || (programs.isEmpty() && (document?.props.length ?? 0) > 0),
  );
  controls.addEventListener('change', invalidate);
  const handles = createHandles(
    ...([camera, canvas, controls] as const),
    { all: props.all, meshFor: meshes.meshFor },
    { ...events, invalidate },
  );
  const picker = createPicker(renderer);
  const standIn = createStandIn(scene);
  const walk = createWalk(camera, canvas, controls, {
    ...{ all: props.all, meshFor: meshes.meshFor, invalidate, standIn: standIn.place },
  });
  const framing = createFraming(camera, controls, {
    ...{ all: props.all, isComing: meshes.isComing, look: eye.look },
    isInSet: (id) => document?.props.some((each) => each.id === id) ?? false,
  });

  /** Brings what stands on the stage in step with its document and its programs. */
  const place = () => {
    if (!document) return;
    props.sync(document.props, programs.get);
    meshes.keepOnly([
      ...[PROBE, ...layers.recipes()],
      ...document.props.flatMap(({ mesh }) => [mesh, ...pictureRecipes(mesh)]),
    ]);
    handles.follow();
    walk.wake();
    framing.settle();
    applyView();
    invalidate();
  };
  const applyView = () => {
    for (const [id, material] of programs.entries()) material.showTap(tapOf(view, id));
  };

  const isGone = (): boolean => disposed || renderer.getContext().isContextLost();
  const readings = createReadings({
    ...{ renderer, scene, camera, props, meshes, programs, numbers, field, targets, programOf, upload },
    ...{ cameraFrame: eye.frame, isGone, time: () => time, view: () => view, applyView },
    square: PROBE,
  });
  const pick: Stage['pick'] = (x, y) => {
    if (handles.isBusy() || isGone()) return null;
    const { clientWidth, clientHeight } = canvas;
    const seenFrom = eye.frame();
    for (const [id] of programs.entries()) upload(id, seenFrom);
    props.settle(camera, seenFrom);
    return picker.pick(
      scene,
      camera,
      props.all().filter((each) => !overrun.isMuted(each.material)),
      [x, y, clientWidth, clientHeight],
    );
  };

  return {
    canvas,
    setScene: (stage, wanted, awaits) => {
      const first = document === null;
      document = stage;
      setLights(lights, stage);
      environment.set(stage.environment);
      programs.sync(wanted, awaits);
      followsTime = [...wanted.values()].some(({ shader }) => readsTime(shader.program));
      numbers.keepOnly((id) => wanted.has(id));
      place();
      if (first) eye.place(stage.camera);
    },
    setNumbers: (id, wanted) => {
      if (numbers.set(id, wanted)) invalidate();
    },
    setLayers: (wanted) => {
      if (layers.isEmpty() && !wanted.length) return;
      layers.set(wanted);
      invalidate();
    },
    setTime: (seconds) => {
      if (seconds === time) return;
      time = seconds;
      // Where nothing follows the time the picture stands; what pins read is told frame by frame.
      if (followsTime || !layers.isEmpty() || document?.pins?.length) invalidate();
    },
    setView: (wanted) => {
      if (isSameView(view, wanted)) return;
      view = wanted;
      applyView();
      invalidate();
    },
    cancelBaking: field.cancel,
    resetCamera: () => {
      walk.set(false);
      if (document) eye.place(document.camera);
    },
    hold: handles.hold,
    pick,
    pinAt: (x, y) => {
      const prop = pick(x, y);
      const at =
        prop === null ? null : readings.spotUnder(prop, x / canvas.clientWidth, y / canvas.clientHeight);
      return prop !== null && at ? { prop, at } : null;
    },
    hitAt: (x, y) => {
      const prop = pick(x, y);
      return prop === null ? null : readings.hitUnder(prop, x / canvas.clientWidth, y / canvas.clientHeight);
    },
    ...readings.told,
    gpuTime: timer.read,
    frame: framing.ask,
    look: eye.look,
    film: (wanted) => !walk.isOn && eye.place(wanted),
    walk: walk.set,
    player: () => walk.seen() ?? eye.seen(),
    walkKey: walk.key,
    seen: eye.seen,
    resize: (w, h, pixelRatio) => {
      if (String([w, h, pixelRatio]) === size) return;
      size = String([w, h, pixelRatio]);
      renderer.setPixelRatio(pixelRatio);
      renderer.setSize(w, h, false);
      targets.resize(w * pixelRatio, h * pixelRatio);
      camera.aspect = w / Math.max(h, 1);
      camera.updateProjectionMatrix();
      invalidate();
    },
    counts: () => {
      const { programs: linked, memory } = renderer.info;
      const held = {
        programs: linked?.length ?? 0,
        textures: memory.textures,
        geometries: memory.geometries,
      };
      return { frames, links: programs.count(), held };
    },
    snapshot: async () => {
      await programs.settled();
      await meshes.settled();
      await environment.settled();
      if (isGone()) return null;
      draw(0);
      // What is far until it is known is drawn again once it is.
      if (field.isBaking()) {
        await field.settled();
        if (isGone()) return null;
        draw(0);
      }
      return new Promise((resolve) => canvas.toBlob(resolve, 'image/png'));
    },
    dispose: () => {
      disposed = true;
      stop();
      timer.dispose();
      walk.dispose();
      standIn.dispose();
      controls.dispose();
      handles.dispose();
      picker.dispose();
      canvas.removeEventListener('webglcontextlost', onLost);
      canvas.removeEventListener('webglcontextrestored', onRestored);
      layers.dispose();
      meshes.dispose();
      field.dispose();
      environment.dispose();
      targets.dispose();
      textures.dispose();
      readings.dispose();
      passes.dispose();
      leaveRenderer({ renderer, held: [...before, ...programs.leave()] });
    },
  };
};
