import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { test } from 'node:test';
import type { Cue, StageDocument } from '#core/document/project.ts';
import { sketchParameter } from '#core/document/sketch.ts';
import { layerStarter } from '#core/edits/flourishEdits.ts';
import type { Hit, RehearsalInput } from '#core/time/inputs.ts';
import { joinPrelude } from './prelude/joined.ts';
import { SCRIPT_WORDS } from './scriptWords.ts';
import { createTicker, type Ticked } from './createTicker.ts';
import type { RehearsalStart } from './protocol.ts';

const prelude = joinPrelude((part) => readFileSync(new URL(`./prelude/${part}.js`, import.meta.url), 'utf8'));
const glow = sketchParameter('glow', 'float', [0.25]);
const materials = [
  {
    id: 'wall',
    name: 'Wall',
    declared: [glow],
    parameters: [{ name: 'glow', kind: 'float', value: [0.25] }],
  },
] as unknown as RehearsalStart['materials'];
const cue = (id: string, length: number, more: Partial<Cue> = {}): Cue => ({
  ...{ id, name: id, length, play: 'once', again: 'restart', blend: 0, after: 'hold', weight: 1 },
  ...{ priority: 0, starts: [], tracks: [] },
  ...more,
});
const set = {
  props: [
    { id: 'lamp', name: 'Lamp', position: [0, 1, 0], rotation: [0, 0, 0], material: 'wall' },
    { id: 'door', name: 'Door', position: [3, 0, 4], rotation: [0, 0, 0], material: 'wall', parent: 'lamp' },
  ],
  lights: [],
  camera: { position: [0, 1, 4], target: [0, 1, 0], fieldOfView: 40 },
  cues: [
    cue('lit', 1, {
      after: 'let go',
      tracks: [
        {
          ...{ id: 't', target: { kind: 'parameter', of: 'wall', what: glow.id } },
          keys: [{ at: 0, value: [6], go: 'held' }],
        },
      ],
    }),
    cue('toll', 0.5),
    cue('round', 0.25, { play: 'looped' }),
  ],
  flourishes: [
    {
      ...{
        id: 'spray',
        name: 'spray',
        at: [0, 5, 0],
        rotation: [0, 0, 0],
        play: 'once',
        seed: 1,
        starts: [],
      },
      layers: [
        {
          ...layerStarter('mesh', {
            ...{ id: 'grains', name: 'Grains', material: 'wall' },
            mesh: { kind: 'plane', size: [1, 1], divisions: [1, 1] },
          }),
          life: 0.2,
        },
      ],
    },
  ],
} as unknown as StageDocument;

/** Runs a script for some ticks, with what comes in at some of them. */
const run = async (
  source: string,
  ticks = 1,
  inputs: Readonly<Record<number, readonly RehearsalInput[]>> = {},
) => {
  const ticker = await createTicker({ materials, set, seed: 1, prelude });
  const all: Ticked[] = [ticker.load(source)];
  for (let i = 0; i < ticks; i += 1) all.push(ticker.tick(inputs[i] ?? []));
  ticker.dispose();
  return {
    all,
    logs: all.flatMap((each) => each.logs),
    mistake: all.flatMap(({ mistakes }) => mistakes)[0] ?? null,
    last: all.at(-1)!,
  };
};
const hit = (prop: string, x = 0): Hit => ({
  ...{ prop, point: [x, 2, 3], normal: [0, 1, 0], uv: [0.25, 0.75], distance: 5 },
});
const saidBy = async (source: string, ticks = 2): Promise<string> => {
  const { mistake } = await run(source, ticks);
  return mistake ? `${mistake.line}: ${mistake.message}` : 'nothing';
};

test('a script moves props, which stand so from that tick on, and asks where they are in the world', async () => {
  const { last, logs, all } = await run(
    `const lamp = prop('Lamp'), door = prop('Door');
    log(lamp.position.join(), door.place.join(), distance(lamp, door), near(lamp, [0, 1, 1], 1));
    onTick(() => { lamp.position = [1, 2, 3]; lamp.hidden = true; if (time() > 0) log(door.place.join()); });`,
    2,
  );
  assert.deepEqual(logs, ['0,1,0 3,1,4 5 true', '4,2,7']);
  assert.equal(all[0]!.driven.moved.props.size, 0);
  assert.deepEqual(last.driven.moved.props.get('lamp'), { position: [1, 2, 3], hidden: true });
});

