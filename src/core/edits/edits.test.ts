import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { programOf } from '../compileShader.ts';
import { evaluate } from '../evaluate/columns/evaluate.ts';

import { parsePart } from '../document/parsePart.ts';
import type { ShaderDocument, Step } from '../document/shader.ts';
import { sketchShader, type SketchedStep } from '../document/sketch.ts';
import { copySteps, copyStrands, paste } from './clipboard.ts';
import { EditRefusal, expressionOfSteps, foldSteps, unfoldStep } from './foldExpression.ts';
import { applyPreset, keepPreset, removePreset } from './materialEdits.ts';

import { renameEverywhere, usesOf } from '../document/uses.ts';
import { applied, counter, valuesOf, same, burning } from './edited.testing.ts';

// ---- folding and unfolding

const STEPS: readonly (readonly [readonly SketchedStep[], string])[] = [
  [[['value', { x: 0.5 }]], 'value(0.5)'],
  [
    [['worley', { p: 'uv * 6.0', seed: 3 }], ['subtract', { y: 0.25 }], ['clamp']],
    'clamp(subtract(worley(uv * 6.0, 3), 0.25))',
  ],
  [
    [
      ['value', { x: 'uv.x' }],
      ['smoothstep', { low: 0.2 }],
    ],
    'smoothstep(0.2, 1.0, uv.x)',
  ],
  [[['worley', { metric: 'blocks' }]], 'worley(uv, 0, 0, 1.0, nearest, blocks)'],
  [
    [
      ['value', { x: 'uv.x + 1.0' }],
      ['multiply', { y: 'uv.y - 1.0' }],
    ],
    'multiply(uv.x + 1.0, uv.y - 1.0)',
  ],
  [[['tile', { count: [2, 3] }], ['valueNoise']], 'valueNoise(tile(uv, vec2(2.0, 3.0)))'],
  [
    [['value', { x: 'uv.x' }], { operator: 'add', arguments: { y: 1 }, muted: true }, ['negate']],
    'negate(uv.x)',
  ],
  [[['wave', { x: 'uv.x', signed: 1 }]], 'wave(uv.x, 0.0, sine, true)'],
];

test('steps fold into the expression a person would write, and mean the same', () => {
  for (const [steps, text] of STEPS) {
    const shader = sketchShader({ made: steps });
    assert.equal(expressionOfSteps(shader.strands[0]!.steps), text);
    const folded = applied(shader, foldSteps('part', 0, shader.strands[0]!, steps.length - 1, 'new'));
    assert.equal(folded.strands[0]!.steps.length, 1);
    same(valuesOf(shader, 'made'), valuesOf(folded, 'made'), text);
  }
});

test('an expression unfolds into steps that mean the same', () => {
  for (const [text, words] of [
    ['clamp(worley(uv * 6.0, 3) - 0.25, 0.0, 1.0)', ['value', 'multiply', 'worley', 'subtract', 'clamp']],
    ['mix(uv.x, uv.y, 0.5) * 2.0 + 1.0', ['value', 'mix', 'multiply', 'add']],
    ['-(uv.x / 3.0)', ['value', 'divide', 'negate']],
    ['pow(uv.x + 0.5, 2.0)', ['value', 'add', 'power']],
    ['uv.y - (uv.x + 1.0)', ['value', 'subtract']],
  ] as const) {
    const shader = sketchShader({
      made: [
        ['value', { x: text }],
        ['add', { y: 0 }],
      ],
    });
    const unfolded = applied(shader, unfoldStep('part', 0, shader.strands[0]!, counter('n')));
    assert.deepEqual(
      unfolded.strands[0]!.steps.map((step) => step.operator),
      [...words, 'add'],
      text,
    );
    same(valuesOf(shader, 'made'), valuesOf(unfolded, 'made'), text);
  }
});

test('what cannot be folded or unfolded says why', () => {
  const code: Step = { id: 'c', operator: 'code', code: 'float f(float x) { return x; }', arguments: {} };
  assert.throws(() => expressionOfSteps([code]), /code cannot be folded/);
  assert.throws(
    () => expressionOfSteps([{ id: 'a', operator: 'value', arguments: { x: 'uv.x +' } }]),
    /has a mistake; mend it/,
  );
  const plain = sketchShader({ made: [['value', { x: 'uv.x' }]], other: [['worley']] });
  assert.throws(() => unfoldStep('p', 0, plain.strands[0]!, counter('n')), /No operator stands for this/);
  assert.throws(() => unfoldStep('p', 1, plain.strands[1]!, counter('n')), EditRefusal);
});

test('folding and unfolding come back to the same values, whatever the steps', () => {
  const step = fc.constantFrom<SketchedStep>(
    ...([
      ['add', { y: 0.3 }],
      ['multiply', { y: 'uv.y' }],
      ['invert'],
      ['saturate'],
      ['sin'],
      ['power', { y: 2 }],
    ] as const),
    ...([['remap', { inHigh: 2 }], ['step', { edge: 0.4 }], ['quantise'], ['max', { y: 'uv.x' }]] as const),
  );
  fc.assert(
    fc.property(fc.array(step, { maxLength: 6 }), (steps) => {
      const shader = sketchShader({ made: [['value', { x: 'uv.x' }], ...steps] });
      const folded = applied(shader, foldSteps('p', 0, shader.strands[0]!, steps.length, 'folded'));
      same(valuesOf(shader, 'made'), valuesOf(folded, 'made'), 'folded');
      if (!steps.length) return;
      const again = applied(folded, unfoldStep('p', 0, folded.strands[0]!, counter('n')));
      same(valuesOf(shader, 'made'), valuesOf(again, 'made'), 'unfolded');
    }),
    { numRuns: 40, seed: 5 },
  );
});

