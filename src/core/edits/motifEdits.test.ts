import assert from 'node:assert/strict';
import { test } from 'node:test';
import { programOf } from '../compileShader.ts';

import { parameterType } from '../lower/stepOperator.ts';
import type { Type } from '../program/types.ts';

import { reaches, type Library, type NamedMotif } from '../document/motif.ts';
import { parsePart } from '../document/parsePart.ts';
import type { Part } from '../document/project.ts';
import type { ShaderDocument, Step } from '../document/shader.ts';
import { sketchParameter, sketchShader, sketchStrands, type SketchedStep } from '../document/sketch.ts';
import { usersOf } from '../document/users.ts';
import { foldStrands, unfoldMotif } from './motifEdits.ts';

import { applied, counter, valuesOf, same, burning } from './edited.testing.ts';

// ---- motifs

const typesOf =
  (document: ShaderDocument) =>
  (name: string): Type | null => {
    const parameter = document.parameters.find((each) => each.name === name);
    if (parameter) return parameterType(parameter.kind);
    const { program } = programOf(document);
    const id = document.strands.find((each) => each.name === name)?.id;
    return program?.taps.findLast((tap) => tap.strand === id)?.value.type ?? null;
  };

const folded = (document: ShaderDocument, names: readonly string[]) => {
  const ids = new Set(document.strands.filter((each) => names.includes(each.name)).map((each) => each.id));
  const { motif, edit } = foldStrands('part', document, ids, typesOf(document), counter('f'));
  const library: Library = new Map([['m', { id: 'm', name: 'Burning rim', body: motif }]]);
  return { motif, library, document: applied(document, edit('m')) };
};

test('strands fold into a motif with typed inputs, and everything reads as before', () => {
  const before = burning();
  const { motif, library, document } = folded(before, ['order', 'rim']);
  assert.deepEqual(parsePart('motif', motif).problems, []);
  assert.deepEqual(
    motif.parameters.map(({ name, kind }) => `${name}:${kind}`),
    ['seedlings:vec2', 'grain:int', 'strength:float', 'width:float'],
  );
  assert.deepEqual(
    motif.outputs.map((each) => each.name),
    ['order', 'rim'],
  );
  assert.deepEqual(
    document.strands.map((each) => each.name),
    ['seedlings', 'order', 'rim', 'ember'],
  );
  assert.equal(document.strands[1]!.steps[0]!.operator, 'motif');
  same(valuesOf(before, 'ember'), valuesOf(document, 'ember', library), 'ember');
  same(valuesOf(before, 'rim'), valuesOf(document, 'rim', library), 'rim');
});

test('a use unfolds again into strands that mean the same, and touches no other use', () => {
  const before = burning();
  const { library, document } = folded(before, ['order', 'rim']);
  const motif = library.get('m')!;
  const at = { strand: document.strands.findIndex((each) => each.name === 'rim'), step: 0 };
  const unfolded = applied(document, unfoldMotif('part', document, at, motif, counter('u')));
  assert.deepEqual(parsePart('shader', unfolded).problems, []);
  same(valuesOf(before, 'ember'), valuesOf(unfolded, 'ember', library), 'ember');
  assert.equal(unfolded.strands.find((each) => each.name === 'order')!.steps[0]!.operator, 'motif');
});

