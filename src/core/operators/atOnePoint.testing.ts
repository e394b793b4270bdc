import assert from 'node:assert/strict';
import { programOf } from '../compileShader.ts';
import { sketchParameter, sketchShader } from '../document/sketch.ts';
import { evaluate } from '../evaluate/columns/evaluate.ts';
import type { Picture } from '../evaluate/points/points.ts';
import { valueAt } from '../program/kernels/column.ts';
import { tablePictures } from '../taps/evaluatePoints.ts';

/** One point with everything an expression can read there, for tests that work a formula out by hand. */
export const UV = [0.3, 0.7] as const;
export const P = [0.4, 1.2, -0.5] as const;
export const N = [0.36, 0.48, 0.8] as const;
export const V = [0, 0.6, 0.8] as const;
export const T = [0.8, -0.6, 0] as const;
export const CAMERA = [0, 1, 4] as const;
export const TIME = 2;

export const parameters = [
  sketchParameter('picture', 'texture', []),
  sketchParameter('shape', 'curve', [0, 0, 0, 0, 0.5, 1, 0, 0, 1, 0.5, 0, 0]),
  sketchParameter('glow', 'gradient', [0, 0, 0, 0, 0.5, 1, 0.5, 0, 1, 1, 1, 0.25]),
];

/** 4 × 4 texels whose red is the column's share and green the row's. */
export const picture: Picture = {
  ...{ width: 4, height: 4, wrap: 'repeat', filter: 'nearest' },
  rgba: Float32Array.from({ length: 64 }, (_, i) => [((i >> 2) % 4) / 3, (i >> 4) / 3, 0.25, 1][i % 4]!),
};
/** One colour everywhere. */
export const flat: Picture = {
  ...picture,
  rgba: Float32Array.from({ length: 64 }, (_, i) => [0.2, 0.4, 0.6, 1][i % 4]!),
};

export const inputs = {
  ...{
    uv: UV,
    uv2: UV,
    screenUv: [0.5, 0.5],
    position: P,
    objectPosition: P,
    viewPosition: [0.4, 0.2, -4.5],
  },
  ...{
    normal: N,
    objectNormal: N,
    viewNormal: N,
    tangent: T,
    bitangent: [0.48, 0.64, -0.6],
    viewDirection: V,
    vertexColor: [1, 1, 1, 1],
  },
  ...{
    frontFacing: [1],
    cameraPosition: CAMERA,
    cameraRight: [1, 0, 0],
    cameraUp: [0, 1, 0],
    cameraBack: [0, 0, 1],
  },
  ...{ objectOrigin: [1, 0, 0], objectRight: [0, 0, -2], objectUp: [0, 2, 0], objectForward: [2, 0, 0] },
  ...{ boundsLow: [0, 0, 0], boundsHigh: [1, 1, 1], time: [TIME], timeStep: [1 / 60] },
  ...{ instanceAge: [0], instanceOrder: [0], instanceSeed: [0], surfaceDistance: [0.2] },
};

/** What an expression comes to at that place. */
export const at = (expression: string, more: Partial<typeof inputs> = {}, read = picture): number[] => {
  const shader = sketchShader({ made: [['value', { x: expression }]] }, {}, parameters);
  const { program, diagnostics } = programOf(shader);
  assert.ok(program, `${expression}: ${JSON.stringify(diagnostics)}`);
  const scene: Picture = {
    width: 1,
    height: 1,
    wrap: 'clamp',
    filter: 'nearest',
    rgba: new Float32Array([6, 0.5, 0.25, 1]),
  };
  const pictures = new Map([
    ['picture', read],
    ['sceneDepthMap', scene],
    ['sceneColorMap', scene],
    ...tablePictures(parameters, { values: {}, shared: {} }),
  ]);
  const four = Object.fromEntries(
    Object.entries({ ...inputs, ...more }).map(([name, value]) => [name, value.flatMap((x) => [x, x, x, x])]),
  );
  const [column] = evaluate([program.taps[0]!.value], {
    ...{ count: 4, quads: true, inputs: four, pictures },
    ...{ parameters: new Map(), knobs: new Map() },
  });
  return valueAt(column!, 0);
};

export const close = (mine: readonly number[], wanted: readonly number[], what: string): void => {
  assert.equal(mine.length, wanted.length, `${what} has ${mine.length} numbers`);
  mine.forEach((x, i) =>
    assert.ok(
      Math.abs(x - wanted[i]!) <= 2e-5 * Math.max(1, Math.abs(wanted[i]!)),
      `${what}[${i}] is ${x}, not ${wanted[i]!}`,
    ),
  );
};
