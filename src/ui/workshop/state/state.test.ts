import assert from 'node:assert/strict';
import { afterEach, test } from 'node:test';
import { addStep, setArgument } from '#core/edits/shaderEdits.ts';
import { newPart, type Part, type PartOf, type Project } from '#core/document/project.ts';
import { sketchParameter, sketchShader } from '#core/document/sketch.ts';
import { prepareLive } from '#core/time/packLive.ts';
import { currentValue } from '#core/time/values.ts';
import { createPartCompiler } from '#core/compileParts.ts';
import { createCompiler } from './compiler.svelte.ts';
import type { ConnectCompiler } from '../../parts/connectCompiler.ts';
import { createDocuments } from './documents.svelte.ts';
import { createSelection } from './selection.svelte.ts';
import { createValues } from './values.svelte.ts';

const shader = newPart(
  'shader',
  'velvet',
  'Velvet',
  sketchShader({ glow: [['value', { x: 0.5 }]] }, { roughness: 'glow' }),
);
const material = newPart('material', 'left', 'Velvet, house left', {
  ...{ format: 'wicked-veil/material', version: 2, shader: 'velvet', values: {} },
});
const project = { id: 'p', name: 'The playhouse', parts: [shader, material] } as unknown as Project;

const opened: (() => void)[] = [];
afterEach(() => opened.splice(0).forEach((close) => close()));

/** A compiler on this thread: it answers at once, or when it is let go on. */
const straightLine = () => {
  const held: (() => void)[] = [];
  let isHeld = false;
  const connect: ConnectCompiler = (receive) => {
    const compiler = createPartCompiler(
      (message) => receive(structuredClone(message)),
      (work) => (isHeld ? void held.push(work) : work()),
    );
    return { send: (message) => compiler.receive(structuredClone(message)), close: () => undefined };
  };
  return {
    connect,
    hold: () => (isHeld = true),
    goOn: () => {
      isHeld = false;
      held.splice(0).forEach((work) => work());
    },
  };
};

/** Documents, compiler and selection as a session puts them together, with a server that takes everything. */
const open = (line = straightLine()) => {
  const told: string[] = [];
  let answer: Promise<readonly (number | null)[]> = Promise.resolve([]);
  const documents = createDocuments(
    project,
    {
      changed: (part, edit) => compiler.follow(part, edit),
      removed: (id) => {
        compiler.forget(id);
        selection.forget(id);
      },
      refused: (sentence) => told.push(sentence),
    },
    {
      tab: 'here',
      send: (_project, _deed, changes) =>
        answer.then(() => changes.map(({ op }) => (op === 'delete' ? null : 1))),
    },
  );
  opened.push(() => documents.saver.close());
  const compiler = createCompiler(
    () => documents.parts,
    () => documents.library,
    (sentence) => told.push(sentence),
    line.connect,
  );
  const selection = createSelection(project, () => documents.parts);
  const setX = (x: number | string) => {
    const part = documents.parts.get('velvet') as Part & { readonly kind: 'shader' };
    documents.apply(setArgument('velvet', part.body, part.body.strands[0]!.steps[0]!.id, 'x', x));
    documents.settle();
  };
  return { documents, compiler, selection, told, setX, wait: (work: typeof answer) => (answer = work) };
};
const stateOf = ({ compiler }: ReturnType<typeof open>) => compiler.shaders.get('velvet')!;

test('a dragged number moves a knob; anything else compiles; what is broken keeps the last good program', () => {
  const here = open();
  const first = stateOf(here).good;
  here.setX(0.75);
  assert.equal(stateOf(here).good, first, 'nothing is compiled');
  assert.deepEqual([...stateOf(here).knobs.values()], [[0.75]]);
  here.setX('uv.x');
  const second = stateOf(here).good;
  assert.notEqual(second, first);
  here.setX('uv.');
  assert.equal(stateOf(here).good, second);
  assert.ok(stateOf(here).diagnostics.length > 0);
  here.documents.undo();
  assert.equal(stateOf(here).diagnostics.length, 0);
  here.documents.undo();
  here.documents.undo();
  assert.deepEqual([...stateOf(here).knobs.values()], [[0.5]]);
  here.documents.redo();
  assert.deepEqual([...stateOf(here).knobs.values()], [[0.75]]);
});

