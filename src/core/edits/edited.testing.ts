import { sketchParameter, sketchShader } from '../document/sketch.ts';
import assert from 'node:assert/strict';
import { programOf } from '../compileShader.ts';
import { evaluate } from '../evaluate/columns/evaluate.ts';
import { numbersFor } from '../time/values.ts';
import { type Library } from '../document/motif.ts';
import { type ShaderDocument } from '../document/shader.ts';
import { applyPatches, type Edit } from '../document/patch.ts';

export const applied = <D>(document: D, edit: Edit): D => applyPatches(document, edit.patches).document;

export const counter = (mark: string) => {
  let n = 0;
  return () => `${mark}${(n += 1)}`;
};

/** A strand at a few points, parameters at their defaults. */
export const valuesOf = (
  document: ShaderDocument,
  strand: string,
  library: Library = new Map(),
): number[] => {
  const { program, diagnostics } = programOf(document, library);
  assert.ok(program, JSON.stringify(diagnostics));
  const id = document.strands.find((each) => each.name === strand)!.id;
  const tap = program.taps.findLast((each) => each.strand === id)!;
  const count = 12;
  const column = (n: number) => Float32Array.from({ length: n * count }, (_, i) => (i * 0.613) % 1);
  const [made] = evaluate([tap.value], {
    count,
    inputs: { uv: column(2), position: column(3), normal: [0, 0, 1], time: [1], cameraPosition: [0, 1, 3] },
    parameters: numbersFor(document.parameters, { values: {}, shared: {} }),
    knobs: new Map(),
  });
  return [...made!.data];
};

export const same = (a: readonly number[], b: readonly number[], what: string) => {
  assert.equal(a.length, b.length, what);
  a.forEach((x, i) =>
    assert.ok(Math.abs(x - b[i]!) <= 1e-6 * Math.max(1, Math.abs(x)), `${what}[${i}]: ${x} and ${b[i]!}`),
  );
};

/** A curtain’s shader of a few strands. */
export const burning = (): ShaderDocument =>
  sketchShader(
    {
      seedlings: [['value', { x: 'uv * 5.0' }]],
      order: [
        ['worley', { p: 'seedlings', seed: 'grain' }],
        ['multiply', { y: 'strength' }],
      ],
      rim: [
        ['value', { x: 'order' }],
        ['band', { from: 0.2, width: 'width' }],
      ],
      ember: [['value', { x: 'rim * 2.0 + order' }]],
    },
    { emission: 'vec3(ember)', opacity: 'rim' },
    [
      sketchParameter('strength', 'float', [0.8]),
      sketchParameter('width', 'float', [0.3]),
      sketchParameter('grain', 'int', [7], { max: 99 }),
    ],
  );
