import assert from 'node:assert/strict';
import { test } from 'node:test';
import { mergeDocuments } from './mergeDocuments.ts';

const base = {
  values: { burn: [0.1], rim: [1, 2] },
  lit: true,
  steps: [
    { id: 'a', x: 1 },
    { id: 'b', x: 2, y: { z: 0 } },
    { id: 'c', x: 3 },
  ],
};
const merged = (mine: unknown, theirs: unknown): unknown => mergeDocuments<unknown>(base, mine, theirs);
const [a, b, c] = base.steps;

test('changes of two fields, of two items and of one item’s two fields are merged', () => {
  assert.deepEqual(
    merged(
      { ...base, values: { burn: [0.2], rim: [1, 2] } },
      { ...base, lit: false, values: { ...base.values, tint: [1] } },
    ),
    { merged: { ...base, lit: false, values: { burn: [0.2], rim: [1, 2], tint: [1] } } },
  );
  assert.deepEqual(
    merged(
      { ...base, steps: [a, { ...b, x: 9 }, c] },
      { ...base, steps: [{ ...a, x: 7 }, { ...b, y: { z: 5 } }, c] },
    ),
    { merged: { ...base, steps: [{ id: 'a', x: 7 }, { id: 'b', x: 9, y: { z: 5 } }, c] } },
  );
  // A field taken away here, another changed there.
  assert.deepEqual(merged({ values: base.values, steps: base.steps }, { ...base, values: { burn: [3] } }), {
    merged: { values: { burn: [3] }, steps: base.steps },
  });
});

test('items added on both sides stay behind what they were put behind; moved ones stay moved, deleted ones gone', () => {
  const [mine, theirs] = [
    { id: 'mine', x: 0 },
    { id: 'theirs', x: 0 },
  ];
  const steps = (here: readonly unknown[], there: readonly unknown[]) =>
    (
      merged({ ...base, steps: here }, { ...base, steps: there }) as { merged?: { steps: { id: string }[] } }
    ).merged?.steps
      .map(({ id }) => id)
      .join(' ');
  assert.equal(steps([a, mine, b, c], [a, b, c, theirs]), 'a mine b c theirs');
  assert.equal(steps([mine, a, b, c], [a, b]), 'mine a b');
  assert.equal(steps([c, a, b], [a, b, theirs, c]), 'c a b theirs');
  assert.equal(steps([c, a, b], [b, a, c]), undefined);
});

test('the same place changed in two ways is a conflict, told by its path; changed alike it is none', () => {
  const set = (x: number) => ({ ...base, steps: [a, { ...b, x }, c] });
  assert.deepEqual(merged(set(5), set(6)), { conflicts: ['steps[b].x'] });
  assert.deepEqual(merged(set(5), set(5)), { merged: set(5) });
  assert.deepEqual(merged(set(5), { ...base, steps: [a, c] }), { conflicts: ['steps[b]'] });
  assert.deepEqual(
    merged(
      { ...base, values: { ...base.values, rim: [0, 2] } },
      { ...base, values: { ...base.values, rim: [1, 0] } },
    ),
    {
      conflicts: ['values.rim'],
    },
  );
});