test('an edit that changes only what is computed once a frame is taken, though the source stays the same', () => {
  const here = open();
  here.setX('sin(time * 2.0)');
  const before = stateOf(here).good!;
  here.setX('cos(time * 7.0)');
  const after = stateOf(here).good!;
  assert.equal(after.live.fragment, before.live.fragment, 'the case that matters: the text is equal');
  const { floats } = prepareLive(after.live.layout)({
    ...{ parameters: new Map(), knobs: after.knobs },
    inputs: { time: [0.5] },
  });
  assert.ok(
    [...floats].some((x) => Math.abs(x - Math.cos(3.5)) < 1e-6),
    `cos(3.5) among ${[...floats].join(' ')}`,
  );
});

test('the driver’s word stands beside the compiler’s, and goes when it takes the next program', () => {
  const here = open();
  const { good } = stateOf(here);
  assert.equal(
    here.compiler.noteRefusal('velvet', good!, 'ERROR: 0:1: odd'),
    'ERROR: 0:1: odd',
    'it has no place',
  );
  const written = { ...good!, live: { ...good!.live, written: [{ step: 'none', from: 1, to: 2 }] } };
  assert.equal(here.compiler.noteRefusal('velvet', written, 'ERROR: 0:1: odd'), 'ERROR: 0:1: odd');
  assert.equal(here.compiler.noteRefusal('gone', good!, null), null);
});

test('parts are added and deleted as one deed, here once the server has them; meanwhile they are left alone', async () => {
  const here = open();
  const { documents, selection, told } = here;
  let taken = (): void => undefined;
  here.wait(new Promise((resolve) => (taken = () => resolve([]))));
  const motif = newPart('motif', 'fold', 'Fold', {
    ...{ format: 'wicked-veil/motif', version: 1, description: '', parameters: [], strands: [] },
    outputs: [{ id: 'o', name: 'out', expression: '1.0' }],
  } as never);
  const adding = documents.commit('Add Fold', [{ op: 'add', part: motif }]);
  await new Promise((resolve) => setImmediate(resolve));
  assert.equal(documents.parts.has('fold'), false);
  taken();
  await adding;
  assert.equal(documents.library.has('fold'), true);
  assert.equal(documents.canUndo, 'Add Fold');
  selection.showMotif('fold');
  assert.equal(selection.score?.id, 'fold');

  let refuse = (): void => undefined;
  here.wait(new Promise((_, reject) => (refuse = () => reject(new Error('The server refused this.')))));
  documents.undo();
  await new Promise((resolve) => setImmediate(resolve));
  documents.apply({
    label: 'x',
    part: 'fold',
    patches: [{ op: 'replace', path: ['description'], value: 'y' }],
  });
  assert.match(told[0]!, /being saved as a whole/);
  refuse();
  await new Promise((resolve) => setTimeout(resolve));
  assert.deepEqual(told.slice(1), ['The server refused this.']);
  assert.equal(documents.parts.has('fold'), true, 'what was refused is not done here either');

  here.wait(Promise.resolve([]));
  documents.undo();
  await new Promise((resolve) => setTimeout(resolve));
  assert.equal(documents.parts.has('fold'), false);
  assert.equal(selection.score?.id, 'velvet', 'what is gone is not looked at');
});

test('what follows from other parts is kept, is no deed, and leaves a drag whole', () => {
  const { documents } = open();
  const left = () => documents.parts.get('left')!.body as { values: object; pictures?: object };
  const drag = (burn: number) =>
    documents.apply({
      ...{ label: 'Burn', part: 'left', merge: 'burn' },
      patches: [{ op: 'add', path: ['values', 'burn'], value: [burn] }],
    });
  drag(0.2);
  const pictures = { order: 'a'.repeat(64) };
  documents.follow([
    { op: 'change', id: 'left', patches: [{ op: 'add', path: ['pictures'], value: pictures }] },
    { op: 'change', id: 'gone', patches: [{ op: 'add', path: ['pictures'], value: {} }] },
  ]);
  assert.equal(documents.saver.state, 'waiting');
  drag(0.4);
  documents.undo();
  assert.deepEqual([left().values, left().pictures, documents.canUndo], [{}, pictures, null]);
  documents.redo();
  assert.deepEqual([left().values, left().pictures], [{ burn: [0.4] }, pictures]);
});

