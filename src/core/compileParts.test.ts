import assert from 'node:assert/strict';
import { test } from 'node:test';
import { randomShader } from '../../e2e/fuzz/randomShader.ts';
import { compileShader, type Compilation } from './compileShader.ts';
import { createPartCompiler, unpackCompilation, type FromCompiler, type ScorePart } from './compileParts.ts';
import { newPart } from './document/project.ts';
import { sketchShader } from './document/sketch.ts';
import type { ShaderDocument } from './document/shader.ts';
import { evaluate } from './evaluate/columns/evaluate.ts';
import { INPUTS } from './program/inputs.ts';
import { componentsOf } from './program/types.ts';
import { prepareLive } from './time/packLive.ts';

/** What a compiler on another thread answers for a shader, as it arrives here. */
const fromElsewhere = (body: ShaderDocument): Compilation => {
  const answers: FromCompiler[] = [];
  const compiler = createPartCompiler(
    (message) => answers.push(structuredClone(message)),
    (work) => work(),
  );
  const part = newPart('shader', 's', 'untitled', body) as ScorePart;
  compiler.receive({ type: 'compile', part, version: 1 });
  const [answer, idle] = answers;
  assert.deepEqual(idle, { type: 'idle', version: 1 });
  assert.ok(answer?.type === 'compiled');
  return unpackCompilation(answer.compilation);
};

const COUNT = 4;
/** Something for every input, of a point and of a frame. */
const inputs = Object.fromEntries(
  Object.entries(INPUTS).map(([name, { type, rate }]) => [
    name,
    Array.from({ length: componentsOf(type) * (rate === 'frame' ? 1 : COUNT) }, (_, i) => ((i * 7) % 5) / 4),
  ]),
);

test('a shader compiled elsewhere is what it is here: its source, its taps, its numbers', () => {
  for (let seed = 1; seed <= 24; seed += 1) {
    const body = randomShader(seed);
    const here = compileShader(body).shader!;
    const there = fromElsewhere(body).shader!;
    const { layout, ...source } = here.live;
    const { layout: theirs, ...same } = there.live;
    assert.deepEqual(same, source, `seed ${seed}`);
    assert.deepEqual([there.taps, there.knobs], [here.taps, here.knobs]);
    const numbers = new Map(body.parameters.map((each) => [each.name, [...each.default, 0, 0, 0, 0]]));
    const points = { count: COUNT, quads: true, inputs, parameters: numbers, knobs: here.knobs };
    const values = (of: typeof here) =>
      of.program.taps.filter((tap) => tap.value.type !== 'sampler2D').map((tap) => tap.value);
    assert.deepEqual(
      evaluate(values(there), points).map((column) => [...column.data]),
      evaluate(values(here), points).map((column) => [...column.data]),
      `seed ${seed}`,
    );
    const live = (of: typeof layout) => prepareLive(of)({ inputs, parameters: numbers, knobs: here.knobs });
    assert.deepEqual(live(theirs), live(layout));
    assert.deepEqual(there.program.entries, here.program.entries);
  }
});

test('no depth is too much to be sent, and mistakes arrive as they are', () => {
  const steps = Array.from({ length: 6000 }, (_, i) => ['add', { y: `uv.x * ${i}.5` }] as const);
  const deep = sketchShader({ chain: [['value', { x: 'uv.y' }], ...steps] }, { roughness: 'chain' });
  assert.equal(fromElsewhere(deep).shader!.taps.size, 6002);
  const wrong = fromElsewhere(sketchShader({ odd: [['value', { x: 'nothing + 1.0' }]] }));
  assert.equal(wrong.shader, null);
  assert.match(wrong.diagnostics[0]!.message, /Nothing is called “nothing”/);
});
