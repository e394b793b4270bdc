import type { Span } from '../language/mistake.ts';

/** Why a source cannot be imported, and where. */
export class ImportRefusal extends Error {
  constructor(
    message: string,
    readonly at: Span,
  ) {
    super(message);
  }
}

export const refuseImport = (at: Span, message: string): never => {
  throw new ImportRefusal(message, { from: at.from, to: at.to });
};
