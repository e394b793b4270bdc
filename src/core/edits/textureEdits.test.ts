import assert from 'node:assert/strict';
import { test } from 'node:test';
import { applyPatches } from '../document/patch.ts';
import { newPart, type Part, type PartOf, type TextureStep } from '../document/project.ts';
import { sketchParameter } from '../document/sketch.ts';
import { samplingHash } from '../document/sampling.ts';
import { usersOf } from '../document/users.ts';
import { changeParts } from './changeParts.ts';
import { setPicture } from './materialEdits.ts';
import { deletePart } from './partEdits.ts';
import { bakedChanges, changeStep, moveStep, readTexture } from './textureEdits.ts';

const step = (id: string, kind: string, words: TextureStep['words'] = {}): TextureStep => ({
  ...{ id, step: kind, numbers: {}, words },
});
const texture = (id: string, steps: readonly TextureStep[], more: object = {}): PartOf<'texture'> =>
  newPart('texture', id, id, {
    ...{ format: 'wicked-veil/texture', version: 1, size: [64, 64], repeats: [true, true], holds: 'numbers' },
    ...{ steps, ...more },
  }) as PartOf<'texture'>;
const material = (id: string, more: object = {}): PartOf<'material'> =>
  newPart('material', id, id, {
    ...{ format: 'wicked-veil/material', version: 2, shader: 's', values: {}, ...more },
  }) as PartOf<'material'>;
const all = (...parts: readonly Part[]): Map<string, Part> => new Map(parts.map((each) => [each.id, each]));
const map = sketchParameter('map', 'texture', [], { id: 'map' });
const [OLD, NEW] = ['a'.repeat(64), 'b'.repeat(64)];

test('steps are moved as far as they go, and changed alone', () => {
  const one = texture('one', [step('a', 'noise'), step('b', 'levels'), step('c', 'blur')]);
  const after = (edit: ReturnType<typeof moveStep>): readonly TextureStep[] =>
    applyPatches(one.body, edit.patches).document.steps;
  const ids = (id: string, way: -1 | 1): string =>
    after(moveStep(one, id, way))
      .map((each) => each.id)
      .join('');
  assert.deepEqual([ids('b', -1), ids('b', 1), ids('a', -1), ids('c', 1)], ['bac', 'acb', 'abc', 'abc']);
  const changed = after(changeStep(one, 'b', 'Change', (each) => ({ ...each, off: true })));
  assert.deepEqual(
    changed.map(({ off }) => off),
    [undefined, true, undefined],
  );
  assert.equal(changed[0], one.body.steps[0]);
});

test('what was baked reaches the materials that read it and no others; the same again changes nothing', () => {
  const made = texture('made', [step('a', 'noise')]);
  const reads = material('reads', {
    made: { map: 'made', other: 'else' },
    pictures: { map: OLD, other: OLD },
  });
  const apart = material('apart', { made: { map: 'else' }, pictures: { map: OLD } });
  const changes = bakedChanges(made, [reads, apart], NEW, 'recipe');
  const { parts } = changeParts(all(made, reads, apart), changes);
  assert.deepEqual((parts.get('reads') as typeof reads).body.pictures, { map: NEW, other: OLD });
  assert.equal(parts.get('apart'), apart);
  const now = parts.get('made') as typeof made;
  assert.deepEqual([now.body.baked, now.body.bakedOf], [NEW, 'recipe']);
  assert.deepEqual(bakedChanges(now, [parts.get('reads') as typeof reads, apart], NEW, 'recipe'), []);
});

