/** A place in text as people count it, both from 1. */
export interface TextPlace {
  readonly line: number;
  readonly column: number;
}

export const placeInText = (text: string, offset: number): TextPlace => {
  const before = text.slice(0, offset);
  const line = before.split('\n').length;
  return { line, column: offset - before.lastIndexOf('\n') };
};
