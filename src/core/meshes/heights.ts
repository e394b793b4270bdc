import { filled } from '../numbers/filled.ts';

/** A picture taken as heights: rows from the top, each from 0 to 1. */
export interface Heights {
  readonly width: number;
  readonly height: number;
  readonly values: Float32Array;
}

/** Pictures are what their bytes are: what has arrived once is known from then on. */
const arrived = new Map<string, Heights>();

export const areHeightsHere = (picture: string): boolean => arrived.has(picture);
export const arriveHeights = (picture: string, heights: Heights): void => void arrived.set(picture, heights);

/** The height at a uv, between the middles of four pixels, held at the edges; 0 until the picture has arrived. */
export const heightIn = (picture: string | undefined, u: number, v: number): number => {
  const heights = picture === undefined ? undefined : arrived.get(picture);
  if (!heights) return 0;
  const { width, height, values } = heights;
  const held = (x: number, most: number): number => Math.min(Math.max(x, 0), most);
  const x = held(u * width - 0.5, width - 1);
  const y = held((1 - v) * height - 0.5, height - 1);
  const [left, top] = [Math.floor(x), Math.floor(y)];
  const at = (column: number, row: number): number =>
    values[Math.min(row, height - 1) * width + Math.min(column, width - 1)]!;
  const between = (a: number, b: number, share: number): number => a + (b - a) * share;
  return between(
    between(at(left, top), at(left + 1, top), x - left),
    between(at(left, top + 1), at(left + 1, top + 1), x - left),
    y - top,
  );
};

/** Reads what `/api/blobs/…/heights` answers: width and height, then 16-bit samples, all little-endian. @throws Error */
export const readHeights = (bytes: ArrayBuffer): Heights => {
  const view = new DataView(bytes);
  if (bytes.byteLength < 8) throw new Error('its heights are cut short');
  const [width, height] = [view.getUint32(0, true), view.getUint32(4, true)];
  if (bytes.byteLength !== 8 + width * height * 2) throw new Error('its heights are cut short');
  const values = filled(new Float32Array(width * height), (i) => view.getUint16(8 + i * 2, true) / 65535);
  return { width, height, values };
};
