import assert from 'node:assert/strict';
import { test } from 'node:test';
import { costOf } from '../analyse/operatorCost.ts';
import { sketchShader } from '../document/sketch.ts';
import { programOf } from '../compileShader.ts';
import { OPERATORS, searchOperators } from './catalogue.ts';
import { FAMILIES } from './declare.ts';
import { at } from './atOnePoint.testing.ts';

// ---- declarations

test('every declaration is whole: a sentence, an example that compiles, a cost, synonyms that find it', () => {
  for (const each of OPERATORS.values()) {
    assert.ok(FAMILIES.includes(each.family));
    assert.match(each.summary, /^[\w−0-9].*\.$/s, each.name);
    assert.ok(each.example, `${each.name} has no example`);
    assert.ok(at(each.example).every(Number.isFinite), `${each.name}: ${each.example}`);
    assert.ok(costOf(each.name).arithmetic >= 0);
    for (const [name, input] of Object.entries(each.inputs)) {
      if (input.min !== undefined) assert.ok(input.min <= input.max!, `${each.name}.${name}`);
      if (typeof input.default !== 'string' && input.min !== undefined && input.type !== 'choice')
        for (const x of input.default)
          assert.ok(x >= input.min && x <= input.max!, `${each.name}.${name}: ${x}`);
    }
    if (each.flow !== null) assert.ok(Object.hasOwn(each.inputs, each.flow), each.name);
    for (const synonym of each.synonyms ?? [])
      assert.ok(searchOperators(synonym).includes(each), `${synonym} does not find ${each.name}`);
  }
});

test('the words people bring from elsewhere find ours first', () => {
  for (const [word, name] of [
    ['lerp', 'mix'],
    ['fresnel', 'facing'],
    ['one minus', 'invert'],
    ['voronoi', 'worley'],
    ['fbm', 'fractal'],
    ['vortex', 'swirl'],
    ['pan', 'offset'],
    ['color ramp', 'gradientMap'],
    ['posterize', 'quantise'],
    ['ripple', 'rings'],
    ['grab', 'sceneColor'],
    ['reoriented', 'combineNormals'],
    ['if', 'select'],
  ] as const)
    assert.ok(
      searchOperators(word)
        .slice(0, 4)
        .some((each) => each.name === name),
      `${word}: ${searchOperators(word)
        .map((each) => each.name)
        .slice(0, 5)
        .join(', ')}`,
    );
});

test('what costs more says so', () => {
  const work = (name: string) => costOf(name).arithmetic;
  assert.ok(work('add') < work('smoothstep') && work('smoothstep') < work('valueNoise'));
  assert.ok(work('valueNoise') < work('worley') && work('worley') < work('worley3'));
  assert.equal(costOf('triplanar').textures, 3);
  assert.equal(costOf('add').textures, 0);
});

test('a wrong word for a choice names the right ones, with the nearest as a fix', () => {
  const { diagnostics } = programOf(sketchShader({ made: [['worley', { metric: 'strait' }]] }));
  assert.match(diagnostics[0]!.message, /worley’s metric is one of straight, blocks, square, not “strait”/);
  assert.deepEqual(diagnostics[0]!.fix, { label: 'change to straight', text: 'straight' });
  const called = programOf(sketchShader({ made: [['value', { x: 'wave(uv.x, 0.0, circle)' }]] }));
  assert.match(called.diagnostics[0]!.message, /one of sine, triangle, square, saw/);
  const missing = programOf(sketchShader({ made: [['curve', { x: 'uv.x' }]] }));
  assert.match(
    missing.diagnostics[0]!.message,
    /curve’s shape needs a curve parameter; make one and name it here/,
  );
});
