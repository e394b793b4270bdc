import { prepare } from '../evaluate/columns/evaluate.ts';
import type { Picture } from '../evaluate/points/points.ts';
import { componentsOf } from '../program/types.ts';
import type { Value } from '../program/value.ts';

export const LARGEST_BAKE = 8192;

export interface BakeSetup {
  readonly width: number;
  readonly height: number;
  readonly parameters: ReadonlyMap<string, readonly number[]>;
  readonly pictures: ReadonlyMap<string, Picture>;
  /** Seconds that have passed; none where it is not told. */
  readonly time?: number;
  /** Told what share is done, from 0 to 1. */
  readonly onProgress?: (share: number) => void;
}

export interface Baked {
  /** 1 for a number, else 3 or 4. */
  readonly channels: 1 | 3 | 4;
  /** Rows from the top, channels beside each other. */
  readonly numbers: Float32Array;
}

/** Rows computed together: even, so that slopes have their quads. */
const STRIP = 16;

/**
 * Computes a value over a square of uv, at the centres of width × height pixels: a flat card one metre wide that faces +z, seen
 * straight on.
 * @throws Error naming an input that a flat card does not have, or code that runs only on the graphics card
 */
export const bakeValue = (value: Value, setup: BakeSetup): Baked => {
  const { width, height, parameters, pictures, time = 0, onProgress } = setup;
  const run = prepare([value]);
  const components = componentsOf(value.type);
  const channels = components === 1 ? 1 : components === 4 ? 4 : 3;
  const numbers = new Float32Array(width * height * channels);
  const across = width + (width % 2);
  for (let top = 0; top < height; top += STRIP) {
    const count = across * STRIP;
    const uv = new Float32Array(count * 2);
    // Quads of left, right, left above and right above, as slopes need them.
    for (let i = 0; i < count; i += 1) {
      const quad = i >> 2;
      const x = (quad % (across / 2)) * 2 + (i & 1);
      const y = Math.floor(quad / (across / 2)) * 2 + ((i >> 1) & 1);
      uv[i] = (x + 0.5) / width;
      uv[count + i] = 1 - (top + STRIP - 1 - y + 0.5) / height;
    }
    const position = new Float32Array(count * 3);
    position.set(uv);
    const [column] = run({
      count,
      quads: true,
      inputs: {
        ...{ uv, uv2: uv, screenUv: uv, position, objectPosition: position },
        ...{
          normal: [0, 0, 1],
          objectNormal: [0, 0, 1],
          tangent: [1, 0, 0],
          bitangent: [0, 1, 0],
          viewDirection: [0, 0, 1],
        },
        ...{
          viewNormal: [0, 0, 1],
          vertexColor: [1, 1, 1, 1],
          frontFacing: [1],
          time: [time],
          timeStep: [1 / 60],
        },
        ...{
          cameraPosition: [0.5, 0.5, 1],
          cameraRight: [1, 0, 0],
          cameraUp: [0, 1, 0],
          cameraBack: [0, 0, 1],
        },
        ...{ objectOrigin: [0, 0, 0], objectRight: [1, 0, 0], objectUp: [0, 1, 0], objectForward: [0, 0, 1] },
        ...{
          boundsLow: [0, 0, 0],
          boundsHigh: [1, 1, 0],
          instanceAge: [0],
          instanceOrder: [0],
          instanceSeed: [0],
        },
      },
      ...{ parameters, pictures, knobs: new Map() },
    });
    for (let i = 0; i < count; i += 1) {
      const quad = i >> 2;
      const x = (quad % (across / 2)) * 2 + (i & 1);
      const y = top + STRIP - 1 - (Math.floor(quad / (across / 2)) * 2 + ((i >> 1) & 1));
      if (x >= width || y >= height) continue;
      for (let c = 0; c < Math.min(components, channels); c += 1)
        numbers[(y * width + x) * channels + c] = column!.data[c * column!.stride + i]!;
    }
    onProgress?.(Math.min((top + STRIP) / height, 1));
  }
  return { channels, numbers };
};
