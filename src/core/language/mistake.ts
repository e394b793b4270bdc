/** A stretch of source, in characters from its start; `to` is exclusive. */
export interface Span {
  readonly from: number;
  readonly to: number;
}

/** What is wrong, where, and (when known) text that would put it right. */
export interface Mistake extends Span {
  readonly message: string;
  readonly fix?: {
    readonly label: string;
    readonly text: string;
    /** It is put behind all that stands there, instead of in its place. */
    readonly atEnd?: boolean;
  };
  /** True where the fault lies elsewhere, and this goes away with it. */
  readonly follows?: boolean;
}

/** Carries a mistake out of the parser or the lowering. */
export class SourceError extends Error {
  constructor(
    readonly mistake: Mistake,
    /** True where its place is in a step's code rather than in an argument. */
    readonly inCode = false,
  ) {
    super(mistake.message);
  }
}

export const fail = (span: Span, message: string, fix?: Mistake['fix']): never => {
  throw new SourceError({
    from: span.from,
    to: span.to,
    message,
    ...(fix ? { fix } : {}),
  });
};
