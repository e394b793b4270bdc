import assert from 'node:assert/strict';
import { test } from 'node:test';
import type { Rehearsal } from '../rehearsal.svelte.ts';
import type { Session } from '../state/session.svelte.ts';
import { walkCards } from '../score/walkCards.ts';
import { chordOf, chordText, type KeyHeld } from './chords.ts';
import { commandFor, nameOf } from './command.ts';
import { commandsNow, EVERYWHERE, type Desk } from './everywhere.ts';
import { KEYS } from './keysPage.ts';
import { deedOfChord, ON_CARD, ON_STRAND, type Card } from './onCard.ts';

const held = (key: string, more: Partial<KeyHeld> = {}): KeyHeld => ({
  ...{ key, code: '', ctrlKey: false, metaKey: false, altKey: false, shiftKey: false },
  ...more,
});

test('keys are told by what they write, and by where they lie where that is no Latin letter', () => {
  const rows: [KeyHeld, string][] = [
    [held('t'), 'T'],
    [held('е', { code: 'KeyT' }), 'T'],
    // On such a layout another key lies where T is; what it writes counts.
    [held('y', { code: 'KeyT' }), 'Y'],
    [held('U', { shiftKey: true }), 'Shift+U'],
    [held('z', { metaKey: true, shiftKey: true }), 'Ctrl+Shift+Z'],
    [held('?', { shiftKey: true }), '?'],
    [held('/', { shiftKey: true, code: 'Digit7' }), '/'],
    [held('ArrowLeft', { altKey: true }), 'Alt+ArrowLeft'],
    [held('Delete', { shiftKey: true }), 'Shift+Delete'],
  ];
  for (const [event, chord] of rows) assert.equal(chordOf(event), chord);
  assert.equal(chordText('Alt+ArrowLeft'), 'Alt ←');
});

test('no keys mean two things in one place, and the page of keys tells of all of them', () => {
  const places = [['Anywhere', EVERYWHERE] as const, ['On a step card', [...ON_CARD, ...ON_STRAND]] as const];
  const told = KEYS.flatMap(({ keys }) => keys.flatMap(([each]) => each.split(', ')));
  for (const [place, commands] of places) {
    const chords = commands.flatMap((each) => each.keys ?? []);
    assert.deepEqual([...new Set(chords)], chords, place);
    for (const { keys } of commands)
      if (keys?.[0]) assert.ok(told.includes(chordText(keys[0])), `${place}: ${keys[0]}`);
  }
});

test('a card hears what it can do now', () => {
  const done: string[] = [];
  const card: Card = { isCode: false, isMotif: false, muted: true, do: (deed) => done.push(deed) };
  assert.equal(deedOfChord('O', card), undefined, 'there is nothing to open');
  assert.equal(deedOfChord('O', { ...card, isMotif: true }), 'open');
  assert.equal(deedOfChord('Ctrl+V', card), undefined, 'what is pasted comes by itself');
  assert.equal(deedOfChord('Shift+Delete', card), 'strand-delete');
  const mute = ON_CARD.find(({ deed }) => deed === 'mute')!;
  assert.equal(nameOf(mute, card), 'Unmute');
  mute.run(card);
  assert.deepEqual(done, ['mute']);
});

test('a command is in the list only where it can be done', () => {
  const session = {
    ...{ id: 'p', canUndo: 'Move step', canRedo: null, openMotif: null, wraps: false, selected: null },
    ...{
      score: null,
      materials: [{ id: 'm', name: 'Velvet' }],
      ...{
        parts: [{ id: 'm', kind: 'material', name: 'Velvet' }],
        props: [],
        material: null,
        shader: null,
        stage: null,
      },
      library: new Map(),
      values: { driven: new Map() },
    },
  } as unknown as Session;
  let ran = '';
  const rehearsal = {
    running: true,
    toggle: () => (ran = 'stopped'),
  } as unknown as Rehearsal;
  const nothing = () => undefined;
  const desk: Desk = {
    session,
    rehearsal,
    open: () => undefined,
    ...{
      doToProps: nothing,
      newProp: nothing,
      bringModel: nothing,
      bringReference: nothing,
      dress: nothing,
      doToPart: nothing,
      begin: nothing,
      ...{ sweep: nothing, addCue: nothing, recordTake: nothing, playCue: nothing },
      ...{ addFlourish: nothing, playFlourish: nothing },
      pinProp: nothing,
      useShader: nothing,
      makeDefaults: nothing,
      comparing: {
        ...{ other: null, isHeld: false },
        ...{ begin: nothing, keep: nothing, choose: nothing, hold: nothing },
      },
    },
    go: (path) => (ran = path),
  };
  const names = commandsNow(desk).map((each) => nameOf(each, desk));
  for (const name of ['Undo: Move step', 'Stop the rehearsal', 'Open material Velvet', 'Wrap long strands'])
    assert.ok(names.includes(name), name);
  for (const name of ['Add strand', 'Add a step', 'Back to the shader', 'Keep the driven values'])
    assert.ok(!names.includes(name), name);
  assert.equal(commandFor(EVERYWHERE, 'Ctrl+Shift+Z', desk), undefined, 'there is nothing to redo');
  commandFor(EVERYWHERE, 'Ctrl+Enter', desk)!.run(desk);
  assert.equal(ran, 'stopped');
  commandsNow(desk)
    .find((each) => each.name === 'Handover')!
    .run(desk);
  assert.equal(ran, '/projects/p/handover');
});

test('keys lead from card to card, past strands that have none, and no further than the ends', () => {
  const strands = [['a', 'b', 'c'], [], ['d'], []].map((ids) => ({
    steps: ids.map((id) => ({ id })),
  }));
  const from = (id: string, key: string) => walkCards(strands, id, key);
  assert.deepEqual(
    ['ArrowLeft', 'ArrowRight', 'Home', 'End', 'ArrowUp', 'ArrowDown'].map((key) => from('b', key)),
    ['a', 'c', 'a', 'c', null, 'd'],
  );
  assert.deepEqual(
    [from('c', 'ArrowRight'), from('d', 'ArrowDown'), from('d', 'ArrowUp')],
    [null, null, 'a'],
  );
});
