import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { test } from 'node:test';
import { ticksDue } from '#core/time/tick.ts';
import { joinPrelude } from './prelude/joined.ts';
import { createSandbox } from './createSandbox.ts';
import { createTicker } from './createTicker.ts';
import { runTicks } from './runTicks.ts';
import type { RehearsalInput } from '#core/time/inputs.ts';
import type { ScriptWrite } from './protocol.ts';

const prelude = joinPrelude((part) => readFileSync(new URL(`./prelude/${part}.js`, import.meta.url), 'utf8'));
const curtainScript = readFileSync(
  new URL('../../demo/gallowglass/curtain.script.js', import.meta.url),
  'utf8',
);
const velvet = {
  id: 'velvet',
  name: 'Velvet, house left',
  parameters: [
    { name: 'burn', kind: 'float' as const, value: [0] },
    { name: 'speed', kind: 'float' as const, value: [0.5] },
    { name: 'mendSpeed', kind: 'float' as const, value: [1] },
    { name: 'mending', kind: 'float' as const, value: [0] },
    { name: 'orderBy', kind: 'float' as const, value: [0] },
    { name: 'seed', kind: 'int' as const, value: [1] },
    { name: 'period', kind: 'int' as const, value: [8] },
    { name: 'heat', kind: 'color' as const, value: [1, 0.5, 0, 2] },
  ],
};
const start = (seed = 1) => createSandbox({ materials: [velvet], seed, prelude });
const press = (code: string): RehearsalInput => ({ kind: 'down', code });
const find = (writes: readonly ScriptWrite[], name: string) =>
  writes.find((each) => each.parameter === name)?.value[0];

/** Runs the curtain for a while, with keys at given ticks; every tick's writes. */
const rehearse = async (keys: Readonly<Record<number, string>>, ticks: number, seed = 1) => {
  const sandbox = await start(seed);
  assert.equal(sandbox.load(curtainScript).mistakes[0], undefined);
  const all = Array.from({ length: ticks }, (_, i) => sandbox.tick(keys[i] ? [press(keys[i])] : []).writes);
  sandbox.dispose();
  return all;
};

test('Space flips the direction mid-way; the value moves by speed · dt and stops at its ends', async () => {
  const all = await rehearse({ 0: 'Space', 60: 'Space', 150: 'Space' }, 300);
  const burn = all.map((writes) => find(writes, 'burn')!);
  assert.ok(Math.abs(burn[59]! - 0.5) < 1e-9, 'a second at half a unit a second');
  assert.ok(Math.abs(burn[59]! - burn[60]! - 1 / 60) < 1e-9, 'back at a speed of its own');
  assert.equal(find(all[60]!, 'mending'), 1);
  const seeds = [find(all[0]!, 'seed'), find(all[150]!, 'seed')];
  assert.ok(seeds[0] !== undefined && seeds[0] !== seeds[1], 'every new fire has a seed of its own');
  assert.equal(burn[149], 0);
  assert.equal(burn[299], 1);
});

test('another key changes the seed and the period while it runs', async () => {
  const all = await rehearse({ 5: 'KeyN' }, 7);
  assert.ok(Number.isInteger(find(all[5]!, 'seed')));
  assert.ok(find(all[5]!, 'period')! >= 3);
});

test('the same keys at the same ticks give bit-equal values; another seed does not', async () => {
  const keys = { 3: 'Space', 40: 'KeyN', 77: 'Space' };
  const first = JSON.stringify(await rehearse(keys, 200));
  assert.equal(JSON.stringify(await rehearse(keys, 200)), first);
  assert.notEqual(JSON.stringify(await rehearse(keys, 200, 2)), first);
});

