import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { test } from 'node:test';
import { parsePart } from '#core/document/parsePart.ts';
import type { Cue, StageDocument, TakeDocument } from '#core/document/project.ts';
import { sketchParameter } from '#core/document/sketch.ts';
import { layerStarter } from '#core/edits/flourishEdits.ts';
import type { RehearsalInput } from '#core/time/inputs.ts';
import {
  compareMarks,
  createTimeline,
  differenceText,
  frameOf,
  keptInput,
  keyName,
} from '#core/time/takes.ts';
import type { LayerNow } from '#core/time/playFlourishes.ts';
import { joinPrelude } from './prelude/joined.ts';
import { createTicker } from './createTicker.ts';
import { playTake } from './playTake.ts';
import type { FromScriptWorker, RehearsalStart } from './protocol.ts';
import { runTicks } from './runTicks.ts';

const prelude = joinPrelude((part) => readFileSync(new URL(`./prelude/${part}.js`, import.meta.url), 'utf8'));
const declared = [
  ...['glow', 'lean', 'near', 'count'].map((name) => sketchParameter(name, 'float', [0], { max: 10 })),
  sketchParameter('place', 'vec3', [0, 0, 0]),
  sketchParameter('fade', 'float', [0], { scope: 'lifetime' }),
];
const idOf = (name: string): string => declared.find((each) => each.name === name)!.id;
const materials = [
  {
    ...{ id: 'wall', name: 'Wall', declared },
    parameters: declared.map(({ name, kind, default: value }) => ({ name, kind, value })),
  },
] as unknown as RehearsalStart['materials'];
const ramp = (id: string, starts: Cue['starts'], what: string): Cue => ({
  ...{ id, name: id, length: 1.5, play: 'once', again: 'turn round', blend: 0.1, after: 'hold', weight: 1 },
  ...{ priority: 0, starts },
  tracks: [
    {
      ...{ id: `${id}-t`, target: { kind: 'parameter', of: 'wall', what: idOf(what) } },
      keys: [
        { at: 0, value: [0], go: 'eased' },
        { at: 1.5, value: [3], go: 'straight' },
      ],
    },
  ],
});
const ramp01 = [0, 0, 1, 1, 1, 1, 1, 1];
const set = {
  props: [
    { id: 'lamp', name: 'Lamp', position: [0, 1, 0], rotation: [0, 0, 0], material: 'wall' },
    { id: 'door', name: 'Door', position: [2, 0, 0], rotation: [0, 0, 0], material: 'wall' },
  ],
  lights: [],
  camera: { position: [0, 1, 4], target: [0, 1, 0], fieldOfView: 40 },
  cues: [
    ramp(
      'kindle',
      [
        { by: 'key', key: 'KeyE' },
        { by: 'near', of: 'pointer', to: 'door', within: 1 },
      ],
      'glow',
    ),
  ],
  drives: [
    { id: 'a', material: 'wall', parameter: idOf('place'), by: 'place', of: 'lamp' },
    {
      id: 'b',
      material: 'wall',
      parameter: idOf('lean'),
      by: 'spring',
      of: 'lamp',
      stiffness: 50,
      damping: 2,
    },
    { id: 'c', material: 'wall', parameter: idOf('near'), by: 'near', of: 'pointer', to: 'door', within: 1 },
  ],
  flourishes: [
    {
      ...{ id: 'spray', name: 'spray', of: 'lamp', follows: true, at: [0, 0, 0], rotation: [0, 0, 0] },
      ...{ play: 'looped', seed: 4, starts: [{ by: 'key', key: 'KeyE' }] },
      layers: (['sprites', 'ribbon'] as const).map((kind) => ({
        ...layerStarter(kind, {
          ...{ id: `layer-${kind}`, name: kind, material: 'wall' },
          mesh: { kind: 'plane', size: [1, 1], divisions: [1, 1] },
        }),
        values: kind === 'sprites' ? [{ parameter: idOf('fade'), curves: [ramp01] }] : [],
      })),
    },
  ],
} as unknown as StageDocument;
const script = `
const wall = material('Wall');
const lamp = prop('Lamp');
const chance = random.stream('steps');
onTick((dt) => { lamp.position = [Math.sin(time() * 2) + chance.between(-0.01, 0.01), 1, 0]; });
onClick(prop('Door'), async ({ point }) => {
  for (let i = 0; i < 5; i += 1) { wall.count = wall.count + point[0]; await wait(0.2); }
  await cue('kindle').play();
  log('over at ' + time().toFixed(3));
});`;
const hit = (x: number): RehearsalInput => ({
  ...{ kind: 'pointer', hit: { prop: 'door', point: [x, 0, 0], normal: [0, 0, 1], uv: [0, 0], distance: 3 } },
});
const scripts = [{ id: 'script', name: 'Script', source: script }];
const start = { scripts, materials, set, prelude };
const ticksOf = (inputs: readonly (readonly [number, RehearsalInput])[]) =>
  inputs.map(([tick, input]) => keptInput(tick, input));