test('textures that one material reads each in its own way leave one another alone', () => {
  const own = { baked: NEW, bakedOf: 'recipe' };
  const first = texture('first', [step('a', 'noise')], { ...own, filter: 'nearest' });
  const second = texture('second', [step('a', 'noise')], { ...own, bits: 16 });
  const usual = texture('third', [step('a', 'noise')], own);
  const reads = material('reads', {
    made: { map: 'first', other: 'second', last: 'third' },
    pictures: { map: OLD, other: NEW, last: NEW },
  });
  let parts: ReadonlyMap<string, Part> = all(first, second, usual, reads);
  const reader = () => parts.get('reads') as typeof reads;
  for (const each of [first, second, usual])
    ({ parts } = changeParts(parts, bakedChanges(each, [reader()], NEW, 'recipe')));
  assert.deepEqual(Object.keys(reader().body.sampling!), ['map', 'other']);
  for (const each of [first, second, usual])
    assert.deepEqual(bakedChanges(each, [reader()], NEW, 'recipe'), []);
});

test('a parameter reads a texture as it was baked last, until it is given a picture or none', () => {
  const made = texture('made', [step('a', 'noise')], { baked: NEW });
  const plain = material('plain');
  const read = applyPatches(plain.body, readTexture(plain, map, made).patches).document;
  assert.deepEqual([read.made, read.pictures], [{ map: 'made' }, { map: NEW }]);
  const reading = { ...plain, body: read };
  const none = applyPatches(read, readTexture(reading, map, null).patches).document;
  assert.deepEqual([none.made, none.pictures], [undefined, { map: NEW }]);
  const chosen = applyPatches(read, setPicture('plain', read, map, OLD).patches).document;
  assert.deepEqual([chosen.made, chosen.pictures], [{}, { map: OLD }]);
});

test('how a texture is read goes along with what it was baked to, and goes with it', () => {
  const stepped = texture('made', [step('a', 'noise')], {
    baked: NEW,
    repeats: [true, false],
    filter: 'nearest',
  });
  const plain = material('plain');
  const read = applyPatches(plain.body, readTexture(plain, map, stepped).patches).document;
  const { map: sampled } = read.sampling!;
  assert.deepEqual<unknown>(sampled, { repeats: [true, false], filter: 'nearest' });
  assert.equal(samplingHash(sampled!), '#repeat-clamp-nearest');
  const reading = { ...plain, body: read };
  assert.deepEqual(
    bakedChanges({ ...stepped, body: { ...stepped.body, bakedOf: 'r' } }, [reading], NEW, 'r'),
    [],
  );
  // It comes round again: the same picture, read otherwise.
  const usual = texture('made', stepped.body.steps, { baked: NEW, bakedOf: 'r' });
  const { parts } = changeParts(all(usual, reading), bakedChanges(usual, [reading], NEW, 'r'));
  const { body } = parts.get('plain') as typeof plain;
  assert.deepEqual([body.sampling, body.pictures], [undefined, { map: NEW }]);
  const chosen = applyPatches(read, setPicture('plain', read, map, OLD).patches).document;
  assert.deepEqual(chosen.sampling, {});
  // What its smaller copies are means of, and how finely it is kept.
  const fine = texture('made', stepped.body.steps, { baked: NEW, holds: 'directions', bits: 16 });
  const finely = applyPatches(plain.body, readTexture(plain, map, fine).patches).document.sampling!['map']!;
  assert.equal(samplingHash(finely), '#repeat-repeat-linear-directions-16');
});

test('a texture that another is made of is not deleted; one that materials read goes, and what it came to stays', () => {
  const base = texture('base', [step('a', 'noise')]);
  const over = texture('over', [step('t', 'texture', { texture: 'base' })]);
  const reads = material('reads', { made: { map: 'base' }, pictures: { map: OLD } });
  assert.deepEqual(usersOf([base, over, reads], 'base'), ['over', 'reads']);
  assert.equal(deletePart([base, over, reads], base), '“base” is used by over; take it out there first.');
  const gone = deletePart([base, reads], base);
  assert.ok(typeof gone !== 'string');
  const { parts } = changeParts(all(base, reads), gone.changes);
  assert.equal(parts.has('base'), false);
  const { body } = parts.get('reads') as typeof reads;
  assert.deepEqual([body.made, body.pictures], [undefined, { map: OLD }]);
});
