import assert from 'node:assert/strict';
import { test } from 'node:test';
import { CompletionContext, type CompletionResult, type CompletionSource } from '@codemirror/autocomplete';
import { EditorState } from '@codemirror/state';
import { sketchParameter } from '#core/document/sketch.ts';
import { completeGlsl } from './completeGlsl.ts';
import { completeName } from '../../parts/completeName.ts';
import { completeScript } from './completeScript.ts';

/** What is offered where | stands, and from where it would be written over. */
const at = (source: CompletionSource, marked: string, explicit = false): CompletionResult | null => {
  const state = EditorState.create({ doc: marked.replace('|', '') });
  return source(new CompletionContext(state, marked.indexOf('|'), explicit)) as CompletionResult | null;
};
const labels = (result: CompletionResult | null): string[] =>
  (result?.options ?? []).map((each) => each.label);

test('code is completed with what is around it, what a shader is given, and GLSL’s own', () => {
  const source = completeGlsl(() => [{ name: 'front', detail: 'float, a strand above' }]);
  const offered = at(source, 'float made(vec2 uv) { return fr|; }')!;
  assert.equal(offered.from, 29, 'it takes the place of the word begun');
  const names = labels(offered);
  for (const name of ['front', 'uv', 'cameraPosition', 'fract', 'smoothstep', 'vec3', 'mat2', 'return'])
    assert.ok(names.includes(name), name);
  assert.equal(new Set(names.filter((name) => name === 'front')).size, 1);
  assert.equal(offered.options[0]!.label, 'front', 'the author’s own names come first');
  assert.equal(at(source, 'return |'), null, 'not before a word is begun');
  assert.equal(at(source, 'return |', true)!.from, 7, 'unless it is asked for');
  assert.equal(at(source, 'uv.x|'), null, 'not for components');
  assert.equal(at(source, 'return 2e|'), null, 'nor within numbers');
});

test('a script is completed with materials, their parameters, and the sandbox’s words', () => {
  const source = completeScript(() => [
    {
      name: 'Velvet, house left',
      parameters: [sketchParameter('burn', 'float', [0]), sketchParameter('heat', 'color', [1, 0, 0, 2])],
    },
    { name: 'Boards', parameters: [sketchParameter('gloss', 'float', [0])] },
  ]);
  const script = "const m = material('Velvet, house left');\nconst n = material(`Boards`);\n";
  assert.deepEqual(labels(at(source, "material('Ve|")), ['Velvet, house left', 'Boards']);
  assert.equal(at(source, "material('Ve|")!.from, 10);
  assert.deepEqual(labels(at(source, `${script}m.bu|`)), ['burn', 'heat']);
  assert.deepEqual(labels(at(source, `${script}n.|`)), ['gloss']);
  assert.equal(at(source, `${script}m.|`)!.options[1]!.detail, '[r, g, b, stops]');
  assert.equal(at(source, `${script}other.|`), null, 'nothing is known of what is no material');
  const words = labels(at(source, `${script}onT|`));
  for (const word of ['material', 'onTick', 'onKey', 'isHeld', 'random', 'log'])
    assert.ok(words.includes(word), word);
  assert.equal(at(source, `${script}|`), null);
  const set = completeScript(
    () => [],
    () => ({ prop: ['Bell', 'Clapper'], cue: ['toll'], flourish: ['Sweep'] }),
  );
  assert.deepEqual(labels(at(set, "prop('B|")), ['Bell', 'Clapper']);
  assert.deepEqual(labels(at(set, "cue('|")), ['toll']);
  assert.ok(labels(at(set, "const c = cue('toll');\nc.|")).includes('play'));
});

test('an argument offers what its word may go on as, and writes over that word only', () => {
  const around = [
    { name: 'edgeWidth', detail: 'float' },
    { name: 'ember', detail: 'strand' },
  ];
  const names = (marked: string) => {
    const caret = marked.indexOf('|');
    const found = completeName(marked.replace('|', ''), caret, around);
    return found && [found.from, found.to, ...found.offers.slice(0, 2).map((each) => each.name)];
  };
  assert.deepEqual(names('1.0 - e|'), [6, 7, 'edgeWidth', 'ember']);
  assert.deepEqual(names('mix(0.0, wid|x, uv.y)'), [9, 13, 'edgeWidth', 'fwidth(']);
  assert.deepEqual(names('smoot|(0.0, 1.0, x)'), [0, 6, 'smoothstep(']);
  assert.deepEqual([names('uv.x|'), names('2e|'), names('|'), names('zzz|')], [null, null, null, null]);
});

test('a number’s expression is offered operators, and what else GLSL has', () => {
  const names = (text: string) =>
    completeName(text, text.length, [])!.offers.map(({ name, detail }) => `${name} ${detail}`);
  assert.deepEqual(names('determ'), ['determinant( GLSL']);
  assert.ok(names('smooths').includes('smoothstep( operator'));
  assert.equal(names('smoothstep').filter((each) => each.startsWith('smoothstep(')).length, 1);
});
