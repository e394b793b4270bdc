import assert from 'node:assert/strict';
import { test } from 'node:test';
import { renameParameterIn } from './usesIn.ts';
import { newPart, type Part, type PartOf, type TakeDocument } from '#core/document/project.ts';
import { parsePart } from '#core/document/parsePart.ts';
import { sketchParameter, sketchShader } from '#core/document/sketch.ts';
import { withBoundMaterials } from '#core/document/valueKeys.ts';
import { compareMarks } from '#core/time/takes.ts';
import { currentValue } from '#core/time/values.ts';
import { changeParts } from '#core/edits/changeParts.ts';
import { useShader } from '#core/edits/partEdits.ts';
import { renameParameter } from '#core/edits/renameParameter.ts';

const burn = sketchParameter('burn', 'float', [0]);
const haze = sketchParameter('haze', 'float', [0], { scope: 'shared' });
const shaderOf = (id: string, parameters = [burn, haze]) =>
  newPart('shader', id, id, sketchShader({}, { opacity: 'burn' }, parameters)) as PartOf<'shader'>;
const materialOf = (id: string, name: string, shader: string, more: object = {}) =>
  newPart('material', id, name, {
    ...{ format: 'wicked-veil/material', version: 2, shader, values: { [burn.id]: [0.45] }, ...more },
  }) as PartOf<'material'>;
const velvet = materialOf('m', 'Velvet', 'veil', { presets: [{ name: 'Lit', values: { [burn.id]: [1] } }] });
const script = (source: string): Part =>
  newPart('script', 'script', 'Play', { format: 'wicked-veil/script', version: 1, source });
const shared: Part = newPart('shared', 'shared', 'Shared', {
  ...{ format: 'wicked-veil/shared', version: 1, values: { haze: [0.7] } },
} as PartOf<'shared'>['body']);
const mark = (tick: number, digest: string, key: string, x: number) => ({
  ...{ tick, digest, values: { [key]: [x] } },
});
const take: TakeDocument = {
  ...{ format: 'wicked-veil/take', version: 1, set: 'set', seed: 1, ticks: 120 },
  inputs: [
    { tick: 3, kind: 'hold', material: 'm', parameter: 'burn', value: [0.2] },
    { tick: 5, kind: 'hold', material: 'other', parameter: 'burn', value: [0.2] },
  ],
  marks: [mark(60, 'aa', 'm burn', 0.5), mark(120, 'bb', 'other burn', 1)],
};
const renamed = (parts: readonly Part[], parameter = { ...burn, name: 'scorch' }) => {
  const all = new Map(parts.map((each) => [each.id, each]));
  const shader = all.get('veil') as PartOf<'shader'>;
  return changeParts(all, renameParameter(parts, shader, parameter, renameParameterIn));
};

test('a renamed parameter keeps its values and presets, and scripts and takes follow', () => {
  const source = `// burn stays a word here
const velvet = material('Velvet'); const other = material('Other');
onTick(() => { velvet.burn = 1; velvet['burn'] += other.burn; log(material("Velvet").burn, 'burn'); });`;
  const other = materialOf('other', 'Other', 'plain');
  const before = [
    shaderOf('veil'),
    shaderOf('plain'),
    velvet,
    other,
    script(source),
    newPart('take', 'take', 'One', take),
  ];
  const { parts, back } = renamed(before);
  const { parameters } = (parts.get('veil') as PartOf<'shader'>).body;
  const { body } = parts.get('m') as typeof velvet;
  const authored = { values: body.values, shared: {} };
  assert.deepEqual([parameters[0]!.name, currentValue(parameters[0]!, authored)], ['scorch', [0.45]]);
  assert.deepEqual(body, velvet.body);
  // A new parameter under the old name begins at its own default.
  assert.deepEqual(currentValue({ ...burn, id: 'new' }, authored), [0]);
  assert.equal(
    (parts.get('script') as PartOf<'script'>).body.source,
    source
      .replace('velvet.burn', 'velvet.scorch')
      .replace("velvet['burn']", "velvet['scorch']")
      .replace('("Velvet").burn', '("Velvet").scorch'),
  );
  const played = (parts.get('take') as PartOf<'take'>).body;
  assert.deepEqual(
    played.inputs.map((each) => each.parameter),
    ['scorch', 'burn'],
  );
  assert.deepEqual(parsePart('take', played).problems, []);
  const replay = [mark(60, 'cc', 'm scorch', 0.5), mark(120, 'dd', 'other burn', 1)];
  assert.deepEqual(compareMarks(played.marks, replay), []);
  assert.equal(compareMarks(played.marks, [mark(60, 'cc', 'm scorch', 0.6)])[0]!.key, 'm scorch');
  assert.deepEqual([...changeParts(parts, back).parts.values()], before);
});

test('a renamed shared parameter takes its value along, and leaves it to other shaders that share the old name', () => {
  const mist = { ...haze, name: 'mist' };
  const sharedAfter = (others: readonly Part[]) =>
    (renamed([shaderOf('veil'), shared, ...others], mist).parts.get('shared') as PartOf<'shared'>).body
      .values;
  assert.deepEqual(sharedAfter([]), { mist: [0.7] });
  assert.deepEqual(sharedAfter([shaderOf('plain')]), { haze: [0.7], mist: [0.7] });
});

test('values of version 1, by name, are bound to ids; another shader takes them over by name, and gives them back', () => {
  const one = {
    format: 'wicked-veil/material',
    version: 1,
    shader: 'veil',
    values: { burn: [0.45], gone: [3] },
  };
  const presets = [{ name: 'Lit', values: { burn: [1] } }];
  const pictures = { burn: 'a'.repeat(64) };
  const { document } = parsePart('material', { ...one, presets, pictures });
  const material = newPart('material', 'm', 'Velvet', document as PartOf<'material'>['body']);
  const [, bound] = withBoundMaterials([shaderOf('veil'), material]) as [Part, PartOf<'material'>];
  assert.deepEqual(bound.body, {
    ...{ format: 'wicked-veil/material', version: 2, shader: 'veil' },
    values: { [burn.id]: [0.45], gone: [3] },
    pictures: { [burn.id]: 'a'.repeat(64) },
    presets: [{ name: 'Lit', values: { [burn.id]: [1] } }],
  });
  const [veil, ash] = [shaderOf('veil'), shaderOf('ash', [{ ...burn, id: 'ash-burn' }])];
  const wear = (of: PartOf<'material'>, shader: PartOf<'shader'>, before: PartOf<'shader'>) =>
    changeParts(new Map([[of.id, of]]), useShader(of, shader, before)).parts.get('m') as typeof velvet;
  const moved = wear(velvet, ash, veil);
  assert.deepEqual(
    [moved.body.values, moved.body.presets![0]!.values],
    [{ 'ash-burn': [0.45] }, { 'ash-burn': [1] }],
  );
  assert.deepEqual(wear(moved, veil, ash), velvet);
});