const taken = (ticks: number, seed = 1) => ({
  ...{ ticks, seed },
  inputs: ticksOf([
    [5, { kind: 'down', code: 'KeyE' }],
    [40, { kind: 'down', code: 'KeyE' }],
    [60, hit(2.2)],
    [70, { ...hit(1.5), kind: 'click' } as RehearsalInput],
    [200, hit(9)],
    [300, { kind: 'seek', cue: 'kindle', at: 0.5 }],
  ]),
});
const play = async (take: Parameters<typeof playTake>[0], more: object = {}) => {
  const shares: number[] = [];
  const work = playTake(take, { ...start, ...more });
  for (;;) {
    const { done, value } = await work.next();
    if (done) return { ...value, shares };
    shares.push(value);
  }
};

test('a take of a minute plays again bit for bit; another seed, script or set does not, and says where', async () => {
  const first = await play(taken(3600));
  const again = await play(taken(3600));
  assert.equal(first.mistake, null);
  assert.deepEqual(again.marks, first.marks);
  assert.deepEqual(compareMarks(first.marks, again.marks), []);
  assert.equal(first.marks.length, 60);
  assert.ok(first.shares.length > 10 && first.shares.every((share, i) => share > (first.shares[i - 1] ?? 0)));
  // Five clicks of 1.5, then the cue: what awaits goes on in its ticks.
  assert.deepEqual(first.marks[5]!.values['wall count'], [7.5]);
  const over = Number(first.logs.find((line) => line.startsWith('over'))!.slice(8));
  assert.ok(over > 70 / 60 + 1 && over < 6, `it is over at ${over}`);
  const other = await play(taken(120, 2));
  assert.notEqual(other.marks[0]!.digest, first.marks[0]!.digest);
  const slower = {
    ...set,
    drives: set.drives!.map((each) => (each.by === 'spring' ? { ...each, damping: 9 } : each)),
  };
  const [difference] = compareMarks(first.marks, (await play(taken(120), { set: slower })).marks);
  assert.deepEqual([difference!.seconds, difference!.key], [1, 'wall lean']);
  assert.match(differenceText(difference!), /^At 1(\.\d+)? s wall lean is \S+, and was \S+\.$/);
});

test('what is held by hand lies over all that drives it until it is let go, in a take too', async () => {
  const hold = (tick: number, value: number) =>
    keptInput(tick, { kind: 'hold', material: 'wall', parameter: 'count', value: [value] });
  const inputs = [
    ...ticksOf([[2, { ...hit(1.5), kind: 'click' } as RehearsalInput]]),
    ...[hold(30, 3), hold(60, 4), keptInput(90, { kind: 'release' })],
  ];
  const { changes } = await play({ ticks: 120, seed: 1, inputs });
  const timeline = createTimeline(changes);
  const [before, third, fourth, after] = [29, 45, 80, 100].map((tick) => timeline.at(tick).get('wall count'));
  assert.deepEqual([third, fourth], [[3], [4]]);
  assert.ok(before && before[0] !== 3 && after && after[0] !== 4);
  const back = parsePart('take', {
    ...{ format: 'wicked-veil/take', version: 1, set: 'hall', seed: 1, ticks: 120, inputs, marks: [] },
  });
  assert.deepEqual(back.document?.inputs, inputs);
});