test('mistakes are sentences at their line, with the nearest right name', async () => {
  const sandbox = await start();
  const say = (source: string) => sandbox.load(source).mistakes[0];
  assert.deepEqual(say("const c = material('Velvet, house left');\nc.brun = 1;"), {
    script: 0,
    message: '“Velvet, house left” has no parameter “brun”. Did you mean burn?',
    line: 2,
    column: 2,
  });
  assert.match(say("material('Velvet')")!.message, /Did you mean|There is Velvet, house left/);
  assert.match(
    say("material('Velvet, house left').burn = 'hot'")!.message,
    /burn of .* takes a number, not "hot"/,
  );
  assert.match(say("material('Velvet, house left').burn = 0 / 0")!.message, /not a finite number/);
  assert.match(say('let = 3;;;}')!.message, /cannot be read as JavaScript/);
  assert.match(say('onTick(3)')!.message, /takes a function/);
  sandbox.dispose();
});

test('a script that never ends, recurses or eats memory is stopped at its line', async () => {
  for (const [source, expected] of [
    ['let n = 0;\nwhile (true) n += 1;', /more than 200 ms .* loop/],
    ['let n = 0;\nfor (;;) { n += 1; }', /more than 200 ms/],
    ['let n = 0;\ndo n += 1; while (true);', /more than 200 ms/],
    ['let f;\nf = () => f() + 1; f();', /too deep/],
    ["const a = [];\nwhile (true) a.push('x'.repeat(100000) + a.length);", /64 MB|200 ms/],
  ] as const) {
    const sandbox = await start();
    const [mistake] = sandbox.load(source).mistakes;
    assert.match(mistake?.message ?? 'nothing was wrong', expected);
    assert.equal(mistake!.line, 2, source);
    sandbox.dispose();
  }
});

test('no way of holding the engine outlives its deadline, in its script or in what is read of it after', async () => {
  const ways: readonly (readonly [source: string, said: RegExp])[] = [
    ['Array.prototype.indexOf.call({ length: 2 ** 53 - 1 }, 1);', /indexOf would go over/],
    ['Array.prototype.includes.call({ length: 2 ** 53 - 1 }, 1);', /includes would go over/],
    ['Array.prototype.reverse.call({ length: 2 ** 53 - 1 });', /reverse would go over/],
    ['const a = []; a.length = 4294967295; a.join();', /join would go over/],
    ['throw { get message() { for (;;); } };', /200 ms/],
    ['throw { message: { toString() { for (;;); } } };', /200 ms/],
    ['throw new Proxy({}, { get() { for (;;); } });', /200 ms/],
    ['throw { message: "mine", name: "Error" };', /^mine$/],
    ['Object.prototype.toJSON = () => { for (;;); }; throw new Error("said");', /not extensible/],
    ["JSON.parse('['.repeat(200000));", /too deep/],
    ['let a = []; for (let i = 0; i < 100000; i += 1) a = [a]; JSON.stringify(a);', /too deep/],
    ['const o = { toString() { return `${o}`; } }; `${o}`;', /too deep/],
    [`${'('.repeat(5000)}1${')'.repeat(5000)};`, /nested more than 400 levels/],
    ['Function("for (;;);")();', /cannot make code from text/],
    ['(async () => 0).constructor("for (;;);")();', /cannot make code from text/],
    ['eval("1");', /not defined/],
    ['JSON.stringify = () => { for (;;); };', /read-only|not writable|extensible/],
    ['log({ toJSON() { for (;;); } });', /200 ms/],
    ['const f = async () => { for (;;) await null; }; f();', /200 ms|nothing/],
    ['__loop = () => 0;', /read-only|not writable/],
    ['globalThis.__loop = () => 0; for (;;);', /not extensible/],
    ['for (;;);', /200 ms/],
  ];
  for (const [source, said] of ways) {
    const sandbox = await start();
    const began = performance.now();
    const [mistake] = sandbox.load(source).mistakes;
    assert.match(mistake?.message ?? 'nothing', said, source);
    sandbox.tick([]);
    assert.ok(performance.now() - began < 3000, source);
    sandbox.dispose();
  }
});

