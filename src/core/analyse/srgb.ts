import type { Value } from '../program/value.ts';

/** Where the two halves of sRGB's curve meet, in stored numbers and in light (IEC 61966-2-1). */
const STORED = 0.04045;
const LINEAR = 0.0031308;

const isHalved = (value: Value, at: number): boolean => {
  const [asked] = value.inputs;
  if (value.op !== 'select' || asked?.op !== 'lessEqual') return false;
  const edge = asked.inputs[1]!;
  return edge.op === 'constant' && Math.abs((edge.payload as readonly number[])[0]! - at) < 1e-7;
};
/** True of one component as it is brought from sRGB to linear light, by whatever step or call. */
export const isDecoded = (value: Value): boolean => isHalved(value, STORED);
/** True of one component as it is brought from linear light to sRGB. */
export const isEncoded = (value: Value): boolean => isHalved(value, LINEAR);
