import assert from 'node:assert/strict';
import { test } from 'node:test';
import { DataTexture } from 'three';
import { createTexels } from '#stage/pins/texels.ts';
import { evaluate } from './evaluate/columns/evaluate.ts';
import { createBuilder } from './program/builder.ts';
import { sampledFrom } from './textureSources.ts';

const near = (found: readonly number[], wanted: readonly number[]): void =>
  wanted.forEach((x, i) => assert.ok(Math.abs(found[i]! - x) < 1e-6, `${found.join()} and ${wanted.join()}`));
const [WHITE, BLACK] = [
  [1, 1, 1, 1],
  [0, 0, 0, 1],
];

test('what the columns read of a smaller level is what the stage has there: means of light, directions of length 1', () => {
  const read = (holds: 'color' | 'directions' | undefined, pixels: readonly (readonly number[])[]) => {
    const picture = sampledFrom(
      { width: 2, height: 2, data: Float32Array.from(pixels.flat()) },
      {
        ...{ repeats: [true, true], filter: 'linear' },
        ...(holds ? { holds } : {}),
      },
    );
    const b = createBuilder();
    const at = b.construct('vec2', 0.5, 0.5);
    const value = b.textureLod(b.parameter('sampler2D', 'board'), at, 1);
    const [column] = evaluate([value], {
      ...{ count: 1, inputs: {}, parameters: new Map(), knobs: new Map() },
      pictures: new Map([['board', picture]]),
    });
    return [...column!.data.slice(0, 4)];
  };
  const chequer = [WHITE, BLACK, BLACK, WHITE];
  // Half of the light of white, by sRGB's curve: IEC 61966-2-1 has 0.735 for it.
  near(read('color', chequer), [0.7353569, 0.7353569, 0.7353569, 1]);
  near(read(undefined, chequer), [0.5, 0.5, 0.5, 1]);
  const [left, up] = [
    [0, 0.5, 0.5, 1],
    [0.5, 1, 0.5, 1],
  ] as const;
  const between = [0.5 - Math.SQRT1_2 / 2, 0.5 + Math.SQRT1_2 / 2, 0.5, 1];
  near(read('directions', [left, up, left, up]), between);
  const texture = new DataTexture(new Uint8Array(16), 2, 2);
  texture.userData['holds'] = 'directions';
  assert.equal(
    createTexels(null as never)(texture).holds,
    'directions',
    'pins read the stage’s textures so too',
  );
});
