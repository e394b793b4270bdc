/** One letter, in thousandths of the height of its face: how far the next one stands, and its outline, y upwards. */
export interface Glyph {
  readonly advance: number;
  readonly outline: readonly Contour[];
}
/** A closed line: where it begins, then quadratic bends as a way point and an end each; a straight line has its end as both. */
export interface Contour {
  readonly from: readonly [number, number];
  readonly bends: readonly (readonly [number, number, number, number])[];
}
export interface Face {
  /** How high capitals are. */
  readonly height: number;
  readonly glyphs: ReadonlyMap<string, Glyph>;
  /** How much nearer two letters stand, or further apart. */
  readonly kerning: ReadonlyMap<string, number>;
}
/** A face as it is kept: a line a letter (itself, its advance, its outline), and a line a pair. */
export interface KeptFace {
  readonly height: number;
  readonly glyphs: string;
  readonly kerning: string;
}

/** @throws Error where an outline has what is neither a line nor a quadratic bend */
const readOutline = (path: string): readonly Contour[] => {
  const made: { from: readonly [number, number]; bends: [number, number, number, number][] }[] = [];
  for (const [, command, told] of path.matchAll(/([A-Z])([^A-Z]*)/g)) {
    const [a, b, c, d] = told!.split(' ').map(Number) as [number, number, number, number];
    if (command === 'M') made.push({ from: [a, b], bends: [] });
    else if (command === 'L') made.at(-1)!.bends.push([a, b, a, b]);
    else if (command === 'Q') made.at(-1)!.bends.push([a, b, c, d]);
    else throw new Error(`An outline has ${command}, which is neither a line nor a bend.`);
  }
  return made;
};

export const readFace = ({ height, glyphs, kerning }: KeptFace): Face => ({
  height,
  glyphs: new Map(
    glyphs.split('\n').map((line) => {
      const [letter, advance, path] = line.split('\t') as [string, string, string];
      return [letter, { advance: Number(advance), outline: readOutline(path) }];
    }),
  ),
  kerning: new Map(
    kerning
      .split('\n')
      .filter(Boolean)
      .map((line) => {
        const pair = [...line].slice(0, 2).join('');
        return [pair, Number(line.slice(pair.length))];
      }),
  ),
});
