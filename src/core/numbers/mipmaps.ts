import { toLinear, toSrgb } from './colour.ts';

/** What a picture's numbers are: colours by sRGB's curve, directions packed into 0–1, or plain numbers. */
export const HOLDS = ['color', 'numbers', 'directions'] as const;
export type Holds = (typeof HOLDS)[number];

/** Four numbers a pixel, row by row. */
interface Image {
  readonly width: number;
  readonly height: number;
  readonly data: Float32Array;
}
const CHANNELS = 4;
const blank = (width: number, height: number): Image => ({
  ...{ width, height },
  data: new Float32Array(width * height * CHANNELS),
});
const isOpaque = ({ data }: Image): boolean => {
  for (let i = 3; i < data.length; i += CHANNELS) if (data[i] !== 1) return false;
  return true;
};

/** A line of so many numbers as fewer: each is the mean of what it covers, parts of a number by how much of them. */
const narrowed = (
  from: Float32Array,
  to: Float32Array,
  [count, fewer]: readonly [number, number],
  start: (line: number) => readonly [number, number],
  steps: readonly [number, number],
  lines: number,
): void => {
  const wide = count / fewer;
  for (let line = 0; line < lines; line += 1) {
    const [read, write] = start(line);
    for (let i = 0; i < fewer; i += 1) {
      const [low, high] = [i * wide, (i + 1) * wide];
      for (let c = 0; c < CHANNELS; c += 1) {
        let sum = 0;
        for (let k = Math.floor(low); k < high && k < count; k += 1)
          sum += (Math.min(high, k + 1) - Math.max(low, k)) * from[read + k * steps[0] + c]!;
        to[write + i * steps[1] + c] = sum / wide;
      }
    }
  }
};

/** Half as wide and half as high, down to 1: each number is the mean of the area it covers. */
const halved = ({ width, height, data }: Image): Image => {
  const [w, h] = [Math.max(width >> 1, 1), Math.max(height >> 1, 1)];
  const across = blank(w, height);
  const row = (y: number) => [y * width * CHANNELS, y * w * CHANNELS] as const;
  narrowed(data, across.data, [width, w], row, [CHANNELS, CHANNELS], height);
  const made = blank(w, h);
  const column = (x: number) => [x * CHANNELS, x * CHANNELS] as const;
  narrowed(across.data, made.data, [height, h], column, [w * CHANNELS, w * CHANNELS], w);
  return made;
};

/** What is averaged of a pixel, and how a mean is written again; both in place. */
interface Coding {
  readonly read: (data: Float32Array, i: number) => void;
  readonly write: (data: Float32Array, i: number) => void;
}
const AS_IT_IS: Coding = { read: () => undefined, write: () => undefined };
/** Light, not its code; of what is half seen through as much as is there, so that no dark rim comes of it. */
const colour = (covers: boolean): Coding => ({
  read: (data, i) => {
    const alpha = covers ? data[i + 3]! : 1;
    for (let c = 0; c < 3; c += 1) data[i + c] = toLinear(data[i + c]!) * alpha;
  },
  write: (data, i) => {
    const alpha = covers ? data[i + 3]! : 1;
    for (let c = 0; c < 3; c += 1) data[i + c] = alpha > 0 ? toSrgb(data[i + c]! / alpha) : 0;
  },
});
/** A direction of −1 to 1 as it is kept; means are one long again. */
const DIRECTIONS: Coding = {
  read: (data, i) => {
    for (let c = 0; c < 3; c += 1) data[i + c] = data[i + c]! * 2 - 1;
  },
  write: (data, i) => {
    const [x, y, z] = [data[i]!, data[i + 1]!, data[i + 2]!];
    const long = Math.hypot(x, y, z);
    // Opposite ways have no mean: straight up is as good as any.
    const unit = long > 1e-6 ? [x / long, y / long, z / long] : [0, 0, 1];
    for (let c = 0; c < 3; c += 1) data[i + c] = unit[c]! * 0.5 + 0.5;
  },
};

/**
 * The smaller and smaller copies of a picture that it is read from where it is seen small, itself first: colours are
 * averaged as light, directions stay one long, numbers are averaged as they are. Each level is of all of the picture, and
 * not of the one before as it is kept.
 * @param image as it is kept: colours by sRGB’s curve, directions from 0 to 1
 */
export const mipmapsOf = (image: Image, holds: Holds): readonly Image[] => {
  const coding =
    holds === 'directions' ? DIRECTIONS : holds === 'color' ? colour(!isOpaque(image)) : AS_IT_IS;
  const coded = ({ width, height, data }: Image, how: (data: Float32Array, i: number) => void): Image => {
    const made = data.slice();
    for (let i = 0; i < made.length; i += CHANNELS) how(made, i);
    return { width, height, data: made };
  };
  const levels: Image[] = [image];
  for (let mean = coded(image, coding.read); mean.width > 1 || mean.height > 1;) {
    mean = halved(mean);
    levels.push(coded(mean, coding.write));
  }
  return levels;
};
