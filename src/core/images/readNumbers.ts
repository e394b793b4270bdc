import { shares } from '../numbers/filled.ts';
import type { Image } from './image.ts';

/** Reads what the server, or a file, gave as numbers: width, height and bits, then four samples a pixel. */
export const readNumbers = (bytes: ArrayBuffer): Image => {
  const [width, height, bits] = new Uint32Array(bytes, 0, 3) as unknown as [number, number, number];
  if (bits === 32) return { width, height, data: new Float32Array(bytes, 12), isLight: true };
  const samples = bits === 16 ? new Uint16Array(bytes, 12) : new Uint8Array(bytes, 12);
  const whole = bits === 16 ? 65535 : 255;
  return { width, height, data: shares(samples, whole) };
};
