import assert from 'node:assert/strict';
import test from 'node:test';
import { playhouse } from '#demo/playhouse.ts';
import { applyPatches, type Edit } from '../document/patch.ts';
import { parsePart } from '../document/parsePart.ts';
import type { PartOf, StageDocument } from '../document/project.ts';
import {
  addLight,
  addProp,
  changeLight,
  changeProps,
  duplicateProps,
  freePropName,
  removeLight,
  removeProps,
  setStage,
  setToneMapping,
} from './stageEdits.ts';

const sample = playhouse().parts.find((each) => each.id === 'proscenium')!;
const set = { ...sample, revision: 1 } as PartOf<'stage'>;
let count = 0;
const newId = () => `n${(count += 1)}`;

/** Does an edit to the set, which has to be a set afterwards, and one as it was once it is taken back. */
const done = (edit: Edit, before = set): PartOf<'stage'> => {
  const { document, inverse } = applyPatches<StageDocument>(before.body, edit.patches);
  assert.deepEqual(parsePart('stage', document).problems, []);
  assert.deepEqual(applyPatches<StageDocument>(document, inverse).document, before.body);
  return { ...before, body: document };
};
const names = ({ body }: PartOf<'stage'>) => body.props.map((each) => each.name);

test('props are added, copied behind their own under names of their own, and deleted', () => {
  const [first, second] = set.body.props;
  const more = done(addProp(set, { ...first!, id: 'more', name: freePropName(set, 'Boards') }));
  assert.deepEqual(names(more), [...names(set), 'Boards 2']);
  const { edit, made } = duplicateProps(more, [second!.id, 'more'], newId);
  const copied = done(edit, more);
  assert.deepEqual(names(copied), [
    ...['Curtain, house left', 'Boards', 'Boards 3', 'Backdrop', 'Bell swing', 'Boards 2', 'Boards 4'],
  ]);
  assert.deepEqual(
    copied.body.props.filter((each) => made.includes(each.id)).map((each) => each.name),
    ['Boards 3', 'Boards 4'],
  );
  assert.equal(edit.label, 'Duplicate 2 props');
  const gone = removeProps(copied, made);
  assert.deepEqual(names(done(gone, copied)), names(more));
  assert.equal(removeProps(set, [first!.id]).label, 'Delete Curtain, house left');
});

test('a change touches what it names and nothing else; a drag of the same props is one', () => {
  const id = set.body.props[1]!.id;
  const edit = changeProps(set, [id], 'Hide', (prop) => ({ ...prop, hidden: true }), 'mark');
  assert.deepEqual(
    edit.patches.map((each) => each.path),
    [['props', 1]],
  );
  assert.equal(edit.merge, `mark ${id}`);
  const now = done(edit);
  now.body.props.forEach((each, i) => assert.equal(each === set.body.props[i], i !== 1));
  assert.deepEqual(changeProps(set, [id], 'Nothing', (prop) => prop).patches, []);
});

test('lights, camera and tone mapping are edits too', () => {
  const lit = done(addLight(set));
  assert.equal(lit.body.lights.length, set.body.lights.length + 1);
  const dim = done(changeLight(lit, 0, { intensity: 0.5 }), lit);
  assert.deepEqual(dim.body.lights[0], { ...set.body.lights[0], intensity: 0.5 });
  assert.deepEqual(done(removeLight(dim, dim.body.lights.length - 1), dim).body.lights.slice(1), [
    ...set.body.lights.slice(1),
  ]);
  assert.equal(done(setStage(set.id, 'exposure', 2, 'Change exposure')).body.exposure, 2);
  assert.equal(done(setToneMapping(set.id, 'neutral')).body.toneMapping, 'neutral');
});