test('undo pressed while something is on its way follows it, press by press', async () => {
  const here = open();
  const { documents, told } = here;
  const motif = (id: string) =>
    newPart('motif', id, id, {
      ...{ format: 'wicked-veil/motif', version: 1, description: '', parameters: [], strands: [] },
      outputs: [{ id: 'o', name: 'out', expression: '1.0' }],
    } as never);
  await documents.commit('Add one', [{ op: 'add', part: motif('one') }]);
  await documents.commit('Add two', [{ op: 'add', part: motif('two') }]);
  documents.undo();
  documents.undo();
  documents.redo();
  for (let i = 0; i < 8; i += 1) await new Promise((resolve) => setTimeout(resolve));
  assert.deepEqual([told, documents.canUndo, documents.canRedo], [[], 'Add one', 'Add two']);
  assert.deepEqual([documents.parts.has('one'), documents.parts.has('two')], [true, false]);
  let refuse = (): void => undefined;
  here.wait(new Promise((_, reject) => (refuse = () => reject(new Error('The server refused this.')))));
  const failing = documents.commit('Add three', [{ op: 'add', part: motif('three') }]);
  documents.undo();
  refuse();
  await assert.rejects(failing);
  await new Promise((resolve) => setTimeout(resolve));
  assert.equal(documents.canUndo, 'Add one', 'what did not happen takes nothing else with it');
});

test('what is begun while something is on its way waits for its turn, and sees what came of that', async () => {
  const here = open();
  const { documents } = here;
  const motif = (id: string) =>
    newPart('motif', id, id, {
      ...{ format: 'wicked-veil/motif', version: 1, description: '', parameters: [], strands: [] },
      outputs: [{ id: 'o', name: 'out', expression: '1.0' }],
    } as never);
  let taken = (): void => undefined;
  here.wait(new Promise((resolve) => (taken = () => resolve([]))));
  const first = documents.commit('Add one', [{ op: 'add', part: motif('one') }]);
  await assert.rejects(documents.commit('Add two', [{ op: 'add', part: motif('two') }]), /still being saved/);
  const seen: string[] = [];
  const begin = (id: string) =>
    documents.inTurn(() => {
      seen.push([...documents.parts.keys()].filter((each) => /^(one|two|three)$/.test(each)).join(' '));
      return documents.commit(`Add ${id}`, [{ op: 'add', part: motif(id) }]);
    });
  const later = [begin('two'), begin('three')];
  await new Promise((resolve) => setTimeout(resolve));
  assert.deepEqual(seen, [], 'nothing is worked out before its turn');
  taken();
  await Promise.all([first, ...later]);
  assert.deepEqual(seen, ['one', 'one two']);
  assert.equal(documents.canUndo, 'Add three');

  let refuse = (): void => undefined;
  here.wait(new Promise((_, reject) => (refuse = () => reject(new Error('The server refused this.')))));
  const failing = assert.rejects(documents.commit('Add four', [{ op: 'add', part: motif('four') }]));
  const next = begin('five');
  await new Promise((resolve) => setTimeout(resolve));
  refuse();
  here.wait(Promise.resolve([]));
  await Promise.all([failing, next]);
  assert.equal(documents.canUndo, 'Add five', 'what was refused holds up nothing');
});

test('what is in hand: several steps are chosen, and another material begins anew', () => {
  const { selection } = open();
  selection.select('a');
  selection.choose('b');
  assert.deepEqual([...selection.chosen], ['a', 'b']);
  selection.choose('b');
  assert.deepEqual([...selection.chosen], ['a']);
  selection.show({ kind: 'uv' });
  selection.showMaterial('left');
  assert.deepEqual([selection.selected, selection.chosen.size, selection.shown.kind], [null, 0, 'finished']);
});

test('of several drivers the strongest is heard, and the next when it lets go', () => {
  const haze = sketchParameter('haze', 'float', [0], { scope: 'shared' });
  const glow = sketchParameter('glow', 'float', [0.5]);
  const body = sketchShader({ mist: [['value', { x: 'haze + glow' }]] }, {}, [haze, glow]);
  const foggy = newPart('shader', 'fog', 'Fog', body);
  const material = (id: string, name: string) =>
    newPart('material', id, name, {
      ...{ format: 'wicked-veil/material', version: 2, shader: 'fog', values: {} },
    }) as PartOf<'material'>;
  const parts = [material('left', 'House left'), material('right', 'House right')];
  const values = createValues(
    () => parts,
    (id) => [foggy, ...parts].find((each) => each.id === id),
  );
  const stands = (name: typeof glow, id: string) =>
    currentValue(name, { values: {}, shared: {} }, values.of(id))[0];
  assert.equal(stands(glow, 'left'), 0.5, 'as it is authored');
  for (const [i, by] of (['script', 'set', 'hand', 'cue'] as const).entries())
    values.drive(by, [{ material: 'left', parameter: 'glow', value: [i] }]);
  assert.deepEqual(values.of('left').get('glow'), { value: [2], by: 'hand' });
  for (const [by, then] of [
    ['hand', 0],
    ['script', 3],
    ['cue', 1],
    ['set', 0.5],
  ] as const) {
    values.clear(by);
    assert.equal(stands(glow, 'left'), then, `after ${by}`);
  }
  values.drive('script', [{ material: 'left', parameter: 'haze', value: [7] }]);
  assert.deepEqual(
    [stands(haze, 'left'), stands(haze, 'right')],
    [7, 7],
    'what is shared is driven everywhere',
  );
  assert.equal(stands(glow, 'right'), 0.5);
});

