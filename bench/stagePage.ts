import {
  GLSL3,
  HalfFloatType,
  Mesh,
  OrthographicCamera,
  PerspectiveCamera,
  PlaneGeometry,
  RawShaderMaterial,
  Scene,
  Vector3,
  WebGLRenderer,
  WebGLRenderTarget,
} from 'three';
import { compileShader, handOver } from '#core/compileShader.ts';
import type { Prop, StageDocument } from '#core/document/project.ts';
import { sketchParameter, sketchShader } from '#core/document/sketch.ts';
import { makeMesh, type MeshRecipe } from '#core/meshes/makeMesh.ts';
import { createStage } from '#stage/createStage.ts';
import { drawSet, type Look } from '#ui/parts/drawSet.ts';
import { toGeometry } from '#stage/scene/geometry.ts';
import type { StageMaterial } from '#stage/stage.ts';

/** What is timed runs in the page, bundled as the application is. */

const PROPS = 200;
const MATERIALS = 40;
const [WIDTH, HEIGHT] = [96, 64];

const shaderOf = (bands: number) =>
  sketchShader(
    {
      glow: [
        ['value', { x: `sin(uv.x * ${bands}.0 + time) * 0.5 + 0.5` }],
        ['multiply', { y: 'tint' }],
      ],
    },
    { baseColor: 'vec3(0.0)', emission: 'glow' },
    [sketchParameter('tint', 'color', [1, 0.6, 0.2, 0])],
    { lit: false },
  );
const compiled = (bands: number): StageMaterial => {
  const { shader } = compileShader(shaderOf(bands), 'bench') as { shader?: StageMaterial['shader'] };
  if (!shader) throw new Error('the bench’s shader is wrong');
  return { shader, settings: shaderOf(bands).surface };
};
const mesh = (k: number): MeshRecipe => ({
  ...({ kind: 'sphere', divisions: [16, 12] } as const),
  radius: 0.2 + 0.01 * (k % 5),
});
const propAt = (k: number): Prop => ({
  ...{ id: `p${k}`, name: `p${k}`, mesh: mesh(k), material: `m${k % MATERIALS}`, rotation: [0, k, 0] },
  position: [(k % 20) - 9.5, Math.floor(k / 20) * 0.9 - 4, -2],
});
const set = (props: readonly Prop[]): StageDocument =>
  ({
    ...{ props, lights: [], ambientUp: [0, 0, 0], ambientDown: [0, 0, 0], exposure: 1 },
    camera: { position: [0, 0, 11], target: [0, 0, 0], fieldOfView: 50 },
    bloom: { threshold: 1, intensity: 0 },
  }) as unknown as StageDocument;

const canvasOf = (canvas = document.createElement('canvas')): HTMLCanvasElement => {
  canvas.width = WIDTH;
  canvas.height = HEIGHT;
  document.body.append(canvas);
  return canvas;
};
/** The renderer is software on the same machine: until it is done, it takes from what is timed. */
const quiet = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 60));
const frame = (): Promise<number> => new Promise((resolve) => requestAnimationFrame(resolve));
const rested = async (canvas: HTMLCanvasElement): Promise<void> => {
  while (canvas.dataset['rests'] !== 'yes') await frame();
};

const ours = async () => {
  let spent = 0;
  const stage = createStage({ onFrame: (script) => (spent = script) });
  const canvas = canvasOf(stage.canvas);
  stage.resize(WIDTH, HEIGHT, 1);
  const materials = new Map(Array.from({ length: MATERIALS }, (_, i) => [`m${i}`, compiled(10 + i)]));
  const props = Array.from({ length: PROPS }, (_, k) => propAt(k));
  const setNumbers = (): void => {
    for (const [id, { shader }] of materials)
      stage.setNumbers(id, {
        parameters: new Map([['tint', [1, 0.6, 0.2]]]),
        knobs: shader.knobs,
        tables: new Map(),
      });
  };
  stage.setScene(set(props), materials);
  setNumbers();
  await rested(canvas);
  let time = 0;
  return {
    ...{ stage, canvas, materials, props, setNumbers },
    /** Milliseconds of script for one frame with another time. */
    draw: async (): Promise<number> => {
      spent = 0;
      stage.setTime((time += 1 / 60));
      while (!spent) await frame();
      return spent;
    },
  };
};

