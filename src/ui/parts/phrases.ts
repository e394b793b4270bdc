/** Typing that goes on undoes with what came before it until it pauses this long, in milliseconds. */
const PAUSE = 1000;

/** @returns true where a piece of typing begins a new word, or comes after a pause: what undo takes back at once */
export const createPhrases = () => {
  let last = -Infinity;
  let wasSpace = false;
  return (typed: string, now: number): boolean => {
    const isSpace = /^\s/.test(typed);
    const begins = now - last > PAUSE || (isSpace && !wasSpace) || typed.length > 1;
    last = now;
    wasSpace = isSpace;
    return begins;
  };
};

/** What a change put in, one after another. */
export const insertedBy = (changes: {
  iterChanges(
    each: (a: number, b: number, c: number, d: number, inserted: { toString(): string }) => void,
  ): void;
}): string => {
  let typed = '';
  changes.iterChanges((_a, _b, _c, _d, inserted) => (typed += inserted.toString()));
  return typed;
};
