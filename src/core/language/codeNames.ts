import type { Span } from './mistake.ts';

/** A name in GLSL source, and where it stands. */
export interface CodeName extends Span {
  readonly name: string;
}

const WORDS = /\/\/[^\n]*|\/\*[\s\S]*?(?:\*\/|$)|\.\s*[A-Za-z_]\w*|\d[\w.]*|([A-Za-z_]\w*)/g;

/** Every name in GLSL source, leaving out comments, components after a point, and numbers. */
export const codeNames = (source: string): CodeName[] =>
  [...source.matchAll(WORDS)].flatMap((found) =>
    found[1] === undefined ? [] : [{ name: found[1], from: found.index, to: found.index + found[1].length }],
  );
