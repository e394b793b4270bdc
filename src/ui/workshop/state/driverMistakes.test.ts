import assert from 'node:assert/strict';
import { test } from 'node:test';
import { compileShader } from '#core/compileShader.ts';
import { sketchShader } from '#core/document/sketch.ts';
import { driverMistakes } from './driverMistakes.ts';

const code = `
float helper(float x) { return x; }
float made(vec2 uv) {
  for (;;) { if (uv.x > 0.0) break; }
  float a[2];
  a[0] = helper(uv.x);
  return a[0] + textureSize(uv);
}`;
const score = sketchShader({
  above: [['value', { x: '0.25' }]],
  made: [{ operator: 'code', code, arguments: {} }],
});
const { shader } = compileShader(score);
const fragment = shader!.live.fragment.split('\n');
const lineOf = (part: string): number => fragment.findIndex((line) => line.includes(part)) + 1;

test('what a driver says of code stands at the author’s own line', () => {
  const log = `ERROR: 0:${lineOf('textureSize')}: 'textureSize' : no matching overloaded function found\nERROR: 0:${lineOf('float a[2]')}: 'a' : something else `;
  const [first, second, ...more] = driverMistakes(shader!, score, log);
  assert.deepEqual(more, []);
  assert.deepEqual(
    [first!.strand, first!.step, first!.argument],
    ['s-made', score.strands[1]!.steps[0]!.id, 'code'],
  );
  assert.equal(code.slice(first!.from, first!.to), '  return a[0] + textureSize(uv);');
  assert.equal(
    first!.message,
    "The graphics driver says: 'textureSize' : no matching overloaded function found.",
  );
  assert.equal(code.slice(second!.from, second!.to), '  float a[2];');
});

test('what is said of other lines, or of no line, is left to be shown as it is', () => {
  assert.deepEqual(driverMistakes(shader!, score, `ERROR: 0:${lineOf('void main')}: 'x' : undeclared`), []);
  assert.deepEqual(driverMistakes(shader!, score, 'it gave no reason'), []);
  assert.deepEqual(
    driverMistakes(shader!, { ...score, strands: [] }, `ERROR: 0:${lineOf('float a[2]')}: 'a' : gone`),
    [],
  );
});
