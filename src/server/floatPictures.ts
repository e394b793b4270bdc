import { EXRLoader } from 'three/addons/loaders/EXRLoader.js';
import { STRAIGHT_ALPHA } from '#core/images/encodeExr.ts';
import { HDRLoader } from 'three/addons/loaders/HDRLoader.js';

/** What both are asked to read floats as: `FloatType`, of which the server needs no more. */
const FLOAT = 1015;

/** Pictures of floats, of linear light or numbers: what they are called, and how they are known. */
export const HDR = 'image/vnd.radiance';
export const EXR = 'image/x-exr';
export const floatTypeOf = (bytes: Uint8Array): typeof HDR | typeof EXR | null =>
  /^#\?(RADIANCE|RGBE)\n/.test(String.fromCharCode(...bytes.subarray(0, 11)))
    ? HDR
    : [0x76, 0x2f, 0x31, 0x01].every((x, i) => bytes[i] === x)
      ? EXR
      : null;

type Size = readonly [width: number, height: number];

/** How large a Radiance picture says it is; null where it does not, or lies. */
const sizeOfHdr = (head: Buffer): Size | null => {
  const [, height, width] = /\n-Y (\d+) \+X (\d+)\n/.exec(head.toString('latin1')) ?? [];
  return width && height ? [Number(width), Number(height)] : null;
};
/** How large an OpenEXR picture of one part says it is. */
const sizeOfExr = (head: Buffer): Size | null => {
  const name = Buffer.from('dataWindow\0box2i\0', 'latin1');
  const at = head.indexOf(name);
  if (at < 0 || head.length < at + name.length + 20) return null;
  const [left, top, right, bottom] = [0, 1, 2, 3].map((i) => head.readInt32LE(at + name.length + 4 + i * 4));
  const [width, height] = [right! - left! + 1, bottom! - top! + 1];
  return width > 0 && height > 0 ? [width, height] : null;
};
/** Attributes of a header come before anything else; none of a picture's own is longer. */
const HEAD = 64 * 1024;

/** How large a picture of floats says it is, without reading all of it. */
export const floatSizeOf = (bytes: Uint8Array): Size | null => {
  const head = Buffer.from(bytes.buffer, bytes.byteOffset, Math.min(bytes.length, HEAD));
  return floatTypeOf(bytes) === EXR ? sizeOfExr(head) : sizeOfHdr(head);
};

/** OpenEXR has colours multiplied by alpha, unless our own attribute says that alpha is another number. */
const hasStraightAlpha = (bytes: Uint8Array): boolean => {
  const [name, type, value] = STRAIGHT_ALPHA;
  const head = Buffer.from(bytes.buffer, bytes.byteOffset, Math.min(bytes.length, HEAD));
  const at = head.indexOf(Buffer.from(`${name}\0${type}\0`, 'latin1'));
  return at >= 0 && head.indexOf(Buffer.from(value), at) === at + name.length + type.length + 6;
};

export interface Floats {
  readonly width: number;
  readonly height: number;
  /** Red, green, blue and alpha of each pixel, in rows from the top. */
  readonly samples: Float32Array;
}

/** Whether every scanline of a Radiance picture is there to its end: G. Ward, "Real Pixels", Graphics Gems II, 1991. */
const isWholeHdr = (bytes: Uint8Array, [width, height]: Size): boolean => {
  const head = Buffer.from(bytes.buffer, bytes.byteOffset, Math.min(bytes.length, HEAD));
  const said = /\n-Y \d+ \+X \d+\n/.exec(head.toString('latin1'))!;
  let at = said.index + said[0].length;
  const isPacked =
    width >= 8 && width < 32768 && bytes[at] === 2 && bytes[at + 1] === 2 && !(bytes[at + 2]! & 0x80);
  if (!isPacked) return at + width * height * 4 <= bytes.length;
  for (let y = 0; y < height; y += 1) {
    if (bytes[at] !== 2 || bytes[at + 1] !== 2 || bytes[at + 2]! * 256 + bytes[at + 3]! !== width)
      return false;
    at += 4;
    for (let channel = 0; channel < 4; channel += 1)
      for (let x = 0; x < width;) {
        const count = bytes[at];
        if (!count) return false;
        const [pixels, stored] = count > 128 ? [count - 128, 1] : [count, count];
        x += pixels;
        at += 1 + stored;
        if (x > width || at > bytes.length) return false;
      }
  }
  return true;
};

/** Rows to a block, by the number of how they are packed (ILM, "OpenEXR File Layout", 2013). */
const BLOCK_ROWS = [1, 1, 1, 16, 32, 16, 32, 32, 32, 256];
/** Whether each block of an OpenEXR picture in scanlines lies in the file, where the file's table says. */
const isWholeExr = (bytes: Uint8Array, [, height]: Size): boolean => {
  const file = Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const TILES_OR_PARTS = 0x200 | 0x800 | 0x1000;
  if (file.readUInt32LE(4) & TILES_OR_PARTS) return true;
  const wordAt = (at: number): readonly [word: string, next: number] => {
    const end = file.indexOf(0, at);
    return [file.toString('latin1', at, end), end + 1];
  };
  let rows = 1;
  let at = 8;
  while (at < file.length && file[at] !== 0) {
    const [name, afterName] = wordAt(at);
    const [, afterType] = wordAt(afterName);
    if (name === 'compression') rows = BLOCK_ROWS[file[afterType + 4]!] ?? 1;
    at = afterType + 4 + file.readUInt32LE(afterType);
  }
  const table = at + 1;
  const blocks = Math.ceil(height / rows);
  const first = table + blocks * 8;
  for (let block = 0; block < blocks; block += 1) {
    const from = file.readBigUInt64LE(table + block * 8);
    if (from < first || from + 8n > BigInt(file.length)) return false;
    if (Number(from) + 8 + file.readUInt32LE(Number(from) + 4) > file.length) return false;
  }
  return true;
};

/** Reads a picture of floats to its end. @throws Error where it is damaged, or of a kind that is not read */
export const readFloats = (bytes: Uint8Array): Floats => {
  const copy = new Uint8Array(bytes).buffer;
  const isExr = floatTypeOf(bytes) === EXR;
  const size = floatSizeOf(bytes);
  if (!size || !(isExr ? isWholeExr : isWholeHdr)(bytes, size)) throw new Error('it is cut short');
  const loader = isExr ? new EXRLoader() : new HDRLoader();
  const { data, width, height } = loader.setDataType(FLOAT).parse(copy) as {
    readonly data: Float32Array;
    readonly width: number;
    readonly height: number;
  };
  const channels = data.length / (width * height);
  if (channels !== 4 && channels !== 1) throw new Error('it is cut short, or has channels that are not read');
  const samples = new Float32Array(width * height * 4);
  const isMultiplied = isExr && channels === 4 && !hasStraightAlpha(bytes);
  for (let y = 0; y < height; y += 1)
    for (let x = 0; x < width; x += 1) {
      // What is read of OpenEXR begins with its last row.
      const from = ((isExr ? height - 1 - y : y) * width + x) * channels;
      const to = (y * width + x) * 4;
      const alpha = channels === 4 ? data[from + 3]! : 1;
      // Where nothing is covered there is no colour to tell; what shines there stays as it is.
      const share = isMultiplied && alpha > 0 ? alpha : 1;
      for (let c = 0; c < 3; c += 1) samples[to + c] = data[from + (channels === 4 ? c : 0)]! / share;
      samples[to + 3] = alpha;
    }
  return { width, height, samples };
};
