import { LUMINANCE } from '../numbers/colour.ts';
import { greyPixels } from './greyRows.ts';

/** A picture in numbers: red, green, blue and alpha of each pixel, row after row from the top; linear, alpha apart. */
export interface Image {
  readonly width: number;
  readonly height: number;
  readonly data: Float32Array;
  /** True of what was brought as floats: light as it is, which no curve is taken from. */
  readonly isLight?: true;
  /** What a step has to say of how it was made. */
  readonly note?: string;
}

export const CHANNELS = 4 as const;

export const blank = (width: number, height: number): Image => ({
  ...{ width, height, data: new Float32Array(width * height * CHANNELS) },
});

/** Pixels of what is so much smaller than the whole. */
export const sizeOf = (whole: readonly [number, number], scale: number): readonly [number, number] => [
  Math.max(Math.round(whole[0] * scale), 1),
  Math.max(Math.round(whole[1] * scale), 1),
];

/** A picture made pixel by pixel. @param at writes four numbers of the pixel at a column and a row */
export const drawn = (
  width: number,
  height: number,
  at: (x: number, y: number, to: Float32Array, place: number) => void,
): Image => {
  const made = blank(width, height);
  let place = 0;
  for (let y = 0; y < height; y += 1)
    for (let x = 0; x < width; x += 1) {
      at(x, y, made.data, place);
      place += CHANNELS;
    }
  return made;
};

/**
 * A picture made row by row. @param row writes the pixels of a row from a place on; it goes through them itself, for a function
 * asked for each takes as long again
 */
export const drawnRows = (
  width: number,
  height: number,
  row: (to: Float32Array, start: number, y: number) => void,
): Image => {
  const made = blank(width, height);
  for (let y = 0; y < height; y += 1) row(made.data, y * width * CHANNELS, y);
  return made;
};

/** Pixels whose numbers are worked on at once, so that they stay near. */
const AT_ONCE = 2048;
const isGreyIn = (data: Float32Array, start: number, end: number): boolean => {
  for (let i = start; i < end; i += CHANNELS)
    if (data[i] !== data[i + 1] || data[i] !== data[i + 2]) return false;
  return true;
};
/** One number of each pixel, or the three of its colour. @returns how many that is */
const takeColours = (
  data: Float32Array,
  start: number,
  end: number,
  isGreyHere: boolean,
  room: Float32Array,
): number => {
  let at = 0;
  if (isGreyHere) for (let i = start; i < end; i += CHANNELS, at += 1) room[at] = data[i]!;
  else
    for (let i = start; i < end; i += CHANNELS, at += 3) {
      room[at] = data[i]!;
      room[at + 1] = data[i + 1]!;
      room[at + 2] = data[i + 2]!;
    }
  return at;
};
/** Writes pixels of such numbers; their alpha is that of the data. */
const putColours = (
  data: Float32Array,
  start: number,
  end: number,
  isGreyHere: boolean,
  room: Float32Array,
  to: Float32Array,
): void => {
  const [green, blue, step] = isGreyHere ? [0, 0, 1] : [1, 2, 3];
  for (let i = start, at = 0; i < end; i += CHANNELS, at += step) {
    to[i] = room[at]!;
    to[i + 1] = room[at + green]!;
    to[i + 2] = room[at + blue]!;
    to[i + 3] = data[i + 3]!;
  }
};
/**
 * Each number of colour as another; alpha stays.
 * @param how writes others in place of a row of numbers. It goes through them itself: a function asked for each takes as long again.
 */
export const mapped = ({ width, height, data }: Image, how: (numbers: Float32Array) => void): Image => {
  const made = new Float32Array(data.length);
  const room = new Float32Array(AT_ONCE * 3);
  // Each part by a function of its own, which is soon made quick: one that goes through a whole picture is asked for but once.
  for (let start = 0; start < data.length; start += AT_ONCE * CHANNELS) {
    const end = Math.min(start + AT_ONCE * CHANNELS, data.length);
    // What is grey is worked out once.
    const isGreyHere = isGreyIn(data, start, end);
    how(room.subarray(0, takeColours(data, start, end, isGreyHere, room)));
    putColours(data, start, end, isGreyHere, room, made);
  }
  return { width, height, data: made };
};

/** A grey picture of one number a pixel; opaque. */
export const greyOf = (width: number, height: number, values: ArrayLike<number>): Image => ({
  ...{ width, height },
  data: greyPixels(values instanceof Float32Array ? values : Float32Array.from(values)),
});

/** The bits of 1, as a float. */
const ONE = 0x3f800000;
/** Pixels that are looked at before it is asked what was found. */
const BETWEEN = 4096;
/** Whether nothing of it is seen through. */
export const isOpaque = ({ data }: Pick<Image, 'data'>): boolean => {
  const bits = new Uint32Array(data.buffer, data.byteOffset, data.length);
  for (let start = 0; start < bits.length; start += BETWEEN * CHANNELS) {
    const end = Math.min(start + BETWEEN * CHANNELS, bits.length);
    const inFours = end - (end % (4 * CHANNELS));
    let others = 0;
    let i = start + 3;
    // Four at once and no branch between: most of the time goes to the reading.
    for (; i < inFours; i += 4 * CHANNELS)
      others |= (bits[i]! ^ ONE) | (bits[i + 4]! ^ ONE) | (bits[i + 8]! ^ ONE) | (bits[i + 12]! ^ ONE);
    for (; i < end; i += CHANNELS) others |= bits[i]! ^ ONE;
    if (others) return false;
  }
  return true;
};

/** One channel as a plane of its own. */
export const planeOf = ({ data }: Pick<Image, 'data'>, channel: number): Float32Array => {
  const made = new Float32Array(data.length / CHANNELS);
  for (let i = 0; i < made.length; i += 1) made[i] = data[i * CHANNELS + channel]!;
  return made;
};

/** A place beyond an edge: at the other side where it wraps, else at the edge. */
export const beyond = (i: number, size: number, wraps: boolean): number => {
  // Most places are inside, and the remainder of a division takes long.
  if (i >= 0 && i < size) return i;
  return wraps ? ((i % size) + size) % size : i < 0 ? 0 : i >= size ? size - 1 : i;
};

/** Luminance of linear light. */
export const luminance = (r: number, g: number, b: number): number =>
  LUMINANCE[0] * r + LUMINANCE[1] * g + LUMINANCE[2] * b;

/** Whether all three colours are the same everywhere: then one of them is enough to work with. */
export const isGrey = ({ data }: Pick<Image, 'data'>): boolean => isGreyIn(data, 0, data.length);
