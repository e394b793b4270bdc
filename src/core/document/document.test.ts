import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { playhouse } from '#demo/playhouse.ts';
import { changeParts } from '../edits/changeParts.ts';
import { emptyHistory, forget, record, recordProject, seal, takeRedo, takeUndo } from '../edits/history.ts';
import { applyPatches, type Edit, type Patch } from './patch.ts';
import {
  changeParameter,
  exposeParameter,
  moveStep,
  removeStep,
  renameStrand,
  setArgument,
  usesOf,
} from '../edits/shaderEdits.ts';
import { parsePart } from './parsePart.ts';
import { newPart } from './project.ts';
import { shader as shaderKind } from './kinds/shader.ts';
import { starterParts } from './starter.ts';
import type { Parameter, ShaderDocument } from './shader.ts';

const curtain = () =>
  structuredClone(playhouse().parts.find((part) => part.id === 'curtain-burn-away')!.body) as ShaderDocument;
const problemsOf = (change: (document: Record<string, unknown>) => void): string => {
  const document = curtain() as unknown as Record<string, unknown>;
  change(document);
  return shaderKind
    .parse(document)
    .problems.map((each) => `${each.path}: ${each.message}`)
    .join('\n');
};

test('the demo and the starter read without a problem, and reading changes nothing', () => {
  for (const part of [...playhouse().parts, ...starterParts()]) {
    const { document, problems } = parsePart(part.kind, JSON.parse(JSON.stringify(part.body)));
    assert.deepEqual(problems, []);
    assert.deepEqual(document, part.body);
  }
});