test('while a change is compiled elsewhere the page goes on, and only the newest is compiled', () => {
  const line = straightLine();
  const here = open(line);
  const { compiler } = here;
  const first = stateOf(here).good;
  assert.ok(first && !compiler.isBusy);
  line.hold();
  here.setX('uv.x');
  here.setX('uv.y * 2.0');
  here.setX('uv.y * 3.0');
  assert.ok(compiler.isBusy);
  assert.equal(stateOf(here).good, first, 'the last good one stays meanwhile');
  line.goOn();
  assert.ok(!compiler.isBusy);
  assert.match(stateOf(here).good!.live.fragment, /uv\.y \* 3\.0/);
  here.setX(0.25);
  line.hold();
  here.setX('uv.x');
  here.setX(0.5);
  line.goOn();
  assert.deepEqual([...stateOf(here).knobs.values()], [[0.5]], 'a number moved meanwhile is not lost');
  line.hold();
  here.setX(0.75);
  here.documents.apply(
    addStep('velvet', { strand: 0, step: 1 }, { id: 'new', operator: 'fract', arguments: {} }),
  );
  for (const x of [0.1, 0.2, 0.3]) here.setX(x);
  assert.deepEqual([...stateOf(here).knobs.values()], [[0.3]], 'it is seen while something is on its way');
  line.goOn();
  assert.deepEqual([...stateOf(here).knobs.values()], [[0.3]], 'and stays when that has come');
  assert.equal(stateOf(here).good!.program.taps.length, 3);
  assert.ok(!compiler.isBusy);
});

test('a compiler that stops is started again with everything, and says so where it does not', () => {
  let breaks = (): void => undefined;
  let starts = 0;
  const line = straightLine();
  const connect: ConnectCompiler = (receive, broken) => {
    starts += 1;
    breaks = () => broken('it ran out of memory.');
    return line.connect(receive, broken);
  };
  const here = open({ ...line, connect });
  here.setX('uv.x');
  const { good } = stateOf(here);
  breaks();
  assert.equal(starts, 2);
  assert.equal(
    stateOf(here).good!.live.fragment,
    good!.live.fragment,
    'the same source: the stage links nothing',
  );
  for (let i = 0; i < 3; i += 1) breaks();
  assert.equal(starts, 4);
  assert.match(here.told.at(-1)!, /ran out of memory\. Reload the page/);
});

test('what was saved elsewhere is taken over and can be undone; what was added or changed here meanwhile stays', async () => {
  let tell = (_: Readonly<Record<string, number>>): void => undefined;
  const theirs = { ...project.parts.find(({ id }) => id === 'left')!, revision: 9 } as PartOf<'material'>;
  const body = { ...theirs.body, values: { burn: [0.9] } };
  const documents = createDocuments(
    project,
    { changed: () => undefined, removed: () => undefined, refused: () => undefined },
    {
      tab: 'here',
      send: (_project, _deed, changes) => Promise.resolve(changes.map(() => 1)),
      read: {
        revisions: () => new Promise((resolve) => (tell = resolve)),
        part: (id) => Promise.resolve(id === 'left' ? { ...theirs, body } : null),
        revision: () => Promise.resolve(null),
      },
    },
  );
  opened.push(() => documents.saver.close());
  const known = Object.fromEntries(project.parts.map(({ id, revision }) => [id, revision]));
  const left = () => (documents.parts.get('left')!.body as typeof body).values;
  const looking = documents.catchUp();
  tell({ ...known, left: 9 });
  assert.deepEqual([await looking, left()], [[theirs.name], { burn: [0.9] }]);
  documents.undo();
  assert.deepEqual(left(), theirs.body.values);
  // Changed here now: it is merged as it is saved, not taken over.
  const again = documents.catchUp();
  tell({ ...known, left: 10 });
  assert.deepEqual([await again, left()], [[], theirs.body.values]);
  // A part that is added while the server answers is not one that was deleted elsewhere.
  const late = documents.catchUp();
  const part = newPart('script', 'new', 'New', { format: 'wicked-veil/script', version: 1, source: '' });
  await documents.commit('Add', [{ op: 'add', part }]);
  tell({ ...known, left: 10 });
  assert.deepEqual([await late, documents.parts.has('new')], [[], true]);
});
