import assert from 'node:assert/strict';
import { test } from 'node:test';
import { emptyMotif, type Library, type NamedMotif } from '#core/document/motif.ts';
import { sketchShader, sketchStrands } from '#core/document/sketch.ts';
import { programOf } from '#core/compileShader.ts';
import { findItems } from './paletteItems.ts';

const motif = (id: string, name: string, uses?: string): [string, NamedMotif] => [
  id,
  {
    id,
    name,
    body: {
      ...emptyMotif(),
      description: `about ${name}`,
      strands: uses ? sketchStrands({ own: [{ operator: 'motif', motif: uses, arguments: {} }] }) : [],
      outputs: [{ id: 'o', name: 'made', expression: '1.0' }],
    },
  },
];
const LIBRARY: Library = new Map([
  motif('inner', 'Ember glow'),
  motif('middle', 'Ember edge', 'inner'),
  motif('outer', 'Ember field', 'middle'),
]);
const keys = (wanted: string, inside: string | null = null) =>
  findItems(wanted, LIBRARY, inside).map((each) => each.key);

test('each thing is found by the words people use for it, the best first', () => {
  for (const [wanted, key] of [
    ['lerp', 'mix'],
    ['fresnel', 'facing'],
    ['custom', 'code'],
    ['worley', 'worley'],
    ['time', 'input time'],
    ['uv', 'input uv'],
    ['ember field', 'motif outer'],
  ] as const)
    assert.equal(keys(wanted)[0], key, wanted);
  assert.deepEqual(keys('nothing is called so'), []);
});

test('with nothing looked for everything is offered, once', () => {
  const all = keys('');
  assert.equal(new Set(all).size, all.length);
  for (const key of ['value', 'code', 'input uv', 'motif inner', 'smoothstep']) assert.ok(all.includes(key));
});

test('inside a motif neither it nor what uses it is offered, however far up', () => {
  assert.deepEqual(
    keys('ember', 'outer')
      .filter((key) => key.startsWith('motif '))
      .sort(),
    ['motif inner', 'motif middle'],
  );
  assert.deepEqual(
    keys('ember', 'inner').filter((key) => key.startsWith('motif ')),
    [],
  );
});

test('what is offered says how it is written and what it costs, and can be placed as it is', () => {
  for (const item of findItems('', LIBRARY, null)) {
    assert.ok(item.summary.length > 5, item.key);
    if (item.step.operator === 'motif') continue;
    const shader = sketchShader({ made: [['value', { x: 'uv.x' }], item.step] });
    const { diagnostics } = programOf(shader);
    // Only what needs a picture, a curve or a gradient, or a left of another type, may ask for more.
    for (const { message } of diagnostics)
      assert.match(message, /\bvec\d\b|picture|texture|curve|gradient|bool|mat3|whole number/i, item.key);
  }
  const [mix] = findItems('mix', LIBRARY, null);
  assert.match(mix!.signature!, /^mix\(/);
  assert.match(mix!.cost!, /^about \d+ operations/);
});