// ---- motifs

// ---- copying

test('steps and strands are copied as text that people can read, with the parameters they need', () => {
  const document = burning();
  const text = copyStrands(document, document.strands.slice(1, 3));
  assert.match(text, /"format": "wicked-veil\/clipping"/);
  const other = sketchShader({ seedlings: [['value', { x: 'uv' }]], order: [['value', { x: 1 }]] });
  const { edit, ids } = paste('part', other, text, { strand: 1, step: 0 }, counter('p'));
  const pasted = applied(other, edit);
  assert.deepEqual(
    pasted.strands.map((each) => each.name),
    ['seedlings', 'order', 'order2', 'rim'],
  );
  assert.deepEqual(
    pasted.strands[3]!.steps[0]!.arguments,
    { x: 'order2' },
    'what they read of each other follows',
  );
  assert.deepEqual(
    pasted.parameters.map((each) => each.name),
    ['strength', 'width', 'grain'],
  );
  assert.equal(ids.length, 4);
  assert.deepEqual(parsePart('shader', pasted).problems, []);
  assert.ok(programOf(pasted).program);
});

test('pasted steps join a strand with ids of their own', () => {
  const document = burning();
  const text = copySteps(document, document.strands[2]!.steps);
  const { edit } = paste('part', document, text, { strand: 3, step: 1 }, counter('p'));
  const pasted = applied(document, edit);
  assert.deepEqual(
    pasted.strands[3]!.steps.map((each) => each.operator),
    ['value', 'value', 'band'],
  );
  assert.equal(edit.label, 'Paste 2 steps');
  assert.deepEqual(parsePart('shader', pasted).problems, []);
});

test('what is pasted and is no clipping is refused with a sentence', () => {
  for (const text of [
    '',
    'hello',
    '{}',
    '[1]',
    '{"format":"wicked-veil/clipping","strands":3}',
    '{"format":"wicked-veil/clipping","strands":[{"id":1}]}',
  ])
    assert.throws(
      () => paste('p', burning(), text, { strand: 0, step: 0 }, counter('p')),
      /What was copied/,
      text,
    );
});

// ---- names and presets

test('a name is changed wherever it is read: arguments, outputs, code, and never in a comment or a component', () => {
  const code = '// width and order\nfloat made(vec2 p) { float width = p.x; return order * p.x + width; }';
  const document: ShaderDocument = {
    ...sketchShader({
      order: [['value', { x: 'uv.x' }]],
      made: [{ operator: 'code', code, arguments: { p: 'uv * order' } }],
    }),
  };
  const renamed = renameEverywhere(
    { ...document, surface: { ...document.surface, outputs: { opacity: 'order + made' } } },
    'order',
    'who',
  );
  assert.equal(renamed.strands[0]!.name, 'who');
  assert.match(renamed.strands[1]!.steps[0]!.code!, /\/\/ width and order\n.*return who \* p\.x/s);
  assert.deepEqual(renamed.strands[1]!.steps[0]!.arguments, { p: 'uv * who' });
  assert.equal(renamed.surface.outputs.opacity, 'who + made');
  assert.deepEqual(
    usesOf(renamed, 'who').map((use) => use.step),
    ['made-0', 'made-0', null],
  );
});

test('a name inside code is the strand’s only where nothing of the code’s own is called so', () => {
  const code = [
    'struct Mark { float grain; };',
    'float grain2(float grain) { return grain * 2.0; }',
    'float made(vec2 p, float width) {',
    '  Mark m = Mark(grain);',
    '  float s = m.grain + grain2(grain);',
    '  for (int grain = 0; grain < 3; grain++) { s += float(grain); }',
    '  { float grain = 9.0; s += grain; }',
    '  return s + grain + width;',
    '}',
  ].join('\n');
  const document = sketchShader({
    grain: [['value', { x: 'uv.x' }]],
    made: [{ operator: 'code', code, arguments: { p: 'uv', width: 'grain' } }],
  });
  const valueOf = (shader: ShaderDocument) => {
    const { program } = programOf(shader);
    const points = { count: 1, inputs: { uv: [0.25, 0] }, parameters: new Map(), knobs: new Map() };
    return evaluate([program!.taps.at(-1)!.value], points)[0]!.data[0];
  };
  const before = valueOf(document);
  // Also where the new name is one that the code has of its own: a variable, a parameter, a field.
  for (const name of ['order', 's', 'width', 'm', 'p']) {
    const renamed = renameEverywhere(document, 'grain', name);
    assert.equal(valueOf(renamed), before, `${name}: ${renamed.strands[1]!.steps[0]!.code}`);
    const text = renamed.strands[1]!.steps[0]!.code!;
    assert.match(text, /float grain2\(float grain\) \{ return grain \* 2\.0; \}/);
    assert.match(text, /\{ float grain = 9\.0; \w+ \+= grain; \}/);
  }
});

test('presets are kept, taken up again and deleted as edits', () => {
  const material = {
    format: 'wicked-veil/material',
    version: 2,
    shader: 's',
    values: { burn: [0.3] },
  } as const;
  const kept = applied(material, keepPreset('m', material, 'Opening night'));
  const changed = { ...kept, values: { burn: [0.9] } };
  const twice = applied(changed, keepPreset('m', changed, 'Dress'));
  assert.deepEqual(parsePart('material', twice).problems, []);
  const [first] = (
    twice as { presets?: readonly { name: string; values: Record<string, readonly number[]> }[] }
  ).presets!;
  assert.deepEqual(applied(twice, applyPreset('m', first!)).values, { burn: [0.3] });
  const left = applied(twice, removePreset('m', twice, 'Dress')) as { presets?: readonly unknown[] };
  assert.equal(left.presets!.length, 1);
});