test('what was recorded while it ran is a take that plays the same, and a document that reads back', async () => {
  const posted: FromScriptWorker[] = [];
  const ticks = runTicks(
    (message) => posted.push(structuredClone(message)),
    (setup) => createTicker({ ...setup, prelude }),
  );
  const wait = async (is: () => boolean) => {
    while (!is()) await new Promise((resolve) => setTimeout(resolve, 5));
  };
  const tickNow = () => posted.reduce((most, each) => (each.type === 'ticked' ? each.tick : most), 0);
  ticks.receive({ type: 'start', scripts, materials, set, seed: 7 });
  await wait(() => tickNow() > 5);
  ticks.receive({ type: 'input', input: { kind: 'down', code: 'KeyE' } });
  ticks.receive({ type: 'input', input: hit(2) });
  await wait(() => tickNow() > 70);
  ticks.receive({ type: 'tape' });
  ticks.receive({ type: 'stop' });
  const tape = posted.flatMap((each) => (each.type === 'tape' ? [each.tape] : []))[0]!;
  assert.ok('ticks' in tape && tape.inputs.length === 2);
  const body: TakeDocument = { format: 'wicked-veil/take', version: 1, set: 'hall', ...tape };
  const { document, problems } = parsePart('take', JSON.parse(JSON.stringify(body)));
  assert.deepEqual(problems, []);
  assert.deepEqual(compareMarks(document!.marks, (await play(document!)).marks), []);
  for (const [change, said] of [
    [{ ticks: 0 }, /1 to 36000 whole ticks; this one 0/],
    [
      {
        inputs: [
          { tick: 9, kind: 'down', code: 'KeyE' },
          { tick: 3, kind: 'up', code: 'KeyE' },
        ],
      },
      /in the order/,
    ],
  ] as const)
    assert.match(parsePart('take', { ...body, ...change }).problems[0]!.message, said);
});

test('a timeline stands at any tick as all changes up to it leave it, and a frame of it is what a stage takes', () => {
  const changes = Array.from({ length: 400 }, (_, i) => ({
    tick: i * 3,
    values: { [`wall p${i % 7}`]: i % 11 === 5 ? null : [i], 'prop lamp position': [i, 0, 0] },
  }));
  const timeline = createTimeline(changes);
  for (const tick of [0, 1, 3, 191, 192, 193, 600, 5000]) {
    const plain = new Map<string, readonly number[]>();
    for (const { tick: at, values } of changes)
      for (const [key, value] of Object.entries(values))
        if (at <= tick) {
          if (value) plain.set(key, value);
          else plain.delete(key);
        }
    assert.deepEqual(new Map([...timeline.at(tick)].sort()), new Map([...plain].sort()), `at ${tick}`);
  }
  const { writes, moved } = frameOf(
    new Map([
      ['wall glow', [2]],
      ['prop lamp hidden', [1]],
      ['light 1 intensity', [3]],
      ['camera - target', [0, 1, 2]],
    ]),
  );
  assert.deepEqual(writes, [{ material: 'wall', parameter: 'glow', value: [2] }]);
  assert.deepEqual(
    [moved.props.get('lamp'), moved.lights.get(1), moved.camera],
    [{ hidden: true }, { intensity: 3 }, { target: [0, 1, 2] }],
  );
});

test('a flourish is shown from a take as it was: in every tick the same layers, and another curve is told', async () => {
  const seen: (readonly LayerNow[])[] = [];
  const work = playTake(taken(200), start, (_, { driven }) => void seen.push(driven.layers));
  let step = await work.next();
  while (!step.done) step = await work.next();
  const { changes, marks } = step.value;
  const timeline = createTimeline(changes);
  assert.ok(seen.some((layers) => layers.length === 2 && layers[0]!.shape.length > 0));
  seen.forEach((layers, tick) => assert.deepEqual(frameOf(timeline.at(tick)).layers, layers, `at ${tick}`));
  // What a sprite began with is said once, and not in the marks.
  const shapes = changes.filter(({ values }) => 'layer layer-sprites~0 shape' in values);
  assert.ok(shapes.length > 0 && shapes.length < 8, `${shapes.length}`);
  assert.ok(Object.keys(marks[0]!.values).every((key) => !key.endsWith('shape')));
  const [one] = set.flourishes!;
  const other = {
    ...set,
    flourishes: [
      {
        ...one!,
        layers: one!.layers.map((each) => ({
          ...each,
          values: each.values.map(({ parameter }) => ({ parameter, curves: [[0, 2, 0, 0]] })),
        })),
      },
    ],
  };
  const [difference] = compareMarks(marks, (await play(taken(120), { set: other })).marks);
  const named = { part: () => undefined, prop: () => undefined, layer: () => 'Sparks' };
  assert.match(
    differenceText(difference!, (key) => keyName(key, named)),
    /^At 1(\.\d+)? s fade of Sparks is 2/,
  );
});
