import assert from 'node:assert/strict';
import { test } from 'node:test';
import { createLineCompilers, type OnLine } from './compileLines.ts';
import type { FromCompiler, ScorePart } from './compileParts.ts';
import { newPart } from './document/project.ts';
import { sketchShader } from './document/sketch.ts';

const part = (id: string) =>
  newPart('shader', id, 'untitled', sketchShader({}, { baseColor: 'vec3(uv, 0.0)' })) as ScorePart;

test('who shares a compiler is answered on a line of its own, and what a line left is not compiled', () => {
  const answers: OnLine<FromCompiler>[] = [];
  const due: (() => void)[] = [];
  const compilers = createLineCompilers(
    (answer) => answers.push(answer),
    (work) => due.push(work),
  );
  const send = (line: number, id: string, version: number) =>
    compilers.receive({ line, message: { type: 'compile', part: part(id), version } });
  send(1, 'bell', 1);
  send(1, 'curtain', 2);
  send(2, 'curtain', 1);
  due.shift()!();
  compilers.receive({ line: 1, message: null });
  for (let work = due.shift(); work; work = due.shift()) work();
  const told = answers.map(({ line, message }) => [
    line,
    message.type === 'compiled' ? message.id : message.type,
  ]);
  assert.deepEqual(told, [
    [1, 'bell'],
    [2, 'curtain'],
    [2, 'idle'],
  ]);
  // A line that was left and is used again knows nothing of what it was told before.
  send(1, 'boards', 1);
  for (let work = due.shift(); work; work = due.shift()) work();
  assert.deepEqual(
    answers.slice(3).map(({ line, message }) => [line, message.version]),
    [
      [1, 1],
      [1, 1],
    ],
  );
});
