import { ApiError } from './errors.ts';

/** Bytes of numbers that are sent piece by piece; nobody else reads a picture in their place until they are. */
export interface Numbers {
  readonly pieces: readonly Uint8Array[];
  readonly done: () => void;
}

/** Who is sent what was read has so long to take it; then the next has their turn. */
const LONGEST_MS = 60_000;

/**
 * Lets so many pieces of work hold large memory at the same time: from when they begin until what they made was sent.
 * @param waiting how many may wait for their turn; more are refused
 */
export const createGate = (most: number, waiting: number) => {
  let inside = 0;
  const queue: (() => void)[] = [];
  const leave = (): void => {
    // A place is handed on: nobody who comes meanwhile takes it.
    const next = queue.shift();
    if (next) next();
    else inside -= 1;
  };
  /** @throws ApiError 503 where too many wait, and what the work throws */
  return async (work: () => Promise<readonly Uint8Array[]>): Promise<Numbers> => {
    if (inside >= most) {
      if (queue.length >= waiting)
        throw new ApiError(
          503,
          'too-busy',
          'The server is reading other pictures just now. Try again shortly.',
        );
      await new Promise<void>((resolve) => queue.push(resolve));
    } else inside += 1;
    let isInside = true;
    const done = (): void => {
      if (isInside) leave();
      isInside = false;
    };
    try {
      const pieces = await work();
      setTimeout(done, LONGEST_MS).unref();
      return { pieces, done };
    } catch (error) {
      done();
      throw error;
    }
  };
};
