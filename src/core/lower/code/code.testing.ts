import assert from 'node:assert/strict';
import { programOf } from '../../compileShader.ts';
import { sketchParameter, sketchShader } from '../../document/sketch.ts';
import { evaluate } from '../../evaluate/columns/evaluate.ts';
import { valueAt } from '../../program/kernels/column.ts';

export const shaderOf = (code: string, given: Record<string, string> = {}) =>
  sketchShader(
    { above: [['value', { x: '0.25' }]], made: [{ operator: 'code', code, arguments: given }] },
    {},
    [sketchParameter('burn', 'float', [0.5])],
  );

/** What code comes to in the columns, at uv (0.3, 0.7). */
export const run = (code: string, given: Record<string, string> = {}): number[] => {
  const { program, diagnostics } = programOf(shaderOf(code, given));
  assert.ok(program, `${code}\n${JSON.stringify(diagnostics)}`);
  const tap = program.taps.findLast((each) => each.strand === 's-made')!;
  const [column] = evaluate([tap.value], {
    ...{ count: 1, inputs: { uv: [0.3, 0.7], time: [2] } },
    ...{ parameters: new Map([['burn', [0.5]]]), knobs: new Map() },
  });
  return valueAt(column!, 0);
};

export const close = (mine: readonly number[], wanted: readonly number[], what: string) => {
  assert.equal(mine.length, wanted.length, what);
  mine.forEach((x, i) =>
    assert.ok(Math.abs(x - wanted[i]!) < 1e-5, `${what}: ${mine.join()} not ${wanted.join()}`),
  );
};