test('a document from a newer version is refused as such', () => {
  assert.match(
    problemsOf((d) => (d['version'] = 9)),
    /^version: This document was made by a newer version \(format 9/,
  );
  assert.match(
    problemsOf((d) => (d['format'] = 'other')),
    /^format: This should be “wicked-veil\/shader”/,
  );
});

test('wrong documents say where and what', () => {
  const first = (d: Record<string, unknown>, key: string) => (d[key] as Record<string, unknown>[])[0]!;
  for (const [change, expected] of [
    [(d) => (first(d, 'parameters')['min'] = 5), /^parameters\[0\]: Its range runs from 5 to 1/],
    [(d) => (first(d, 'parameters')['default'] = [7]), /default 7 lies outside its range 0 to 1/],
    [(d) => (first(d, 'parameters')['max'] = null), /^parameters\[0\]\.max: A finite number/],
    [
      (d) => (first(d, 'parameters')['name'] = 'order'),
      /^strands\[0\]\.name: The name “order” is used already at parameters\[0\]/,
    ],
    [(d) => (first(d, 'strands')['name'] = '__proto__'), /two underscores/],
    [
      (d) => (first(d, 'strands')['steps'] = 'none'),
      /^strands\[0\]\.steps: A list should stand here, not "none"/,
    ],
    [
      (d) => (first(d, 'strands')['steps'] = new Array(1_000_000).fill(null)),
      /1000000 entries; at most 20000/,
    ],
    [
      (d) => ((first(d, 'strands')['steps'] as { arguments: unknown }[])[0]!.arguments = { p: [1, NaN] }),
      /arguments\.p\[1\]: A finite number/,
    ],
    [(d) => ((d['surface'] as Record<string, unknown>)['outputs'] = { shine: '1.0' }), /no such output/],
    [(d) => (d['strands'] = null), /^strands: A list/],
  ] as readonly [(d: Record<string, unknown>) => unknown, RegExp][])
    assert.match(problemsOf(change), expected);
  for (const json of [null, 7, [], 'x', {}]) assert.ok(shaderKind.parse(json).problems.length);
});

test('every patch can be taken back', () => {
  const path = fc.constantFrom<(string | number)[]>(['a'], ['list', 0], ['list', 1], ['inner', 'b']);
  const patch = fc.oneof(
    fc.record({ op: fc.constantFrom('add' as const, 'replace' as const), path, value: fc.integer() }),
    fc.record({ op: fc.constant('remove' as const), path }),
  );
  fc.assert(
    fc.property(fc.array(patch, { maxLength: 8 }), (patches) => {
      const before = { a: 1, list: [1, 2, 3], inner: { b: 2 } };
      const kept = structuredClone(before);
      try {
        const { document, inverse } = applyPatches(before, patches);
        assert.deepEqual(applyPatches(document, inverse).document, kept);
      } catch (error) {
        assert.match(String(error), /There is nothing at/);
      }
      assert.deepEqual(before, kept, 'the document given is left alone');
    }),
  );
  assert.throws(() => applyPatches({}, [{ op: 'add', path: ['__proto__'], value: 1 }]));
});

const apply = (document: ShaderDocument, edit: Edit) => applyPatches(document, edit.patches).document;

test('moving, deleting and renaming keep the rest as it was', () => {
  const document = curtain();
  const moved = apply(document, moveStep('p', document, 'order-3', { strand: 0, step: 0 }));
  assert.deepEqual(
    moved.strands[0]!.steps.map((step) => step.id),
    ['order-3', 'order-1', 'order-2', 'order-4', 'order-5'],
  );
  assert.equal(moved.strands[1], document.strands[1]);
  assert.equal(apply(document, removeStep('p', document, 'front-2')).strands[1]!.steps.length, 1);
  const renamed = apply(document, renameStrand('p', document, 0, 'turn'));
  assert.equal(renamed.strands[1]!.steps[0]!.arguments['x'], 'turn');
  assert.match(String(renamed.strands[3]!.steps[4]!.arguments['y']), /time \* 3\.0 \+ turn \* 5\.0/);
  assert.deepEqual(usesOf(renamed, 'order'), []);
});

test('exposing puts the parameter where the number stood; renaming it follows every use', () => {
  const document = curtain();
  const parameter: Parameter = {
    id: 'p-new',
    name: 'glow',
    kind: 'float',
    default: [2.2],
    min: 0,
    max: 4,
    unit: '',
    group: 'Rim',
    description: '',
  };
  const exposed = apply(
    document,
    exposeParameter('p', document, parameter, { step: 'ember-4', argument: 'y' }),
  );
  assert.equal(exposed.strands[3]!.steps[3]!.arguments['y'], 'glow');
  assert.deepEqual(shaderKind.parse(exposed).problems, []);
  const renamed = apply(exposed, changeParameter('p', exposed, { ...parameter, name: 'shine' }));
  assert.equal(renamed.strands[3]!.steps[3]!.arguments['y'], 'shine');
});

test('a drag undoes as one; undo and redo go all the way', () => {
  const first = curtain();
  let document = first;
  let history = emptyHistory;
  const make = (edit: Edit) => {
    const done = applyPatches(document, edit.patches);
    document = done.document;
    history = record(history, edit, done.inverse);
  };
  for (const edge of [0.1, 0.2, 0.3]) make(setArgument('p', document, 'remains-2', 'edge', edge));
  history = seal(history);
  make(setArgument('p', document, 'remains-2', 'edge', 0.4));
  const last = document;
  assert.equal(history.done.length, 2);
  for (let taken = takeUndo(history); taken; taken = takeUndo(history)) {
    history = taken.history;
    document = applyPatches(document, taken.deed.back as readonly Patch[]).document;
  }
  assert.deepEqual(document, first);
  for (let taken = takeRedo(history); taken; taken = takeRedo(history)) {
    history = taken.history;
    document = applyPatches(document, taken.deed.forth as readonly Patch[]).document;
  }
  assert.deepEqual(document, last);
});

test('changes over several parts lead back to what was, and stop at what is not there', () => {
  const cue = (id: string, source: string) =>
    newPart('script', id, id, { format: 'wicked-veil/script', version: 1, source });
  const before = new Map([
    ['a', cue('a', '1')],
    ['b', cue('b', '2')],
  ]);
  const { parts, back } = changeParts(before, [
    { op: 'add', part: cue('c', '3') },
    { op: 'change', id: 'a', name: 'First', patches: [{ op: 'replace', path: ['source'], value: '4' }] },
    { op: 'delete', id: 'b' },
    { op: 'change', id: 'a', patches: [{ op: 'replace', path: ['source'], value: '5' }] },
  ]);
  assert.deepEqual([...parts.keys()], ['a', 'c']);
  assert.deepEqual(
    [parts.get('a')!.name, parts.get('a')!.body],
    ['First', { ...before.get('a')!.body, source: '5' }],
  );
  assert.deepEqual(changeParts(parts, back).parts, before);
  assert.throws(() => changeParts(before, [{ op: 'delete', id: 'z' }]), /no part “z”/);
  assert.throws(() => changeParts(before, [{ op: 'add', part: cue('a', '') }]), /“a” already/);

  let history = record(emptyHistory, { label: 'One', part: 'a', patches: [], merge: 'm' }, []);
  history = recordProject(history, { label: 'Two', forth: back, back });
  history = record(history, { label: 'Three', part: 'd', patches: [], merge: 'm' }, []);
  assert.deepEqual(
    forget(history, 'b').done.map((each) => each.label),
    ['One', 'Three'],
  );
  assert.equal(takeUndo(takeUndo(history)!.history)!.deed.kind, 'project');
});
