import assert from 'node:assert/strict';
import { test } from 'node:test';
import { PerspectiveCamera, Vector3 } from 'three';
import type { OrbitControls } from 'three/addons/controls/OrbitControls.js';
import { makeMesh } from '#core/meshes/makeMesh.ts';
import { QUALITIES, spend, startBudget, type Budget } from './budget.ts';
import { createEye } from './eye.ts';
import { toGeometry } from './scene/geometry.ts';
import { orderPasses } from './passes/orderPasses.ts';
import type { Frame, PassDeclaration } from './passes/pass.ts';
import { createMeshes } from './scene/meshes.ts';
import { createPacer } from './pacing.ts';

const after = (budget: Budget, frames: readonly number[]): Budget => frames.reduce(spend, budget);

test('one late frame is let pass, two in a row make the next coarser', () => {
  assert.equal(after(startBudget, [40]).level, startBudget.level);
  assert.equal(after(startBudget, [40, 16, 40]).level, startBudget.level);
  assert.equal(after(startBudget, [40, 40]).level, startBudget.level + 1);
});

test('a frame far too late needs no second, and the coarsest is the end', () => {
  assert.equal(after(startBudget, [500]).level, startBudget.level + 2);
  const worst = QUALITIES.length - 1;
  assert.equal(after(startBudget, [500, 500, 500, 500]).level, worst);
});

test('finer comes back only after a long run of easy frames, and never the finest of all while it runs', () => {
  const coarse = after(startBudget, [500]);
  const easy = (n: number) => new Array<number>(n).fill(5);
  assert.equal(after(coarse, easy(60)).level, coarse.level);
  assert.equal(after(coarse, easy(61)).level, coarse.level - 1);
  assert.equal(after(coarse, [...easy(60), 20, ...easy(60)]).level, coarse.level);
  assert.equal(after(coarse, easy(1000)).level, 1);
});

test('a geometry carries all that sources read, on the mesh’s own numbers', () => {
  const mesh = makeMesh({ kind: 'plane', size: [4, 2], divisions: [2, 1] });
  const geometry = toGeometry(mesh);
  const corners = mesh.positions.length / 3;
  for (const [name, size] of [
    ['a_position', 3],
    ['a_normal', 3],
    ['a_uv', 2],
    ['a_uv2', 2],
    ['a_tangent', 4],
    ['a_stretch', 2],
    ['a_color', 4],
  ] as const) {
    const attribute = geometry.getAttribute(name);
    assert.equal(attribute.itemSize, size, name);
    assert.equal(attribute.count, corners, name);
  }
  assert.equal(geometry.getAttribute('a_color').getX(0), 1);
  assert.deepEqual(geometry.boundingBox!.min.toArray(), [-2, 0, 0]);
  assert.deepEqual(geometry.boundingBox!.max.toArray(), [2, 2, 0]);
  assert.equal(geometry.getIndex()!.count, 2 * 1 * 6);
});

test('nothing is drawn when nothing changed, and once however much did', async (t) => {
  let [now, takes] = [0, 0];
  t.mock.method(performance, 'now', () => now);
  const ticks: (() => void)[] = [];
  const page = globalThis as unknown as Record<string, unknown>;
  page['window'] = globalThis;
  page['requestAnimationFrame'] = (then: () => void) => ticks.push(then);
  page['cancelAnimationFrame'] = () => ticks.splice(0);
  const canvas = { dataset: {} as Record<string, string> };
  const gl = { isContextLost: () => false, fenceSync: () => null, getExtension: () => null };
  const drawn: number[] = [];
  const pacer = createPacer(
    canvas as unknown as HTMLCanvasElement,
    gl as unknown as WebGL2RenderingContext,
    (level) => {
      drawn.push(level);
      now += takes;
    },
  );
  const frame = () => ticks.splice(0).forEach((then) => then());
  const later = () => new Promise((done) => setTimeout(done, 260));

  frame();
  assert.deepEqual(drawn, [], 'not before something is asked for');
  pacer.invalidate();
  pacer.invalidate();
  frame();
  assert.equal(drawn.length, 1, 'two changes, one frame');
  assert.equal(canvas.dataset['rests'], 'no');
  await later();
  assert.deepEqual(drawn.slice(1), [0], 'then one of the best quality');
  assert.equal(canvas.dataset['rests'], 'yes');
  frame();
  await later();
  assert.equal(drawn.length, 2, 'and no more');
  takes = 90;
  pacer.invalidate();
  frame();
  await later();
  assert.deepEqual(drawn.slice(2), [1, 1], 'where a plain frame takes long, the last is plain too');
  takes = 0;
  pacer.invalidate();
  frame();
  await later();
  assert.deepEqual(drawn.slice(4), [1, 0], 'and of the best quality again where it no longer does');
  drawn.length = 2;
  pacer.invalidate();
  pacer.stop();
  frame();
  await later();
  assert.equal(drawn.length, 2, 'nor after the stage is gone');
});

