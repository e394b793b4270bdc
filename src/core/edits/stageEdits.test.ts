import assert from 'node:assert/strict';
import test from 'node:test';
import type { Matrix4 } from 'three';
import { Object3D } from 'three';
import { playhouse } from '#demo/playhouse.ts';
import { applyPatches, type Edit } from '../document/patch.ts';
import { wayOn } from '../document/parents.ts';
import { parsePart } from '../document/parsePart.ts';
import type { PartOf, StageDocument } from '../document/project.ts';
import {
  addLight,
  addProp,
  changeLight,
  changeProps,
  duplicateProps,
  freePropName,
  mayStandOn,
  removeLight,
  removeProps,
  setParent,
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

/** Where each prop stands in the world, as three reckons it. */
const worlds = ({ body }: PartOf<'stage'>): Map<string, Matrix4> => {
  const objects = new Map(body.props.map((each) => [each.id, new Object3D()]));
  for (const { id, parent, position, rotation, scale } of body.props) {
    const object = objects.get(id)!;
    object.position.fromArray([...position]);
    object.rotation.set(...(rotation.map((x) => (x * Math.PI) / 180) as [number, number, number]));
    object.scale.fromArray([...(scale ?? [1, 1, 1])]);
    if (parent !== undefined) objects.get(parent)!.add(object);
  }
  for (const object of objects.values()) object.updateWorldMatrix(true, false);
  return new Map([...objects].map(([id, object]) => [id, object.matrixWorld]));
};
const stayed = (before: PartOf<'stage'>, now: PartOf<'stage'>): void => {
  const was = worlds(before);
  for (const [id, { elements }] of worlds(now))
    elements.forEach((x, i) => assert.ok(Math.abs(x - was.get(id)!.elements[i]!) < 1e-5, `${id} moved`));
};

test('props stand on one another and stay where they are: put on, put off, their carrier deleted', () => {
  const [a, b, c] = set.body.props.map((each) => each.id) as [string, string, string];
  const turned = done(
    changeProps(set, [a, b, c], 'Turn', (prop) => ({
      ...{ ...prop, rotation: [20, -100 - prop.position[0] * 7, 75] },
      ...{ position: [prop.position[0] + 1, 0.4, -2] },
      ...(prop.id === a ? { scale: [2, 2, 2] as const } : {}),
    })),
  );
  const on = done(setParent(turned, [b], a), turned);
  const both = done(setParent(on, [c], b), on);
  assert.deepEqual(
    both.body.props.slice(0, 3).map((each) => each.parent),
    [undefined, a, b],
  );
  stayed(turned, both);
  stayed(turned, done(setParent(both, [b, c], undefined), both));
  // A way of the world is the same way, whatever it is told from.
  const way = [0.3, -0.2, 0.5] as const;
  const [dx, dy, dz] = wayOn(both.body.props, c, way);
  const gone = done(
    changeProps(both, [c], 'Move', (prop) => {
      const [x, y, z] = prop.position;
      return { ...prop, position: [x + dx, y + dy, z + dz] };
    }),
    both,
  );
  [12, 13, 14].forEach((at, i) => {
    const moved = worlds(gone).get(c)!.elements[at]! - worlds(both).get(c)!.elements[at]!;
    assert.ok(Math.abs(moved - way[i]!) < 1e-9);
  });
  assert.deepEqual(wayOn(both.body.props, a, way), way);
  // Nothing stands on itself, however far round.
  assert.ok(!mayStandOn(both, [a], c) && mayStandOn(both, [c], a));
  assert.deepEqual(setParent(both, [a], c).patches, []);
  // What stood on what is gone stands on what that stood on.
  const left = done(removeProps(both, [b]), both);
  assert.equal(left.body.props.find((each) => each.id === c)!.parent, a);
  const was = worlds(both);
  const now = worlds(left).get(c)!.elements;
  now.forEach((x, i) => assert.ok(Math.abs(x - was.get(c)!.elements[i]!) < 1e-5));
  // Copies stand on each other as what they are made from does.
  const { edit, made } = duplicateProps(both, [a, c, b], newId);
  const copied = done(edit, both);
  const parents = made.map((id) => copied.body.props.find((each) => each.id === id)!.parent);
  assert.deepEqual(parents, [undefined, made[0], made[1]]);
});

test('a set whose props stand on what is not there, or in a circle, is refused with the place', () => {
  const problems = (parents: readonly (string | undefined)[]) =>
    parsePart('stage', {
      ...set.body,
      props: set.body.props.map((each, i) => ({ ...each, ...(parents[i] ? { parent: parents[i] } : {}) })),
    }).problems.map(({ path, message }) => `${path}: ${message}`);
  const [a, b] = set.body.props.map((each) => each.id);
  assert.match(problems(['nobody'])[0]!, /props\[0\]\.parent: There is no prop “nobody”/);
  assert.match(problems([b, a])[0]!, /props\[0\]\.parent: .* would stand on itself/);
  assert.equal(problems([undefined, a]).length, 0);
});
