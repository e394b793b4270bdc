import { OPCODES } from '../evaluate/wasm/code.ts';
import { beyond, CHANNELS, drawnRows, type Image } from './image.ts';
import {
  assembled,
  forward,
  get,
  i32,
  load,
  loop,
  lowerDoubles,
  memoryOf,
  plus,
  set,
  shuffle,
  store,
  upperDoubles,
  vector,
} from './vectorCode.ts';

/** Writes a pixel that comes from between four of a picture, which may lie around its edges. */
const movePixel = (
  { width, height, data }: Image,
  [wrapsAcross, wrapsDown]: readonly [boolean, boolean],
  [x, y]: readonly [number, number],
  to: Float32Array,
  at: number,
): void => {
  const [px, py] = [x - 0.5, y - 0.5];
  const [x0, y0] = [Math.floor(px), Math.floor(py)];
  const [tx, ty] = [px - x0, py - y0];
  const [left, right] = [beyond(x0, width, wrapsAcross), beyond(x0 + 1, width, wrapsAcross)];
  const [upper, lower] = [beyond(y0, height, wrapsDown) * width, beyond(y0 + 1, height, wrapsDown) * width];
  const [a, b] = [(upper + left) * CHANNELS, (upper + right) * CHANNELS];
  const [c, d] = [(lower + left) * CHANNELS, (lower + right) * CHANNELS];
  const [sx, sy] = [1 - tx, 1 - ty];
  for (let k = 0; k < CHANNELS; k += 1)
    to[at + k] = (data[a + k]! * sx + data[b + k]! * tx) * sy + (data[c + k]! * sx + data[d + k]! * tx) * ty;
};

const PIXEL = 16;
/** Where the limits lie that no place may reach, and how many were left out. */
const [LIMITS, LEFT_OUT, FROM] = [0, 16, 32] as const;
const HALVES = [...new Uint8Array(Float64Array.of(0.5, 0.5).buffer)];
const ONES = [...new Uint8Array(Float64Array.of(1, 1).buffer)];

/**
 * `(places, end, out, list, from, row)`: writes a pixel for each place, column and row as doubles, from between four that lie in
 * rows so many bytes long; numbers of those that lie around an edge are left out, and listed.
 */
const inside = assembled(
  ['i32', 'i32', 'i32', 'i32', 'i32', 'i32'],
  ['i32', 'i32', 'i32', 'v128', 'v128', 'v128', 'v128', 'v128', 'v128', 'v128', 'v128', 'v128'],
  () => {
    const [places, end, out, list, from, row, number, at, below] = [0, 1, 2, 3, 4, 5, 6, 7, 8] as const;
    const [place, whole, tx, ty, sx, sy] = [9, 10, 11, 12, 13, 14] as const;
    const [first, second, lower] = [15, 16, 17] as const;
    /** Between two pixels of a row, half of their numbers at a time. */
    const across = (address: number, half: (local: number) => number[]): number[] => [
      ...[...get(address), ...load(), ...set(first), ...get(address), ...load(PIXEL), ...set(second)],
      ...[...half(first), ...get(sx), ...vector('f64x2.mul')],
      ...[...half(second), ...get(tx), ...vector('f64x2.mul'), ...vector('f64x2.add')],
    ];
    const between = (half: (local: number) => number[]): number[] => [
      ...[...across(at, half), ...get(sy), ...vector('f64x2.mul')],
      ...[...across(below, half), ...get(ty), ...vector('f64x2.mul'), ...vector('f64x2.add')],
      ...vector('f32x4.demote_f64x2_zero'),
    ];
    const rest = (t: number): number[] => [
      ...[...vector('v128.const', ...ONES), ...get(t), ...vector('f64x2.sub')],
    ];
    const lane = (k: number): number[] => [...get(whole), ...vector('i32x4.extract_lane', k)];
    return [
      ...loop(
        [
          ...[...get(places), ...load(), ...vector('v128.const', ...HALVES), ...vector('f64x2.sub')],
          ...[...set(place), ...get(place), ...vector('f64x2.floor'), ...set(whole)],
          // Both are from 0 on and below the last: what lies beside and below is there too.
          ...[
            ...get(whole),
            ...vector('v128.const', ...new Array<number>(16).fill(0)),
            ...vector('f64x2.ge'),
          ],
          ...[...i32(LIMITS), ...load(), ...get(whole), ...vector('f64x2.gt'), ...vector('v128.and')],
          ...[...vector('i64x2.all_true'), OPCODES.if, 0x40],
          ...[...get(place), ...get(whole), ...vector('f64x2.sub'), ...set(place)],
          ...[...get(place), ...get(place), ...shuffle(0, 1, 0, 1), ...set(tx), ...rest(tx), ...set(sx)],
          ...[...get(place), ...get(place), ...shuffle(2, 3, 2, 3), ...set(ty), ...rest(ty), ...set(sy)],
          ...[...get(whole), ...vector('i32x4.trunc_sat_f64x2_s_zero'), ...set(whole)],
          ...[...lane(1), ...get(row), OPCODES['i32.mul'], ...lane(0), ...i32(PIXEL), OPCODES['i32.mul']],
          ...[...plus, ...get(from), ...plus, ...set(at), ...get(at), ...get(row), ...plus, ...set(below)],
          ...[...between(lowerDoubles), ...set(lower), ...get(out)],
          ...[...get(lower), ...between(upperDoubles), ...shuffle(0, 1, 4, 5), ...store()],
          OPCODES.else,
          ...[...get(list), ...get(number), OPCODES['i32.store'], 2, 0, ...forward(list, 4)],
          OPCODES.end,
          ...[...forward(number, 1), ...forward(out, PIXEL), ...forward(places, PIXEL)],
        ],
        ...([places, end] as const),
      ),
      ...[...i32(LEFT_OUT), ...get(list), OPCODES['i32.store'], 2, 0],
    ];
  },
);

/** Bytes of a picture that is held beside itself, at most: what is larger takes longer. */
const MOST_HELD = 2 ** 26;

/**
 * A picture whose pixels each come from a place of this one, between its pixels, as large as it is.
 * @param placesOf writes of a row where each of its pixels comes from, column and row after another, in pixels from the upper
 * left; pixel middles lie at halves
 */
export const movedTo = (
  image: Image,
  wraps: readonly [boolean, boolean],
  placesOf: (y: number, places: Float64Array) => void,
  mostHeld = MOST_HELD,
): Image => {
  const { width, height, data } = image;
  const bytes = width * PIXEL;
  const isHeld = data.byteLength <= mostHeld;
  const out = FROM + bytes;
  const list = out + bytes;
  const from = list + bytes;
  const { buffer } = memoryOf(from + (isHeld ? data.byteLength : 0));
  const [floats, whole] = [new Float32Array(buffer), new Uint32Array(buffer)];
  const places = new Float64Array(buffer, FROM, width * 2);
  const row = floats.subarray(out / 4, out / 4 + width * CHANNELS);
  if (isHeld) floats.set(data, from / 4);
  new Float64Array(buffer, LIMITS, 2).set([width - 1, height - 1]);
  const run = inside();
  return drawnRows(width, height, (to, start, y) => {
    placesOf(y, places);
    const move = (x: number): void =>
      movePixel(image, wraps, [places[x * 2]!, places[x * 2 + 1]!], row, x * CHANNELS);
    if (!isHeld) for (let x = 0; x < width; x += 1) move(x);
    else {
      run(FROM, FROM + bytes, out, list, from, bytes);
      for (let k = list; k < whole[LEFT_OUT / 4]!; k += 4) move(whole[k / 4]!);
    }
    to.set(row, start);
  });
};