/** The same picture as a person would draw it with three alone: props into a target, then the frame. */
const plain = () => {
  const canvas = canvasOf();
  const renderer = new WebGLRenderer({ canvas, antialias: false });
  renderer.setSize(WIDTH, HEIGHT, false);
  const scene = new Scene();
  const camera = new PerspectiveCamera(50, WIDTH / HEIGHT, 0.05, 200);
  camera.position.set(0, 0, 11);
  const materials = Array.from({ length: MATERIALS }, (_, i) => {
    const { source } = handOver(shaderOf(10 + i), 'bench');
    if (!source) throw new Error('the bench’s shader is wrong');
    // Three puts the version in itself.
    const bare = (text: string): string => text.replace(/^#version 300 es\n/, '');
    return new RawShaderMaterial({
      ...{ glslVersion: GLSL3, vertexShader: bare(source.vertex), fragmentShader: bare(source.fragment) },
      uniforms: { time: { value: 0 }, tint: { value: new Vector3(1, 0.6, 0.2) } },
    });
  });
  const geometries = Array.from({ length: 5 }, (_, k) => toGeometry(makeMesh(mesh(k))));
  for (let k = 0; k < PROPS; k += 1) {
    const object = new Mesh(geometries[k % 5], materials[k % MATERIALS]);
    object.position.fromArray([...propAt(k).position]);
    object.rotation.y = (k * Math.PI) / 180;
    scene.add(object);
  }
  const target = new WebGLRenderTarget(WIDTH, HEIGHT, { type: HalfFloatType });
  const finish = new RawShaderMaterial({
    glslVersion: GLSL3,
    vertexShader:
      'precision highp float; in vec3 position; out vec2 at; void main() { at = position.xy * 0.5 + 0.5; gl_Position = vec4(position, 1.0); }',
    fragmentShader:
      'precision highp float; in vec2 at; out vec4 color; uniform sampler2D source; void main() { color = vec4(pow(texture(source, at).rgb, vec3(1.0 / 2.2)), 1.0); }',
    uniforms: { source: { value: target.texture } },
    depthTest: false,
  });
  const whole = new Scene();
  whole.add(new Mesh(new PlaneGeometry(2, 2), finish));
  const flat = new OrthographicCamera(-1, 1, 1, -1, 0, 1);
  let time = 0;
  return {
    draw: async (): Promise<number> => {
      await frame();
      const began = performance.now();
      time += 1 / 60;
      for (const material of materials) material.uniforms['time']!.value = time;
      renderer.setRenderTarget(target);
      renderer.render(scene, camera);
      renderer.setRenderTarget(null);
      renderer.render(whole, flat);
      return performance.now() - began;
    },
  };
};

/** Both in turns, so that what slows the machine down slows both. */
const frames = async (stage: Awaited<ReturnType<typeof ours>>): Promise<number[]> => {
  const byHand = plain();
  for (let i = 0; i < 5; i += 1) await byHand.draw();
  const ratios: number[] = [];
  for (let i = 0; i < 60; i += 1) {
    await quiet();
    const mine = await stage.draw();
    await quiet();
    const hand = await byHand.draw();
    ratios.push(mine / hand);
  }
  return ratios;
};

/** One prop is moved: the frames until it is seen, and what was linked or made anew for it. */
const drag = async ({ stage, canvas, materials, props }: Awaited<ReturnType<typeof ours>>) => {
  const before = stage.counts();
  stage.setScene(
    set(props.map((each, k) => (k === 7 ? { ...each, position: [1, 2, -3] } : each))),
    materials,
  );
  let passed = 0;
  while (stage.counts().frames === before.frames) {
    await frame();
    passed += 1;
  }
  const { links, held } = stage.counts();
  await rested(canvas);
  stage.setScene(set(props), materials);
  await rested(canvas);
  return { frames: passed, made: links - before.links + held.geometries - before.held.geometries };
};

/** Shaders are edited and meshes swapped, and put back: what the stage holds then is what it held before. */
const leaks = async ({ stage, canvas, materials, props, setNumbers }: Awaited<ReturnType<typeof ours>>) => {
  const counts = () => stage.counts().held;
  const before = counts();
  for (let edit = 0; edit < 500; edit += 1) {
    stage.setScene(set(props), new Map([...materials, ['m3', compiled(100 + (edit % 50))]]));
    setNumbers();
    // Most give way to the next before they are linked, as while one types; some are drawn.
    if (edit % 10 === 9) await frame();
    if (edit % 100 === 99) await rested(canvas);
  }
  for (let swap = 0; swap < 50; swap += 1) {
    const mesh = {
      ...({ kind: 'cylinder', taper: 1, height: 0.3, divisions: [12, 2] } as const),
      radius: 0.1 + swap * 0.01,
    };
    stage.setScene(set(props.map((each, k) => (k % 5 ? each : { ...each, mesh }))), materials);
    await rested(canvas);
  }
  stage.setScene(set(props), materials);
  setNumbers();
  await rested(canvas);
  return { before, after: counts() };
};

/** What a contact sheet's pictures take, of as many frames of the same stage as it stands. */
const SHEET = [320, 200] as const;
const sheet = async (): Promise<number[]> => {
  const stage = createStage({}, false);
  const { canvas } = stage;
  const settings = compiled(10);
  const props = Array.from({ length: PROPS }, (_, k) => ({ ...propAt(k), material: 'm' }));
  const { parameters } = shaderOf(10);
  const look = (at: number): Look => ({
    ...{ material: 'm', ...settings, parameters, knobs: settings.shader.knobs, pictures: new Map() },
    authored: { values: { tint: [at, 0.6, 0.2, 0] }, shared: {} },
  });
  const picture = (at: number): Promise<Blob | null> => drawSet(stage, set(props), [look(at)], SHEET);
  await picture(0);
  await rested(canvas);
  const ratios: number[] = [];
  for (let turn = 0; turn < 3; turn += 1) {
    const spent: number[] = [];
    // A frame as it stands, and one as a cell of the sheet has it, each to the PNG: in turns.
    for (let i = 0; i < 25; i += 1)
      for (const work of [stage.snapshot, () => picture(i / 25)]) {
        const began = performance.now();
        await work();
        spent.push(performance.now() - began);
      }
    const sum = (of: 0 | 1): number => spent.reduce((all, x, i) => all + (i % 2 === of ? x : 0), 0);
    ratios.push(sum(1) / sum(0));
  }
  stage.dispose();
  return ratios;
};

Object.assign(window, {
  stageBench: async () => {
    const stage = await ours();
    const ratios = await frames(stage);
    return { ratios, drag: await drag(stage), leaks: await leaks(stage), sheet: await sheet() };
  },
});
