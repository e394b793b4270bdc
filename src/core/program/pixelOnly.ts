import { declarationOf, type InputName } from './inputs.ts';
import { reachable, type ProgramFunction, type Value } from './value.ts';

/** What GLSL gives to the pixel stage alone, where code runs as it is written. */
const PIXEL_WORDS = /\b(dFdx|dFdy|fwidth|gl_FrontFacing|gl_FragCoord|gl_PointCoord)\b/;

/** What a value asks of the pixel stage, by its word in GLSL, or null. */
const asksOf = (value: Value): string | null => {
  if (value.op === 'dFdx' || value.op === 'dFdy' || value.op === 'fwidth') return value.op;
  if (value.op === 'texture' && value.inputs.length > 2) return 'a texture’s bias';
  if (value.op === 'input' && declarationOf(value.payload as InputName).pixelOnly)
    return value.payload as string;
  return value.fn ? asksInside(value.fn) : null;
};

const known = new WeakMap<ProgramFunction, string | null>();
const asksInside = (fn: ProgramFunction): string | null => {
  const before = known.get(fn);
  if (before !== undefined) return before;
  const found = fn.opaque
    ? (PIXEL_WORDS.exec(fn.opaque.source)?.[1] ?? null)
    : (reachable([fn.result])
        .map(asksOf)
        .find((each) => each !== null) ?? null);
  known.set(fn, found);
  return found;
};

/** The first value behind a root that only the pixel stage can know, and what it asks; null where there is none. */
export const pixelOnlyBehind = (root: Value): { readonly value: Value; readonly asks: string } | null => {
  for (const value of reachable([root])) {
    const asks = asksOf(value);
    if (asks !== null) return { value, asks };
  }
  return null;
};
