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

/** Pixels that are worked on at once, and where they lie: after what is told of them. */
const CHUNK = 1 << 14;
const FROM = 64;
const TO = FROM + CHUNK * 16;

/** Red for red, green and blue, and what is seen whole: of floats and of ones. */
const asGrey = (place: number): number[] => [...four(1), ...shuffle(place, place, place, 4)];

/** `(from, to, end, told)`: the first number of each pixel until that end; told are bits that any pixel has otherwise than in grey. */
const gather = assembled(['i32', 'i32', 'i32', 'i32'], ['v128', 'v128', 'v128', 'v128', 'v128'], () => {
  const [from, to, end, told, bits] = [0, 1, 2, 3, 4] as const;
  const pixels = [5, 6, 7, 8] as const;
  const firsts = (a: number, b: number): number[] => [...get(a), ...get(b), ...shuffle(0, 4, 0, 4)];
  return [
    ...loop(
      [
        ...pixels.flatMap((each, k) => [
          ...[...get(from), ...load(k * 16), ...set(each)],
          ...[...get(bits), ...get(each), ...get(each), ...asGrey(0)],
          ...[...vector('v128.xor'), ...vector('v128.or'), ...set(bits)],
        ]),
        ...[...get(to), ...firsts(5, 6), ...firsts(7, 8), ...shuffle(0, 1, 4, 5), ...store()],
        ...[...forward(from, 64), ...forward(to, 16)],
      ],
      ...([to, end] as const),
    ),
    ...[...get(told), ...get(bits), ...store()],
  ];
});
/** `(from, to, end)`: an opaque grey pixel of each number until that end. */
const spread = assembled(['i32', 'i32', 'i32'], ['v128'], () => {
  const [from, to, end, numbers] = [0, 1, 2, 3] as const;
  return loop(
    [
      ...[...get(from), ...load(), ...set(numbers)],
      ...[0, 1, 2, 3].flatMap((k) => [...get(to), ...get(numbers), ...asGrey(k), ...store(k * 16)]),
      ...[...forward(from, 16), ...forward(to, 64)],
    ],
    ...([from, end] as const),
  );
});

const inFours = (count: number): number => Math.ceil(count / 4) * 4;

/** One number a pixel of four-number pixels, where each is grey and none is seen through; else null. */
export const opaqueGrey = (data: Float32Array): Float32Array | null => {
  const run = gather();
  const { buffer } = memoryOf(TO + CHUNK * 4);
  const [floats, told] = [new Float32Array(buffer), new Uint32Array(buffer, 0, 4)];
  const made = new Float32Array(data.length / 4);
  for (let at = 0; at < made.length; at += CHUNK) {
    const count = Math.min(CHUNK, made.length - at);
    floats.set(data.subarray(at * 4, (at + count) * 4), FROM / 4);
    // The last one stands for those that are missing in its four.
    for (let i = count; i < inFours(count); i += 1)
      floats.copyWithin(FROM / 4 + i * 4, FROM / 4 + (count - 1) * 4, FROM / 4 + count * 4);
    run(FROM, TO, TO + inFours(count) * 4, 0);
    if (told.some(Boolean)) return null;
    made.set(floats.subarray(TO / 4, TO / 4 + count), at);
  }
  return made;
};

/** Opaque grey pixels of four numbers, of one number each. */
export const greyPixels = (values: Float32Array): Float32Array => {
  const run = spread();
  const { buffer } = memoryOf(TO + CHUNK * 4);
  const floats = new Float32Array(buffer);
  const made = new Float32Array(values.length * 4);
  for (let at = 0; at < values.length; at += CHUNK) {
    const count = Math.min(CHUNK, values.length - at);
    floats.set(values.subarray(at, at + count), TO / 4);
    run(TO, FROM, TO + inFours(count) * 4);
    made.set(floats.subarray(FROM / 4, FROM / 4 + count * 4), at * 4);
  }
  return made;
};
