/** Samples kept of a curve or a gradient, from 0 to 1 inclusive. */
export const TABLE_SIZE = 256;

/** Numbers in each key of a curve: x, y, and the slopes before and after it. */
export const CURVE_KEY = 4;
/** Numbers in each stop of a gradient: where it stands, and its linear red, green and blue. */
export const GRADIENT_STOP = 4;
export const MOST_KEYS = 64;

/** Says what is wrong with the keys of a curve or the stops of a gradient, or null. */
export const keysProblem = (numbers: readonly number[], what: 'key' | 'stop'): string | null => {
  const count = numbers.length / 4;
  if (!Number.isInteger(count) || count < 1)
    return `Its numbers come four to a ${what}; there are ${numbers.length}.`;
  if (count > MOST_KEYS) return `It has ${count} ${what}s; at most ${MOST_KEYS} are allowed.`;
  for (let i = 0; i < count; i += 1) {
    const x = numbers[i * 4]!;
    if (x < 0 || x > 1) return `Its ${what} at ${x} lies outside 0–1.`;
    if (i && x < numbers[(i - 1) * 4]!) return `Its ${what}s are not in order: ${x} comes after a later one.`;
  }
  return null;
};

/** The stretch of keys that x lies in: the index of the key before it. */
const stretchOf = (keys: readonly number[], x: number): number => {
  let i = 0;
  while (i + 2 < keys.length / 4 && keys[(i + 1) * 4]! <= x) i += 1;
  return i;
};

/** The cubic Hermite piece behind a key, by where that begins in the list, which is not cut up: pictures ask for every number of theirs. */
const pieceAt = (keys: readonly number[], at: number, x: number): number => {
  const x0 = keys[at]!;
  const y0 = keys[at + 1]!;
  const out = keys[at + 3]!;
  const x1 = keys[at + 4]!;
  const y1 = keys[at + 5]!;
  const into = keys[at + 6]!;
  const span = x1 - x0;
  if (span <= 0) return y1;
  const t = (x - x0) / span;
  const s = 1 - t;
  return (
    y0 * (1 + 2 * t) * s * s + span * out * t * s * s + y1 * t * t * (3 - 2 * t) - span * into * t * t * s
  );
};

/** A curve at x: cubic Hermite pieces between keys, level beyond the ends. */
export const curveAt = (keys: readonly number[], x: number): number => {
  const last = keys.length - CURVE_KEY;
  if (last === 0 || x <= keys[0]!) return keys[1]!;
  if (x >= keys[last]!) return keys[last + 1]!;
  return pieceAt(keys, stretchOf(keys, x) * CURVE_KEY, x);
};
/** The same of each of many numbers, in their places: asked for one by one they take twice as long. */
export const curveOver = (keys: readonly number[], numbers: Float32Array): void => {
  const last = keys.length - CURVE_KEY;
  const [begins, starts, ends, stays] = [keys[0]!, keys[1]!, keys[last]!, keys[last + 1]!];
  for (let i = 0; i < numbers.length; i += 1) {
    const x = numbers[i]!;
    if (last === 0 || x <= begins) numbers[i] = starts;
    else if (x >= ends) numbers[i] = stays;
    else numbers[i] = pieceAt(keys, stretchOf(keys, x) * CURVE_KEY, x);
  }
};

/** A gradient's linear colour at x, straight between stops, level beyond the ends. */
export const gradientAt = (stops: readonly number[], x: number): [number, number, number] => {
  const made: [number, number, number] = [0, 0, 0];
  gradientInto(stops)(x, made, 0);
  return made;
};
/** The same written at a place of a list, for pictures, whose every pixel asks. */
export const gradientInto = (
  stops: readonly number[],
): ((x: number, to: { [at: number]: number }, at: number) => void) => {
  const last = stops.length - GRADIENT_STOP;
  return (x, to, at) => {
    // Before the first stop and after the last it is as they are.
    const isOutside = last === 0 || x <= stops[0]! || x >= stops[last]!;
    const i = isOutside ? (last === 0 || x <= stops[0]! ? 0 : last) : stretchOf(stops, x) * GRADIENT_STOP;
    const span = isOutside ? 0 : stops[i + GRADIENT_STOP]! - stops[i]!;
    const t = isOutside ? 0 : span > 0 ? (x - stops[i]!) / span : 1;
    const next = isOutside ? i : i + GRADIENT_STOP;
    for (let c = 0; c < 3; c += 1) to[at + c] = stops[i + 1 + c]! * (1 - t) + stops[next + 1 + c]! * t;
  };
};

/**
 * The samples a shader reads: four floats each, red the curve's value, or red, green and blue the gradient's.
 */
export const tableOf = (kind: 'curve' | 'gradient', numbers: readonly number[]): Float32Array => {
  const table = new Float32Array(TABLE_SIZE * 4);
  for (let i = 0; i < TABLE_SIZE; i += 1) {
    const x = i / (TABLE_SIZE - 1);
    const rgb = kind === 'curve' ? new Array<number>(3).fill(curveAt(numbers, x)) : gradientAt(numbers, x);
    table.set([...rgb, 1], i * 4);
  }
  return table;
};
