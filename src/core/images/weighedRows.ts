/** Numbers of a row that are worked on at once. */
export const LANE = 16;

/**
 * A module in WebAssembly's binary format (its core specification, 5): `run(out, bytes, taps, count)` writes, for every
 * number of a row, the sum of what lies at the addresses of so many taps, each times its weight. A tap is an address and
 * a 32-bit float. Sixteen numbers are summed at once, tap after tap: the same order, and the same bits, everywhere.
 */
const MODULE = ((): Uint8Array<ArrayBuffer> => {
  const number = (x: number): number[] => (x < 0x80 ? [x] : [(x & 0x7f) | 0x80, ...number(x >>> 7)]);
  const list = (items: readonly (readonly number[])[]): number[] => [
    ...number(items.length),
    ...items.flat(),
  ];
  const section = (id: number, content: readonly number[]): number[] => [
    id,
    ...number(content.length),
    ...content,
  ];
  const text = (word: string): number[] => list([...word].map((letter) => [letter.charCodeAt(0)]));
  const [I32, V128] = [0x7f, 0x7b];
  const [out, bytes, taps, count, x, tap, end, from, weight, first] = [0, 1, 2, 3, 4, 5, 6, 7, 8, 9];
  const get = (local: number) => [0x20, local];
  const set = (local: number) => [0x21, local];
  const i32 = (value: number) => [0x41, value];
  const ADD = [0x6a];
  /** A signed constant of one byte reaches to 63. */
  const forward = (local: number, by: number) => [...get(local), ...i32(by), ...ADD, ...set(local)];
  const vector = (op: number) => [0xfd, ...number(op)];
  const [LOAD, STORE, SPLAT, PLUS, TIMES] = [0x00, 0x0b, 0x13, 0xe4, 0xe6].map(vector) as number[][] as [
    number[],
    number[],
    number[],
    number[],
    number[],
  ];
  const sums = [0, 1, 2, 3].map((k) => first! + k);
  const body = [
    ...[0x03, 0x40],
    ...sums.flatMap((sum) => [...vector(0x0c), ...new Array<number>(16).fill(0), ...set(sum)]),
    ...[...get(taps!), ...set(tap!)],
    ...[0x03, 0x40],
    ...[...get(tap!), 0x28, 2, 0, ...get(x!), ...ADD, ...set(from!)],
    ...[...get(tap!), 0x2a, 2, 4, ...SPLAT, ...set(weight!)],
    ...sums.flatMap((sum, k) => [
      ...[...get(sum), ...get(from!), ...LOAD, 0, ...number(k * 16)],
      ...[...get(weight!), ...TIMES, ...PLUS, ...set(sum)],
    ]),
    ...forward(tap!, 8),
    ...[...get(tap!), ...get(end!), 0x49, 0x0d, 0],
    0x0b,
    ...sums.flatMap((sum, k) => [
      ...[...get(out!), ...get(x!), ...ADD, ...get(sum), ...STORE, 0, ...number(k * 16)],
    ]),
    // 64 takes two bytes.
    ...[...get(x!), 0x41, 0xc0, 0x00, ...ADD, ...set(x!)],
    ...[...get(x!), ...get(bytes!), 0x49, 0x0d, 0],
    0x0b,
  ];
  const begin = [...get(taps!), ...get(count!), ...i32(8), 0x6c, ...ADD, ...set(end!)];
  const code = [
    ...list([
      [4, I32],
      [5, V128],
    ]),
    ...begin,
    ...body,
    0x0b,
  ];
  return Uint8Array.from([
    ...[0x00, 0x61, 0x73, 0x6d, 0x01, 0x00, 0x00, 0x00],
    ...section(1, list([[0x60, ...list([[I32], [I32], [I32], [I32]]), ...list([])]])),
    ...section(2, list([[...text('rows'), ...text('memory'), 0x02, 0x00, 1]])),
    ...section(3, list([[0]])),
    ...section(7, list([[...text('run'), 0x00, 0]])),
    ...section(10, list([[...number(code.length), ...code]])),
  ]);
})();

/** Floats of each row that are taken at once: what is held beside the picture does not grow with how wide it is. */
const STRIP = 1024;
const PAGE = 65536;
const FLOAT = 4;

interface Engine {
  readonly memory: WebAssembly.Memory;
  readonly run: (out: number, bytes: number, taps: number, count: number) => void;
}
let engine: Engine | null = null;
const engineNow = (): Engine => {
  if (engine) return engine;
  const memory = new WebAssembly.Memory({ initial: 1 });
  const { exports } = new WebAssembly.Instance(new WebAssembly.Module(MODULE), { rows: { memory } });
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
