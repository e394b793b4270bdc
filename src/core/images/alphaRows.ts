import {
  assembled,
  forward,
  four,
  get,
  load,
  loop,
  memoryOf,
  set,
  shuffle,
  store,
  vector,
} from './vectorCode.ts';

/** Pixels that are worked on at once; where they lie, and where others do that may stand for them. */
const CHUNK = 1 << 12;
const [PIXELS, OTHERS] = [0, CHUNK * 16] as const;
/** What is so near to 1 is 1 but for how sums are rounded: the same as where all of a picture is opaque. Less than a step of 16 bits. */
const ROUNDED = 1e-5;
/** Below so much there is nothing to be seen, and no colour to be found again. */
const LEAST = 1e-6;

/** Alpha of a pixel, thrice, and 1: what its colours are weighed by, and alpha is not. */
const alphas = (pixel: number): number[] => [...get(pixel), ...four(1), ...shuffle(3, 3, 3, 4)];

/** `(at, end)`: colours, times alpha. */
const weigh = assembled(['i32', 'i32'], ['v128'], () => {
  const [at, end, pixel] = [0, 1, 2] as const;
  return loop(
    [
      ...[...get(at), ...load(), ...set(pixel)],
      ...[...get(at), ...get(pixel), ...alphas(pixel), ...vector('f32x4.mul'), ...store()],
      ...forward(at, 16),
    ],
    ...([at, end] as const),
  );
});
/** `(at, end, other)`: colours, of what was weighed; where too little is seen, those of other pixels. */
const unweigh = assembled(['i32', 'i32', 'i32'], ['v128', 'v128'], () => {
  const [at, end, other, pixel, off] = [0, 1, 2, 3, 4] as const;
  return loop(
    [
      ...[...get(at), ...load(), ...set(pixel)],
      // How far alpha is from 1.
      ...[...get(pixel), ...get(pixel), ...shuffle(3, 3, 3, 3), ...four(1), ...vector('f32x4.sub')],
      ...[...set(off), ...get(at)],
      ...[...get(pixel), ...four(1), ...shuffle(0, 1, 2, 4)],
      ...[...get(pixel), ...alphas(pixel), ...vector('f32x4.div')],
      ...[...four(ROUNDED ** 2), ...get(off), ...get(off), ...vector('f32x4.mul'), ...vector('f32x4.gt')],
      ...vector('v128.bitselect'),
      // Alpha is its own, for 1 is more than the least.
      ...[...get(other), ...load(), ...alphas(pixel), ...four(LEAST), ...vector('f32x4.gt')],
      ...[...vector('v128.bitselect'), ...store(), ...forward(at, 16), ...forward(other, 16)],
    ],
    ...([at, end] as const),
  );
});

/** Pixels of four numbers whose colours are weighed by their alpha. */
export const weighedByAlpha = (data: Float32Array): Float32Array => {
  const run = weigh();
  const floats = new Float32Array(memoryOf(OTHERS).buffer);
  const made = new Float32Array(data.length);
  for (let at = 0; at < data.length; at += CHUNK * 4) {
    const part = data.subarray(at, at + CHUNK * 4);
    floats.set(part, PIXELS);
    run(PIXELS, PIXELS + part.length * 4);
    made.set(floats.subarray(PIXELS, PIXELS + part.length), at);
  }
  return made;
};

/**
 * Takes alpha from colours that were weighed by it, in their places.
 * @param others where nothing is left to be seen, the colours that stand there; black where there are none
 */
export const unweighByAlpha = (data: Float32Array, others: Float32Array | null): void => {
  const run = unweigh();
  const floats = new Float32Array(memoryOf(OTHERS + CHUNK * 16).buffer);
  if (!others) floats.fill(0, OTHERS / 4, OTHERS / 4 + CHUNK * 4);
  for (let at = 0; at < data.length; at += CHUNK * 4) {
    const part = data.subarray(at, at + CHUNK * 4);
    floats.set(part, PIXELS);
    if (others) floats.set(others.subarray(at, at + CHUNK * 4), OTHERS / 4);
    run(PIXELS, PIXELS + part.length * 4, OTHERS);
    data.set(floats.subarray(PIXELS, PIXELS + part.length), at);
  }
};
