import assert from 'node:assert/strict';
import { parsePart } from '../document/parsePart.ts';
import { type ShaderDocument } from '../document/shader.ts';
import { evaluate } from '../evaluate/columns/evaluate.ts';
import { INPUT_NAMES, INPUTS } from '../program/inputs.ts';
import { componentsOf } from '../program/types.ts';
import { type Program } from '../program/value.ts';
import { authoredByName, numbersFor } from '../time/values.ts';
import { tablePictures } from '../taps/evaluatePoints.ts';
import { importGlsl } from './importGlsl.ts';

/** What an input that is not spoken of is given. */
const REST = [0.36, 0.48, 0.8, 0.5];

/** A surface output at a few points, parameters at their defaults. */
export const valuesOf = (
  program: Program,
  document: ShaderDocument,
  output: string,
  values: Record<string, readonly number[]> = {},
): number[] => {
  const value = program.outputs[output];
  if (!value) return [];
  const count = 16;
  const column = (n: number, scale: number) =>
    Float32Array.from({ length: n * count }, (_, i) => ((i * 0.37) % 1) * scale);
  const [made] = evaluate([value], {
    count,
    quads: true,
    inputs: {
      ...Object.fromEntries(
        INPUT_NAMES.map((name) => [name, REST.slice(0, componentsOf(INPUTS[name].type))]),
      ),
      ...{ uv: column(2, 1), position: column(3, 2), objectPosition: column(3, 2), viewDirection: [0, 0, 1] },
      ...{
        normal: [0, 0, 1],
        cameraPosition: [0, 1, 4],
        time: [1.5],
        screenUv: [0.5, 0.5],
        vertexColor: [1, 1, 1, 1],
      },
      ...{ frontFacing: [1] },
    },
    parameters: numbersFor(document.parameters, authoredByName(document.parameters, values)),
    knobs: new Map(),
    pictures: new Map([
      ...['sceneDepthMap', 'sceneColorMap', ...document.parameters.map((each) => each.name)].map(
        (name) =>
          [
            name,
            {
              width: 1,
              height: 1,
              wrap: 'repeat',
              filter: 'nearest',
              rgba: new Float32Array([0.4, 0.3, 0.2, 1]),
            },
          ] as const,
      ),
      ...tablePictures(document.parameters, authoredByName(document.parameters, values)),
    ]),
  });
  return [...made!.data];
};

export const imported = (source: string, chosen: Record<string, string> = {}): ShaderDocument => {
  const made = importGlsl(source, chosen);
  assert.ok(made.document, JSON.stringify(made.problems));
  const { problems } = parsePart('shader', JSON.parse(JSON.stringify(made.document)));
  assert.deepEqual(problems, [], 'what is imported can be saved');
  return made.document;
};