test('coroutines wait for time, for what comes true, for a tween and for a cue’s end', async () => {
  const { logs } = await run(
    `const wall = material('Wall');
    const said = (what) => log(what + ' ' + Math.round(time() * 60));
    (async () => {
      await wait(0.5); said('waited');
      await until(() => wall.glow > 1); said('bright');
      await tween(0, 4, 0.25, (x) => { wall.glow = x; }, 'straight'); said('tweened ' + wall.glow);
      await cue('toll').play(); said('tolled ' + cue('toll').at);
      const round = cue('round'); round.play(); await wait(1); log(round.isPlaying); round.stop(); await wait(0.1); log(round.isPlaying);
    })();
    onTick(() => { if (time() >= 1 && wall.glow < 1) wall.glow = 2; });`,
    220,
  );
  assert.deepEqual(logs, ['waited 30', 'bright 61', 'tweened 4 76', 'tolled 0.5 106', 'true', 'false']);
});

test('a script plays a flourish where it wants it, waits for its end, and ends it', async () => {
  const { all, logs } = await run(
    `const spray = flourish('spray');
    (async () => {
      await spray.at([1, 2, 3], [1, 0, 0]); log('over ' + Math.round(time() * 60) + ' ' + spray.isPlaying);
      spray.at(pointer); log(spray.isPlaying);
      spray.at(prop('Door')); spray.play(); await wait(0.05); log(spray.isPlaying); spray.stop();
      await wait(0.05); log(spray.isPlaying);
    })();`,
    24,
  );
  const layers = all.map(({ driven }) => driven.layers);
  assert.deepEqual(layers[0], [], 'it is heard of after the script, and begins in the next tick');
  assert.equal(layers[1]![0]!.age, 0);
  assert.deepEqual(layers[1]![0]!.place.slice(9), [1, 2, 3]);
  for (const [i, x] of [1, 0, 0].entries()) assert.ok(Math.abs(layers[1]![0]!.place[3 + i]! - x) < 1e-9);
  // Twelve ticks after its first, and one to hear of it; the pointer is over nothing.
  assert.deepEqual(logs, ['over 13 false', 'false', 'true', 'false']);
  assert.deepEqual(
    layers[15]!.map(({ place }) => place.slice(9)),
    [
      [3, 1, 4],
      [0, 5, 0],
    ],
  );
  assert.deepEqual(layers.at(-1), []);
});

test('clicks, the pointer, the walker and nearness reach a script', async () => {
  const { logs } = await run(
    `onClick(prop('Door'), ({ prop, point, uv }) => log('click ' + prop + ' ' + point + ' ' + uv));
    onClick(({ distance }) => log('any ' + distance));
    onNear(walker, prop('Lamp'), 2, () => log('in'), () => log('out'));
    onTick(() => { if (time() < 0.06) log(pointer.over + ' ' + walker.position); });`,
    5,
    {
      1: [
        { kind: 'pointer', hit: hit('lamp') },
        { kind: 'click', hit: hit('door', 7) },
        { kind: 'click', hit: null },
      ],
      2: [{ kind: 'walker', position: [0, 1, 1.5], direction: [0, 0, -1] }],
      3: [{ kind: 'walker', position: [0, 1, 9], direction: [0, 0, -1] }],
    },
  );
  assert.deepEqual(logs, [
    'null null',
    'click Door 7,2,3 0.25,0.75',
    'any 5',
    'null null',
    'in',
    'null 0,1,1.5',
    'out',
    'null 0,1,9',
  ]);
});

