import { CHANNELS, isOpaque, type Image } from './image.ts';

/** Rows that are packed together, and the number that says so in the file. */
const [ROWS, ZIP] = [16, 3];
const FLOAT = 2;

/** The attribute by which a file says that its alpha is not coverage: readers that do not know it pass over it. */
export const STRAIGHT_ALPHA: readonly [name: string, type: string, value: Uint8Array] = [
  ...(['alphaMode', 'string'] as const),
  new TextEncoder().encode('straight'),
];

/** Bytes one after another, little-endian. */
const writer = () => {
  const parts: Uint8Array[] = [];
  const put = (bytes: Uint8Array): void => void parts.push(bytes);
  const four = (write: (view: DataView) => void): void => {
    const bytes = new Uint8Array(4);
    write(new DataView(bytes.buffer));
    put(bytes);
  };
  return {
    put,
    text: (text: string): void => put(new TextEncoder().encode(`${text}\0`)),
    int: (x: number): void => four((view) => view.setInt32(0, x, true)),
    float: (x: number): void => four((view) => view.setFloat32(0, x, true)),
    joined: (): Uint8Array<ArrayBuffer> => {
      const made = new Uint8Array(parts.reduce((sum, { length }) => sum + length, 0));
      parts.reduce((at, part) => (made.set(part, at), at + part.length), 0);
      return made;
    },
  };
};

/** Bytes in an order that packs better, each as its difference from the one before. */
const prepared = (raw: Uint8Array): Uint8Array => {
  const made = new Uint8Array(raw.length);
  const half = (raw.length + 1) >> 1;
  raw.forEach((x, i) => (made[(i & 1 ? half : 0) + (i >> 1)] = x));
  for (let i = made.length - 1; i > 0; i -= 1) made[i] = (made[i]! - made[i - 1]! + 128) & 255;
  return made;
};

/**
 * A picture as OpenEXR: 32-bit floats of linear light or numbers, whatever they are, in blocks of sixteen rows (ILM,
 * "OpenEXR File Layout", 2013); the same picture always gives the same bytes.
 * @param pack writes bytes as a zlib stream, always the same way
 * @param alpha what the alpha channel is: how much is covered, by which the format has colours multiplied ("Technical
 *   Introduction to OpenEXR"); or numbers of their own, which leave the others alone and which the header names
 */
export const encodeExr = (
  image: Image,
  pack: (bytes: Uint8Array) => Uint8Array,
  alpha: 'coverage' | 'numbers' = 'coverage',
): Uint8Array<ArrayBuffer> => {
  const { width, height, data } = image;
  // By their names' order, as the format wants them.
  const channels = [...(isOpaque(image) ? [] : ['A']), 'B', 'G', 'R'];
  const multiplies = alpha === 'coverage' && !isOpaque(image);
  const list = writer();
  for (const name of channels) {
    list.text(name);
    for (const x of [FLOAT, 0, 1, 1]) list.int(x);
  }
  list.put(new Uint8Array(1));
  const window = writer();
  for (const x of [0, 0, width - 1, height - 1]) window.int(x);
  const number = (x: number): Uint8Array => {
    const to = writer();
    to.float(x);
    return to.joined();
  };

  const file = writer();
  file.int(20000630);
  file.int(2);
  const attributes: readonly (readonly [name: string, type: string, value: Uint8Array])[] = [
    ...(isOpaque(image) || multiplies ? [] : [STRAIGHT_ALPHA]),
    ['channels', 'chlist', list.joined()],
    ['compression', 'compression', Uint8Array.of(ZIP)],
    ['dataWindow', 'box2i', window.joined()],
    ['displayWindow', 'box2i', window.joined()],
    ['lineOrder', 'lineOrder', Uint8Array.of(0)],
    ['pixelAspectRatio', 'float', number(1)],
    ['screenWindowCenter', 'v2f', new Uint8Array(8)],
    ['screenWindowWidth', 'float', number(1)],
  ];
  for (const [name, type, value] of attributes) {
    file.text(name);
    file.text(type);
    file.int(value.length);
    file.put(value);
  }
  file.put(new Uint8Array(1));

  const blocks = Array.from({ length: Math.ceil(height / ROWS) }, (_, b) => {
    const [top, rows] = [b * ROWS, Math.min(ROWS, height - b * ROWS)];
    const raw = new DataView(new ArrayBuffer(rows * width * channels.length * 4));
    let at = 0;
    for (let y = top; y < top + rows; y += 1)
      for (const name of channels) {
        const c = 'RGBA'.indexOf(name);
        for (let x = 0; x < width; x += 1, at += 4) {
          const pixel = (y * width + x) * CHANNELS;
          const share = multiplies && c < 3 ? data[pixel + 3]! : 1;
          raw.setFloat32(at, data[pixel + c]! * share, true);
        }
      }
    const bytes = new Uint8Array(raw.buffer);
    const packed = pack(prepared(bytes));
    // What does not get smaller is left as it is, and known by its size.
    return { top, bytes: packed.length < bytes.length ? packed : bytes };
  });
  let place = file.joined().length + blocks.length * 8;
  for (const { bytes } of blocks) {
    file.int(place);
    file.int(0);
    place += 8 + bytes.length;
  }
  for (const { top, bytes } of blocks) {
    file.int(top);
    file.int(bytes.length);
    file.put(bytes);
  }
  return file.joined();
};