test('long chains are not deep: sums of a thousand terms, chained calls and a long list of cases', async () => {
  const sandbox = await start();
  const sum = Array.from({ length: 1000 }, (_, i) => i).join(' + ');
  const { logs, mistakes } = sandbox.load(
    `log(${sum}); log('a'${".concat('b')".repeat(600)}.length); log([${'[1],'.repeat(2000)}].length);`,
  );
  assert.deepEqual([logs, mistakes], [['499500', '601', '2000'], []]);
  sandbox.dispose();
});

test('no script changes what another runs on, and what is frozen still works as it does elsewhere', async () => {
  for (const hostile of [
    "Object.defineProperty(Object.prototype, 'logs', { set() {} });",
    "String.prototype.split = () => 'mine';",
    'Array.prototype.push = () => 0;',
    '[][Symbol.iterator]().__proto__.next = () => ({ done: true });',
    'Promise.prototype.then = () => 0;',
    'Math.sin = () => 7;',
    'globalThis.shared = 1;',
    'Object.setPrototypeOf(Array.prototype, { at: () => 0 });',
  ]) {
    const sandbox = await start();
    assert.equal(sandbox.load(hostile, 0).mistakes.length, 1, hostile);
    sandbox.load(
      `class Lamp { toString() { return 'lamp'; } }
      const own = {}; own.toString = () => 'own'; own.constructor = 3;
      const e = new Error('a'); e.message = 'b'; e.name = 'Mine';
      onTick(() => log('a b'.split(' ').join('-'), [...[1, 2]].length, String(new Lamp()), String(own), String(e), Math.sin(0)));`,
      1,
    );
    assert.deepEqual(sandbox.tick([]).logs, ['a-b 2 lamp own Mine: b 0'], hostile);
    sandbox.dispose();
  }
});

test('memory is bounded in sum, and an engine that ran out says so', async () => {
  const sandbox = await start();
  const [mistake] = sandbox.load(
    'const kept = [];\nfor (let i = 0; i < 4096; i += 1) kept.push(new Uint8Array(1 << 20).fill(i));',
  ).mistakes;
  assert.match(mistake?.message ?? 'it held 4 GB', /64 MB|200 ms/);
  sandbox.dispose();
});

test('forged and rubbish writes are refused; what awaits goes on', async () => {
  const sandbox = await start();
  const forged = sandbox.load(
    "try { Object.prototype['x y'] = ['other', 'burn', [1]]; } catch {} const c = material('Velvet, house left'); c.speed = 2;",
  );
  assert.deepEqual(forged.writes, [{ material: 'velvet', parameter: 'speed', value: [2] }]);
  const calm = await start();
  calm.load(
    "const c = material('Velvet, house left'); let go; const turn = new Promise((done) => { go = done; }); (async () => { await turn; c.burn = 0.75; log('went on'); })(); onKey('Space', () => go());",
  );
  assert.deepEqual(calm.tick([]).writes, []);
  const { writes, logs } = calm.tick([press('Space')]);
  assert.deepEqual([find(writes, 'burn'), logs], [0.75, ['went on']]);
  sandbox.dispose();
  calm.dispose();
});

test('a script that comes while the engine starts takes the place of the one it started with', async () => {
  const posted: { type: string; logs?: readonly string[] }[] = [];
  const ticks = runTicks(
    (message) => posted.push(message),
    (setup) => createTicker({ ...setup, prelude }),
  );
  ticks.receive({
    type: 'start',
    scripts: [
      { id: 'a', name: 'A', source: "log('old')" },
      { id: 'b', name: 'B', source: "log('beside')" },
    ],
    materials: [{ ...velvet, declared: [] }],
    set: null,
    seed: 1,
  });
  ticks.receive({ type: 'swap', script: 0, source: "log('new')" });
  while (posted.filter((each) => each.type === 'ticked').length < 2)
    await new Promise((resolve) => setTimeout(resolve, 5));
  ticks.receive({ type: 'stop' });
  assert.deepEqual(
    posted.flatMap((each) => each.logs ?? []),
    ['new', 'beside'],
  );
});

