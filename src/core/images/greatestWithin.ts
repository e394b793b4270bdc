import { beyond } from './image.ts';
import { memoryOf } from './vectorCode.ts';
import { greatest, LANE, least, putRow } from './weighedRows.ts';

const FLOAT = 4;
/** Pixels of each row that are taken at once: what is held beside the picture does not grow with how wide it is. */
const STRIP = 512;
const wholeLanes = (floats: number): number => Math.ceil(floats / LANE) * LANE;

/**
 * The greatest, or the least, of all pixels in a circle around each, number by number. Of every row near by the greatest of 1,
 * 2, 4, 8 … pixels are kept: what is greatest over any width lies in two of these, one over the other.
 * @param data pixels of so many numbers
 */
export const greatestWithin = (
  data: Float32Array,
  channels: number,
  { width, height }: { readonly width: number; readonly height: number },
  radius: number,
  wraps: readonly [boolean, boolean],
  isLeast = false,
): Float32Array => {
  const run = (isLeast ? least : greatest)();
  const reach = Math.floor(radius);
  /** How far it goes to both sides in a row so many above or below. */
  const halves = Array.from({ length: reach + 1 }, (_, k) =>
    Math.floor(Math.sqrt(Math.max(radius * radius - k * k, 0))),
  );
  const levelOf = (half: number): number => Math.floor(Math.log2(2 * half + 1));
  const levels = levelOf(reach) + 1;
  const length = width * channels;
  const wide = Math.min(width, STRIP);
  // A row with what is beside it, once for each level, and again for as many rows as the circle is high.
  const padded = wholeLanes((wide + 2 * reach) * channels);
  const rowBytes = (padded + wholeLanes(2 ** (levels - 1) * channels)) * FLOAT;
  const tapBytes = Math.ceil((4 * reach + 4) / 8) * 64;
  const high = 2 * reach + 1;
  const rowsAt = (y: number): number => tapBytes + (((y % high) + high) % high) * levels * rowBytes;
  const out = tapBytes + high * levels * rowBytes;
  const { buffer } = memoryOf(out + wholeLanes(wide * channels) * FLOAT);
  const floats = new Float32Array(buffer);
  const whole = new Uint32Array(buffer);

  const bring = (y: number, part: readonly [number, number]): void => {
    const from = beyond(y, height, wraps[1]) * length;
    const at = rowsAt(y);
    putRow(floats, at / FLOAT, data.subarray(from, from + length), channels, reach, wraps[0], part);
    for (let level = 1; level < levels; level += 1) {
      const before = at + (level - 1) * rowBytes;
      [whole[0], whole[2]] = [before, before + 2 ** (level - 1) * channels * FLOAT];
      run(at + level * rowBytes, padded * FLOAT, 0, 2);
    }
  };
  const made = new Float32Array(data.length);
  for (let left = 0; left < width; left += wide) {
    const part = [left, Math.min(left + wide, width)] as const;
    const numbers = (part[1] - left) * channels;
    for (let y = -reach; y < reach; y += 1) bring(y, part);
    for (let y = 0; y < height; y += 1) {
      bring(y + reach, part);
      let taps = 0;
      for (let k = -reach; k <= reach; k += 1) {
        const half = halves[Math.abs(k)]!;
        const level = levelOf(half);
        const first = rowsAt(y + k) + level * rowBytes + (reach - half) * channels * FLOAT;
        whole[taps * 2] = first;
        whole[taps * 2 + 2] = first + (2 * half + 1 - 2 ** level) * channels * FLOAT;
        taps += 2;
      }
      run(out, wholeLanes(numbers) * FLOAT, 0, taps);
      made.set(floats.subarray(out / FLOAT, out / FLOAT + numbers), y * length + left * channels);
    }
  }
  return made;
};
