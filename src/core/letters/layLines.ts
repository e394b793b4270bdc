import type { Face, Glyph } from './face.ts';

/** A letter where it stands, in thousandths: to the right of the block's middle, and above it. */
export interface Laid {
  readonly glyph: Glyph;
  readonly x: number;
  readonly y: number;
}
export interface Setting {
  readonly align: string;
  /** From one line to the next, in heights of the face. */
  readonly leading: number;
  /** Added between letters, in thousandths. */
  readonly tracking: number;
}

/** What is to be said of letters that a face has not; null where it has all. */
export const lackingIn = (face: Face, text: string): string | null => {
  const lacking = [...new Set(text)].filter((each) => each !== '\n' && !face.glyphs.has(each));
  return lacking.length
    ? `This face has no ${lacking.map((each) => `“${each}”`).join(', ')}: it writes what western Europe does.`
    : null;
};

/**
 * Stands letters in lines, around a middle: half way between the tops of the first line's capitals and the last line's foot.
 * @throws Error naming letters that the face has not
 */
export const layLines = (
  face: Face,
  text: string,
  { align, leading, tracking }: Setting,
): readonly Laid[] => {
  const lines = text.split('\n').map((line) => [...line]);
  const lacking = lackingIn(face, text);
  if (lacking) throw new Error(lacking);
  const step = leading * 1000;
  const top = (face.height + (lines.length - 1) * step) / 2 - face.height;
  const widths = lines.map((line) =>
    line.reduce((sum, each, i) => sum + advanceOf(face, each, line[i + 1], tracking), 0),
  );
  const widest = Math.max(...widths);
  return lines.flatMap((line, row) => {
    const spare = widest - widths[row]!;
    let x = -widest / 2 + (align === 'left' ? 0 : align === 'right' ? spare : spare / 2);
    return line.map((each, i) => {
      const laid = { glyph: face.glyphs.get(each)!, x, y: top - row * step };
      x += advanceOf(face, each, line[i + 1], tracking);
      return laid;
    });
  });
};

const advanceOf = (face: Face, letter: string, next: string | undefined, tracking: number): number =>
  face.glyphs.get(letter)!.advance +
  (next === undefined ? 0 : tracking + (face.kerning.get(letter + next) ?? 0));