test('marking loops moves no column of a mistake', async () => {
  const sandbox = await start();
  const [mistake] = sandbox.load(
    "const c = material('Velvet, house left');\nfor (const i of [1]) c.brun = i;",
  ).mistakes;
  assert.deepEqual([mistake!.line, mistake!.column], [2, 31]);
  assert.equal(
    sandbox.load(
      'let n = 0; for (let i = 0; i < 3; i += 1) n += i; while (n < 9) { n += 1; } do n += 1; while (n < 20); log(n);',
    ).logs[0],
    '20',
  );
  sandbox.dispose();
});

test('a script reaches neither page nor network nor clock', async () => {
  const sandbox = await start();
  const { logs } = sandbox.load(
    "log(['window', 'document', 'fetch', 'XMLHttpRequest', 'WebSocket', 'process', 'require', 'Date', 'setTimeout', 'importScripts', '__setup', '__nearest', '__place', '__under'].filter((name) => name in globalThis).join())",
  );
  assert.deepEqual(logs, ['']);
  sandbox.dispose();
});

test('swapping a script keeps the values and forgets the old handlers', async () => {
  const sandbox = await start();
  sandbox.load("const c = material('Velvet, house left'); onTick(() => { c.burn += 0.25; });");
  sandbox.tick([]);
  sandbox.load("const c = material('Velvet, house left'); onTick(() => { log(c.burn); });");
  assert.deepEqual(sandbox.tick([]), {
    ...{ writes: [], logs: ['0.25'], mistakes: [] },
    ...{ moves: new Map(), calls: [] },
  });
  sandbox.dispose();
});

test('ticks keep to sixty a second and let a long pause go', () => {
  assert.deepEqual(ticksDue(1000, 58), { due: 2, forgiven: 0 });
  assert.equal(ticksDue(16, 0).due, 0);
  const late = ticksDue(10_000, 0);
  assert.equal(late.due, 8);
  assert.ok(Math.abs(late.forgiven - (592 * 1000) / 60) < 1e-6);
});

test('several scripts hear of each tick in their order; one that fails is named, and the others go on', async () => {
  const sandbox = await start();
  const first =
    "const c = material('Velvet, house left'); const wait = 0;\nonTick(() => { log('a'); c.burn = 0.25; });";
  const second = `const c = material('Velvet, house left');
onTick(() => { log('b', c.burn); c.burn += 0.5; });
onKey('KeyX', () => { throw new Error('gone'); });
(async () => { await wait(2 / 60); log('b waited'); })();
onKey('KeyL', () => {
  for (;;) c.burn;
});`;
  sandbox.load(first);
  sandbox.load(second, 1);
  assert.deepEqual(sandbox.tick([]).logs, ['a', 'b 0.25']);
  const { logs, mistakes, writes } = sandbox.tick([press('KeyX')]);
  assert.deepEqual([logs, find(writes, 'burn')], [['a'], 0.25]);
  assert.deepEqual(mistakes, [{ script: 1, line: 3, column: 38, message: 'gone' }]);
  for (let i = 0; i < 3; i += 1) {
    const after = sandbox.tick([press('KeyX')]);
    assert.deepEqual([after.logs, after.mistakes], [['a'], []]);
  }
  // Mended it goes on, from its beginning; one that has to be stopped is told at its loop, and the other is not ended.
  assert.deepEqual(sandbox.load(second, 1).mistakes, []);
  const stopped = sandbox.tick([press('KeyL')]);
  assert.deepEqual(
    stopped.mistakes.map(({ script, line }) => [script, line]),
    [[1, 6]],
  );
  assert.match(stopped.mistakes[0]!.message, /200 ms/);
  assert.deepEqual(sandbox.tick([]).logs, ['a']);
  // What nobody waited for fails in the script that began it.
  sandbox.load('(async () => { await wait(1 / 60); throw new Error("late"); })();', 1);
  assert.deepEqual(
    [...sandbox.tick([]).mistakes, ...sandbox.tick([]).mistakes].map(({ script, message }) => [
      script,
      message,
    ]),
    [[1, 'late']],
  );
  sandbox.dispose();
});
