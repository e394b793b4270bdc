import type { Span } from '../../language/mistake.ts';

/** Thrown where code is good GLSL that the program cannot hold: it still runs on the graphics card as written. */
export class Opaque extends Error {
  constructor(
    readonly why: string,
    readonly at: Span,
  ) {
    super(why);
  }
}

export const opaque = (at: Span, why: string): never => {
  throw new Opaque(why, { from: at.from, to: at.to });
};
