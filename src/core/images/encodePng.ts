import { toSrgb, toSrgbByte } from '../numbers/colour.ts';
import { CHANNELS, type Image } from './image.ts';
import { bandsOf, type Rows } from './rows.ts';
import { HOLDS, type Holds } from '../numbers/mipmaps.ts';

export { HOLDS, type Holds };

const CRC = Uint32Array.from({ length: 256 }, (_, n) => {
  let c = n;
  for (let k = 0; k < 8; k += 1) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1;
  return c >>> 0;
});
const crcOf = (bytes: Uint8Array): number => {
  let c = 0xffffffff;
  for (const byte of bytes) c = CRC[(c ^ byte) & 255]! ^ (c >>> 8);
  return (c ^ 0xffffffff) >>> 0;
};
const chunk = (name: string, data: Uint8Array): Uint8Array => {
  const made = new Uint8Array(12 + data.length);
  const view = new DataView(made.buffer);
  view.setUint32(0, data.length);
  made.set(new TextEncoder().encode(name), 4);
  made.set(data, 8);
  view.setUint32(8 + data.length, crcOf(made.subarray(4, 8 + data.length)));
  return made;
};

const COLOUR_TYPES = { 1: 0, 2: 4, 3: 2, 4: 6 } as const;

/**
 * A picture as PNG of 8 or 16 bits a channel; the same picture always gives the same bytes. What lies outside 0–1 is
 * held at its ends. It is made by bands: what is held is as it is written, not floats.
 * @param pack writes bytes as a zlib stream, always the same way
 * @param see is shown each band, from the top down
 */
export const encodePng = (
  rows: Rows,
  { holds, bits }: { readonly holds: Holds; readonly bits: 8 | 16 },
  pack: (bytes: Uint8Array) => Uint8Array,
  see: (band: Image) => void = () => undefined,
): Uint8Array<ArrayBuffer> => {
  const { width, height } = rows;
  const most = bits === 8 ? 255 : 65535;
  const inside = (x: number): number => Math.min(Math.max(Number.isNaN(x) ? 0 : x, 0), 1);
  const number = (x: number): number => Math.round(inside(x) * most);
  const colour =
    holds !== 'color'
      ? number
      : bits === 8
        ? (x: number) => toSrgbByte(inside(x))
        : (x: number) => Math.round(toSrgb(inside(x)) * most);
  const samples = new (bits === 8 ? Uint8Array : Uint16Array)(width * height * CHANNELS);
  // How many channels say anything: one where it is grey, and alpha where it is not 1 everywhere.
  let [isGrey, isOpaque] = [true, true];
  let at = 0;
  for (const band of bandsOf(rows)) {
    see(band);
    const { data } = band;
    for (let i = 0; i < data.length; i += CHANNELS, at += CHANNELS) {
      const [red, green, blue, alpha] = [data[i]!, data[i + 1]!, data[i + 2]!, data[i + 3]!];
      if (red !== green || red !== blue) isGrey = false;
      if (alpha < 1) isOpaque = false;
      samples[at] = colour(red);
      samples[at + 1] = green === red ? samples[at]! : colour(green);
      samples[at + 2] = blue === red ? samples[at]! : colour(blue);
      samples[at + 3] = number(alpha);
    }
  }
  const channels = isGrey ? (isOpaque ? 1 : 2) : isOpaque ? 3 : 4;
  const bytes = bits / 8;
  const row = 1 + width * channels * bytes;
  const raw = new Uint8Array(height * row);
  for (let y = 0; y < height; y += 1) {
    const filter = y * row;
    // Each number less that of the pixel before: what is smooth packs small.
    raw[filter] = 1;
    const before = new Int32Array(channels * bytes);
    for (let x = 0; x < width; x += 1)
      for (let c = 0; c < channels; c += 1) {
        const isAlpha = c === (channels === 2 ? 1 : 3);
        const value = samples[(y * width + x) * CHANNELS + (isAlpha ? 3 : c)]!;
        for (let b = 0; b < bytes; b += 1) {
          const byte = bits === 8 ? value : (value >> (8 * (1 - b))) & 255;
          const at = c * bytes + b;
          raw[filter + 1 + x * channels * bytes + at] = byte - before[at]!;
          before[at] = byte;
        }
      }
  }
  const header = new Uint8Array(13);
  const view = new DataView(header.buffer);
  view.setUint32(0, width);
  view.setUint32(4, height);
  header.set([bits, COLOUR_TYPES[channels], 0, 0, 0], 8);
  const parts = [
    Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a),
    chunk('IHDR', header),
    ...(holds === 'color' ? [chunk('sRGB', Uint8Array.of(0))] : []),
    chunk('IDAT', pack(raw)),
    chunk('IEND', new Uint8Array(0)),
  ];
  const made = new Uint8Array(parts.reduce((sum, each) => sum + each.length, 0));
  parts.reduce((at, each) => (made.set(each, at), at + each.length), 0);
  return made;
};