test('a motif takes the left, its default, a number or an expression, and a use chooses its output', () => {
  const body = {
    ...folded(burning(), ['order', 'rim']).motif,
    parameters: [
      { ...sketchParameter('p', 'vec2', [0, 0]), reads: 'uv' },
      sketchParameter('amount', 'float', [0.5]),
    ],
    strands: sketchStrands({
      away: [
        ['length', { x: 'p' }],
        ['multiply', { y: 'amount' }],
      ],
    }),
    outputs: [
      { id: 'o1', name: 'near', expression: '1.0 - away' },
      { id: 'o2', name: 'far', expression: 'away' },
    ],
  };
  const motif: NamedMotif = { id: 'm', name: 'Near and far', body };
  const library: Library = new Map([['m', motif]]);
  const use = (given: Partial<Step>): SketchedStep => ({
    operator: 'motif',
    motif: 'm',
    arguments: {},
    ...given,
  });
  const shader = sketchShader({
    plain: [use({})],
    far: [use({ output: 'far', arguments: { amount: 2 } })],
    left: [['value', { x: 'uv + 1.0' }], use({ output: 'far', arguments: { amount: 'uv.x' } })],
    wanted: [['value', { x: '1.0 - length(uv) * 0.5' }]],
    wantedFar: [['value', { x: 'length(uv) * 2.0' }]],
    wantedLeft: [['value', { x: 'length(uv + 1.0) * uv.x' }]],
  });
  same(valuesOf(shader, 'plain', library), valuesOf(shader, 'wanted', library), 'default');
  same(valuesOf(shader, 'far', library), valuesOf(shader, 'wantedFar', library), 'number');
  same(valuesOf(shader, 'left', library), valuesOf(shader, 'wantedLeft', library), 'left');
  const wrong = sketchShader({ made: [use({ output: 'sideways' })] });
  assert.match(
    programOf(wrong, library).diagnostics[0]!.message,
    /has no output “sideways”; it has near, far/,
  );
  const misnamed = sketchShader({ made: [use({ arguments: { amuont: 1 } })] });
  assert.match(
    programOf(misnamed, library).diagnostics[0]!.message,
    /no argument “amuont”; did you mean amount/,
  );
});

test('motifs may use motifs, never in a circle, and a mistake inside is told where it is used', () => {
  const motif = (id: string, steps: readonly SketchedStep[]): NamedMotif => ({
    ...{ id, name: `motif ${id}` },
    body: {
      ...{ format: 'wicked-veil/motif', version: 1, description: '', parameters: [] },
      strands: sketchStrands({ inner: steps }),
      outputs: [{ id: 'o', name: 'out', expression: 'inner' }],
    },
  });
  const use = (id: string): SketchedStep => ({ operator: 'motif', motif: id, arguments: {} });
  const library: Library = new Map(
    [
      motif('a', [use('b')]),
      motif('b', [['value', { x: 'uv.x * 3.0' }]]),
      motif('c', [use('d')]),
      motif('d', [use('c')]),
      motif('e', [['value', { x: 'uv.q' }]]),
    ].map((each) => [each.id, each]),
  );
  const shader = sketchShader({ made: [use('a')], wanted: [['value', { x: 'uv.x * 3.0' }]] });
  same(valuesOf(shader, 'made', library), valuesOf(shader, 'wanted', library), 'nested');
  assert.ok(reaches(library, 'a', 'b') && !reaches(library, 'b', 'a') && reaches(library, 'c', 'c'));
  const said = (id: string) => programOf(sketchShader({ made: [use(id)] }), library).diagnostics[0]!.message;
  assert.match(said('c'), /uses itself; a motif cannot go in a circle/);
  assert.match(said('e'), /The motif motif e has a mistake in inner: /);
  assert.match(said('gone'), /not in the project any more/);
});

test('what cannot be folded into a motif says why', () => {
  const document = burning();
  const fold = (names: readonly string[], from = document) => folded(from, names);
  assert.throws(() => fold([]), /Choose the strands to fold first/);
  assert.throws(() => fold(['seedlings', 'rim']), /“order” stands between the strands chosen/);
  const noisy: ShaderDocument = {
    ...sketchShader({ made: [['valueNoise', { seed: 'grain.seed' }]] }),
    parameters: [sketchParameter('grain', 'noise', [3, 0], { max: 99 })],
  };
  assert.throws(() => fold(['made'], noisy), /grain is noise, which a motif cannot be given/);
});

test('a used part names its users', () => {
  const { document } = folded(burning(), ['order', 'rim']);
  const part = (id: string, kind: Part['kind'], body: unknown) =>
    ({ id, kind, name: id, revision: 1, body }) as Part;
  const parts = [part('Curtain', 'shader', document), part('Velvet', 'material', { shader: 'Curtain' })];
  assert.deepEqual(usersOf(parts, 'm'), ['Curtain']);
  assert.deepEqual(usersOf(parts, 'Curtain'), ['Velvet']);
  assert.deepEqual(usersOf(parts, 'Velvet'), []);
});
