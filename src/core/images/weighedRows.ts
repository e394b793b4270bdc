import { OPCODES } from '../evaluate/wasm/code.ts';
import { encodeModule, signed, unsigned, type Kind, type LocalKind } from '../evaluate/wasm/encodeModule.ts';

/** Numbers of a row that are worked on at once. */
const LANE = 16;
const FLOAT = 4;

/**
 * A module whose `run(out, bytes, taps, count)` writes, for every number of a row, the sum of what lies at the addresses
 * of so many taps, each times its weight. A tap is an address and a 32-bit float. Sixteen numbers are summed at once, tap
 * after tap: the same order, and the same bits, everywhere.
 */
const moduleOf = (): Uint8Array<ArrayBuffer> => {
  const [out, bytes, taps, count, x, tap, end, from, weight] = [0, 1, 2, 3, 4, 5, 6, 7, 8] as const;
  const sums = [9, 10, 11, 12];
  const get = (local: number) => [OPCODES['local.get'], local];
  const set = (local: number) => [OPCODES['local.set'], local];
  const i32 = (value: number) => [OPCODES['i32.const'], ...signed(value)];
  const [PLUS, TIMES, BELOW] = [OPCODES['i32.add'], OPCODES['i32.mul'], OPCODES['i32.lt_u']];
  const LOOP = [OPCODES.loop, 0x40];
  /** Round again while one is below the other. */
  const again = (a: number, b: number) => [...get(a), ...get(b), BELOW, OPCODES.br_if, 0, OPCODES.end];
  const forward = (local: number, by: number) => [...get(local), ...i32(by), PLUS, ...set(local)];
  /** Four floats at once, by the numbers of the specification’s vector instructions. */
  const vector = (op: number): number[] => [0xfd, ...unsigned(op)];
  const [load, store, zero, splat] = [vector(0x00), vector(0x0b), vector(0x0c), vector(0x13)];
  const [add, multiply] = [vector(0xe4), vector(0xe6)];
  const body = [
    ...[...get(taps), ...get(count), ...i32(8), TIMES, PLUS, ...set(end)],
    ...LOOP,
    ...sums.flatMap((sum) => [...zero, ...new Array<number>(16).fill(0), ...set(sum)]),
    ...[...get(taps), ...set(tap)],
    ...LOOP,
    ...[...get(tap), OPCODES['i32.load'], 2, 0, ...get(x), PLUS, ...set(from)],
    ...[...get(tap), OPCODES['f32.load'], 2, 4, ...splat, ...set(weight)],
    ...sums.flatMap((sum, k) => [
      ...[...get(sum), ...get(from), ...load, 0, ...unsigned(k * 16)],
      ...[...get(weight), ...multiply, ...add, ...set(sum)],
    ]),
    ...forward(tap, 8),
    ...again(tap, end),
    ...sums.flatMap((sum, k) => [
      ...[...get(out), ...get(x), PLUS, ...get(sum), ...store, 0, ...unsigned(k * 16)],
    ]),
    ...forward(x, LANE * FLOAT),
    ...again(x, bytes),
  ];
  const locals: readonly LocalKind[] = [
    ...(['i32', 'i32', 'i32', 'i32'] as const),
    ...(['v128', 'v128', 'v128', 'v128', 'v128'] as const),
  ];
  const parameters: readonly Kind[] = ['i32', 'i32', 'i32', 'i32'];
  return encodeModule({ imports: [], functions: [{ parameters, results: [], locals, body }], run: 0 });
};

/** Floats of each row that are taken at once: what is held beside the picture does not grow with how wide it is. */
const STRIP = 1024;
const PAGE = 65536;

interface Engine {
  readonly memory: WebAssembly.Memory;
  readonly run: (out: number, bytes: number, taps: number, count: number) => void;
}
let engine: Engine | null = null;
const engineNow = (): Engine => {
  if (engine) return engine;
  const memory = new WebAssembly.Memory({ initial: 1 });
  const { exports } = new WebAssembly.Instance(new WebAssembly.Module(moduleOf()), { columns: { memory } });
  engine = { memory, run: exports['run'] as Engine['run'] };
  return engine;
};

/** Of a new row, the old rows that it is made of, and their weights. */
export interface RowTaps {
  readonly places: ArrayLike<number>;
  readonly weights: ArrayLike<number>;
}

/**
 * New rows of numbers, each a weighed sum of old ones, number by number.
 * @param length numbers of a row
 * @param tapsOf of each new row, at least one tap
 */
export const weighedRows = (data: Float32Array, length: number, tapsOf: readonly RowTaps[]): Float32Array => {
  const { memory, run } = engineNow();
  const rows = data.length / length;
  const most = Math.max(...tapsOf.map(({ places }) => places.length));
  const stride = Math.ceil(Math.min(length, STRIP) / LANE) * LANE;
  const tapBytes = Math.ceil((most * 8) / 64) * 64;
  const [from, to] = [tapBytes, tapBytes + rows * stride * FLOAT];
  const missing = to + stride * FLOAT - memory.buffer.byteLength;
  if (missing > 0) memory.grow(Math.ceil(missing / PAGE));
  const floats = new Float32Array(memory.buffer);
  const whole = new Uint32Array(memory.buffer);
  const made = new Float32Array(tapsOf.length * length);
  for (let left = 0; left < length; left += stride) {
    const wide = Math.min(stride, length - left);
    for (let y = 0; y < rows; y += 1)
      floats.set(data.subarray(y * length + left, y * length + left + wide), from / FLOAT + y * stride);
    tapsOf.forEach(({ places, weights }, y) => {
      for (let k = 0; k < places.length; k += 1) {
        whole[k * 2] = from + places[k]! * stride * FLOAT;
        floats[k * 2 + 1] = weights[k]!;
      }
      run(to, Math.ceil(wide / LANE) * LANE * FLOAT, 0, places.length);
      made.set(floats.subarray(to / FLOAT, to / FLOAT + wide), y * length + left);
    });
  }
  return made;
};

/** Columns for rows, of pixels of so many numbers: in tiles, so that what is near stays near. */
export const turned = (data: Float32Array, width: number, channels: number): Float32Array => {
  const height = data.length / width / channels;
  const made = new Float32Array(data.length);
  const TILE = 32;
  for (let top = 0; top < height; top += TILE)
    for (let left = 0; left < width; left += TILE) {
      const [bottom, right] = [Math.min(top + TILE, height), Math.min(left + TILE, width)];
      for (let y = top; y < bottom; y += 1)
        if (channels === 1) for (let x = left; x < right; x += 1) made[x * height + y] = data[y * width + x]!;
        else
          for (let x = left; x < right; x += 1) {
            const from = (y * width + x) * channels;
            const to = (x * height + y) * channels;
            for (let c = 0; c < channels; c += 1) made[to + c] = data[from + c]!;
          }
    }
  return made;
};
