import { CHANNELS } from './image.ts';
import {
  assembled,
  forward,
  get,
  i32,
  load,
  loop,
  lowerDoubles,
  memoryOf,
  set,
  store,
  upperDoubles,
  vector,
} from './vectorCode.ts';

/** Pixels that are summed at once; the sums lie before them. */
const CHUNK = 4096;
const PIXEL = 16;
const SUMS = 32;

/** `(at, end)`: adds pixels from one place to another to four sums, one after another. */
const add = assembled(['i32', 'i32'], ['v128', 'v128', 'v128'], () => {
  const [at, end, pixel, lower, upper] = [0, 1, 2, 3, 4] as const;
  return [
    ...[...i32(0), ...load(), ...set(lower), ...i32(0), ...load(16), ...set(upper)],
    ...loop(
      [
        ...[...get(at), ...load(), ...set(pixel)],
        ...[...get(lower), ...lowerDoubles(pixel), ...vector('f64x2.add'), ...set(lower)],
        ...[...get(upper), ...upperDoubles(pixel), ...vector('f64x2.add'), ...set(upper)],
        ...forward(at, PIXEL),
      ],
      ...([at, end] as const),
    ),
    ...[...i32(0), ...get(lower), ...store(), ...i32(0), ...get(upper), ...store(16)],
  ];
});

/** The mean red, green and blue of pixels of four numbers. */
export const meanColour = (data: Float32Array): readonly [number, number, number] => {
  const run = add();
  const { buffer } = memoryOf(SUMS + CHUNK * PIXEL);
  const [floats, sums] = [new Float32Array(buffer), new Float64Array(buffer, 0, CHANNELS)];
  sums.fill(0);
  for (let at = 0; at < data.length; at += CHUNK * CHANNELS) {
    const part = data.subarray(at, at + CHUNK * CHANNELS);
    floats.set(part, SUMS / 4);
    run(SUMS, SUMS + part.length * 4);
  }
  const count = data.length / CHANNELS;
  return [sums[0]! / count, sums[1]! / count, sums[2]! / count];
};