test('while programs are on their way a stage waits: so long and no longer, and by the driver’s name it begins coarse', (t) => {
  let [now, linking] = [0, true];
  t.mock.method(performance, 'now', () => now);
  const ticks: (() => void)[] = [];
  const page = globalThis as unknown as Record<string, unknown>;
  page['requestAnimationFrame'] = (then: () => void) => ticks.push(then);
  page['cancelAnimationFrame'] = () => ticks.splice(0);
  const drawnOn = (name: string) => {
    const drawn: number[] = [];
    const named = { UNMASKED_RENDERER_WEBGL: 1 };
    const gl = {
      ...{ isContextLost: () => false, fenceSync: () => null },
      ...{ getExtension: () => named, getParameter: () => name },
    };
    const canvas = { dataset: {} as Record<string, string> };
    const { invalidate, stop } = createPacer(
      canvas as unknown as HTMLCanvasElement,
      gl as unknown as WebGL2RenderingContext,
      (level) => void drawn.push(level),
      () => false,
      () => linking,
    );
    return { drawn, canvas, invalidate, stop };
  };
  const frame = () => ticks.splice(0).forEach((then) => then());

  const stage = drawnOn('Some card');
  stage.invalidate();
  frame();
  now = 999;
  frame();
  assert.deepEqual(stage.drawn, [], 'its first programs are waited for');
  now = 1001;
  frame();
  assert.deepEqual(stage.drawn, [1], 'a second at most');
  stage.stop();

  const quick = drawnOn('ANGLE (SwiftShader driver)');
  quick.invalidate();
  linking = false;
  frame();
  assert.deepEqual(
    quick.drawn,
    [QUALITIES.length - 1],
    'at once where they are there, coarse without a card',
  );
  quick.stop();

  const woken = drawnOn('Some card');
  woken.canvas.dataset['rests'] = 'yes';
  linking = true;
  woken.invalidate();
  now += 299;
  frame();
  assert.deepEqual(woken.drawn, [], 'the program that woke it is waited for');
  now += 2;
  frame();
  assert.deepEqual(woken.drawn, [1]);
  woken.stop();
});

const frame = (more: Partial<Frame>): Frame => ({ components: 0, edges: false, ...more }) as Frame;
const passes = [
  {
    name: 'finish',
    reads: ({ components }: Frame) => (components ? ['scene'] : ['scene', 'bloom']),
    writes: ['picture'],
  },
  { name: 'bloom', reads: () => ['scene'], writes: ['bloom'] },
  { name: 'edges', reads: () => ['scene'], writes: ['scene'], adds: ({ edges }: Frame) => edges },
  { name: 'surfaces', reads: () => [], writes: ['scene', 'depth'] },
] as unknown as readonly PassDeclaration[];
const orderOf = (list: readonly PassDeclaration[], more: Partial<Frame>): string =>
  orderPasses(list, frame(more))
    .map((each) => each.name)
    .join(' ');

test('a frame has the passes it needs, each after what it reads', () => {
  assert.equal(orderOf(passes, {}), 'surfaces bloom finish');
  assert.equal(orderOf(passes, { components: 3 }), 'surfaces finish', 'nobody reads the bloom');
  assert.equal(orderOf(passes, { components: 3, edges: true }), 'surfaces edges finish');
  assert.equal(orderOf(passes, { edges: true }), 'surfaces edges bloom finish');
  assert.throws(() => orderOf(passes.slice(0, 3), {}), /scene, which no pass makes/);
  const round = [
    ...passes,
    { name: 'late', reads: () => ['picture'], writes: ['bloom'] } as unknown as PassDeclaration,
  ];
  assert.throws(() => orderOf(round, {}), /waits for itself/);
});

test('a mesh is made once, and let go when nothing is of it', () => {
  const meshes = createMeshes({ onArrived: () => undefined, onMissing: () => undefined });
  const recipe = { kind: 'plane', size: [1, 1], divisions: [1, 1] } as const;
  const made = meshes.geometryFor(recipe);
  assert.equal(meshes.geometryFor({ ...recipe }), made);
  let gone = 0;
  made.addEventListener('dispose', () => (gone += 1));
  meshes.keepOnly([{ ...recipe }]);
  assert.equal(gone, 0);
  meshes.keepOnly([]);
  assert.equal(gone, 1);
  assert.notEqual(meshes.geometryFor(recipe), made);
});

test('where the camera stands is worked out where it was moved or turned, and is else the very same', () => {
  const camera = new PerspectiveCamera();
  // As the controls do: they turn the camera to what it looks at.
  const controls = { target: new Vector3(), update: () => camera.lookAt(controls.target) };
  let asked = 0;
  const eye = createEye(camera, controls as unknown as OrbitControls, () => (asked += 1));
  eye.look({ position: [0, 0, 5], target: [0, 0, 0] });
  const first = eye.frame();
  assert.deepEqual(
    [first.position, first.right, first.up, first.back],
    [
      [0, 0, 5],
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ],
  );
  assert.equal(eye.frame(), first);
  // From the right, looking to the left: its right is away from what was in front.
  eye.look({ position: [5, 0, 0], target: [0, 0, 0] });
  const second = eye.frame();
  const rounded = (row: readonly number[]) => row.map((x) => Math.round(x * 1e6) / 1e6 + 0);
  assert.deepEqual(
    [second.position, ...[second.right, second.up, second.back].map(rounded)],
    [
      [5, 0, 0],
      [0, 0, -1],
      [0, 1, 0],
      [1, 0, 0],
    ],
  );
  assert.deepEqual(rounded(new Vector3(0, 0, 0).project(camera).toArray().slice(0, 2)), [0, 0]);
  camera.rotateZ(Math.PI / 2);
  const third = eye.frame();
  assert.notEqual(third, second);
  assert.deepEqual(
    [third.position, rounded(third.right)],
    [
      [5, 0, 0],
      [0, 1, 0],
    ],
  );
  assert.equal(first.position[2], 5, 'what was told before stays as it was');
  assert.equal(asked, 2);
});