test('every word that is told of is there, and there is no other', async () => {
  const names = SCRIPT_WORDS.map(({ name }) => name);
  const { logs } = await run(
    `log([${names.map((name) => `typeof ${name} === 'undefined' ? '${name}' : ''`).join()}].join(''));
    log(Object.keys(__words).filter((name) => /^[a-z]/.test(name)).join());
    log(Object.getOwnPropertyNames(globalThis).filter((name) => /^[a-z]/.test(name)).join());`,
    0,
  );
  assert.equal(logs[0], '');
  const engines = [
    'globalThis',
    'undefined',
    'isFinite',
    'isNaN',
    'parseFloat',
    'parseInt',
    'queueMicrotask',
  ];
  const own = [logs[1]!, logs[2]!]
    .flatMap((each) => each.split(','))
    .filter((name) => !engines.includes(name) && !/^(de|en)codeURI|^(un)?escape$|^eval$/.test(name));
  assert.deepEqual(own.sort(), [...names].sort());
});

test('springs settle, streams of chance are their own, and what a cue drives can be read', async () => {
  const { logs } = await run(
    `const s = spring({ stiffness: 80, damping: 12 });
    s.target = 2;
    for (let i = 0; i < 300; i += 1) s.step();
    log(s.value.toFixed(3));
    const a = random.stream('a').unit();
    random.unit(); random.stream('b').unit();
    log(a === random.stream('a').unit(), random.stream('a') === random.stream('a'));
    const wall = material('Wall');
    cue('lit').play();
    onTick(() => {
      const at = Math.round(time() * 60);
      if (at === 65) wall.glow = 3;
      if ([1, 58, 62, 66].includes(at)) log(wall.glow);
    });`,
    70,
  );
  // A cue’s value while it plays, what is authored once it has let go, and its own once it has set it.
  assert.deepEqual(logs, ['2.000', 'false true', '6', '6', '0.25', '3']);
});

test('what goes wrong later is told with its line too, and nothing bad goes out', async () => {
  for (const [source, said] of [
    ["prop('Lmap')", /^1: There is no prop “Lmap”\. Did you mean Lamp\?/],
    ["flourish('sprey').play()", /^1: There is no flourish “sprey”\. Did you mean spray\?/],
    ["flourish('spray').at(7)", /^1: at takes a prop, pointer, walker or a list of 3 numbers, not 7/],
    ["cue('tol').play()", /^1: There is no cue “tol”\. Did you mean toll\?/],
    [
      "log(1);\nprop('Lamp').position = [0, NaN, 0]",
      /^2: position of “Lamp” takes a list of 3 finite numbers/,
    ],
    ["prop('Lamp').scale = [1, 0, 1]", /^1: Each number of the scale of “Lamp” should be above 0/],
    ['wait(-1)', /^1: wait takes seconds from 0, not -1/],
    ['spring({ damping: -1 })', /^1: spring takes a stiffness above 0, a damping and a limit from 0/],
    ["tween(0, 1, 1, () => 0, 'quick')", /^1: There is no ease “quick”\./],
    ["distance(1, prop('Lamp'))", /^1: distance takes a prop, pointer, walker or a list of 3 numbers, not 1/],
    [
      'const go = async () => {\n  await wait(0.02);\n  nothing.at.all;\n};\ngo();',
      /^3: 'nothing' is not defined/,
    ],
    ["onTick(async () => {\n  await wait(0);\n  throw new Error('late');\n})", /^3: late/],
    ['onTick(async () => { for (let i = 0; i < 10000; i += 1) wait(100); })', /^1: 4096 things wait already/],
    // Ten thousand of them may be stopped by the clock before the last is begun.
    [
      'for (let i = 0; i < 10000; i += 1) (async () => { await wait(9); })();',
      /^1: (4096 things wait already|This ran for more than 200 ms)/,
    ],
  ] as const)
    assert.match(await saidBy(source, 4), said, source);
  const { mistake, last } = await run(
    "material('Wall').glow = 0.5; onTick(() => { if (time() > 0.02) gone(); })",
    9,
    { 4: [{ kind: 'play', cue: 'toll' }] },
  );
  assert.match(mistake!.message, /gone/);
  // The set goes on without its script.
  assert.ok(last.standing.get('toll')!.at > 0);
});
