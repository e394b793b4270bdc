import { FACES, faceHere } from '../../letters/arrived.ts';
import type { Face, Glyph } from '../../letters/face.ts';
import { flatten } from '../../letters/flatten.ts';
import { lackingIn, layLines } from '../../letters/layLines.ts';
import { lengths, meshKind, number } from '../kind.ts';
import { joined, type Mesh, type Point } from '../mesh.ts';
import { raise, type Raised } from '../raised.ts';
import { box } from './box.ts';

/** How letters stand on a board, in metres. */
interface Standing {
  readonly size: readonly [number, number];
  readonly letter: number;
  readonly leading: number;
  readonly tracking: number;
  /** How far they stand out of it, and how deep they are let into it. */
  readonly rise: number;
  readonly sunk: number;
  /** Straight lines for a bend. */
  readonly bends: number;
}

/** Letters as they are, whatever their board’s size: dragging a number makes none anew. */
const raised = new WeakMap<Glyph, Map<number, Raised>>();
const raisedGlyph = (glyph: Glyph, bends: number): Raised => {
  const made = raised.get(glyph) ?? new Map<number, Raised>();
  raised.set(glyph, made);
  const found =
    made.get(bends) ??
    raise(
      glyph.outline.map((contour) =>
        flatten(
          contour,
          (u, v) => [u, v],
          () => bends,
        ),
      ),
    );
  made.set(bends, found);
  return found;
};

const lettersOf = (face: Face, words: string, align: string, standing: Standing): readonly Mesh[] => {
  const { size, letter, leading, tracking, rise, sunk, bends } = standing;
  const known = [...words].filter((each) => each === '\n' || lackingIn(face, each) === null).join('');
  const scale = letter / face.height;
  return layLines(face, known, { align, leading, tracking }).flatMap(({ glyph, x, y }) => {
    if (!glyph.outline.length) return [];
    const { places, front, rim } = raisedGlyph(glyph, bends);
    const [positions, normals, uvs]: number[][] = [[], [], []];
    const indices: number[] = [];
    /** @param out metres that a corner’s uv is further along its normal: sides lie in uv as if folded outwards */
    const corner = (at: number, z: number, normal: Point, out: number): number => {
      const [px, py] = [(places[at]![0] + x) * scale, (places[at]![1] + y) * scale];
      positions!.push(px, py, z);
      normals!.push(...normal);
      uvs!.push((px + normal[0] * out) / size[0] + 0.5, (py + normal[1] * out) / size[1] + 0.5);
      return positions!.length / 3 - 1;
    };
    const fronts = places.map((_, i) => corner(i, rise, [0, 0, 1], 0));
    const backs = places.map((_, i) => corner(i, -sunk, [0, 0, -1], 0));
    for (const [a, b, c] of front)
      indices.push(fronts[a]!, fronts[b]!, fronts[c]!, backs[a]!, backs[c]!, backs[b]!);
    for (const [from, to] of rim) {
      const [dx, dy] = [places[to]![0] - places[from]![0], places[to]![1] - places[from]![1]];
      const long = Math.hypot(dx, dy);
      if (!(long > 0)) continue;
      const side: Point = [dy / long, -dx / long, 0];
      const deep = rise + sunk;
      const [a1, a0] = [corner(from, rise, side, 0), corner(from, -sunk, side, deep)];
      const [b0, b1] = [corner(to, -sunk, side, deep), corner(to, rise, side, 0)];
      indices.push(a1, a0, b0, a1, b0, b1);
    }
    return [
      {
        positions: Float32Array.from(positions!),
        normals: Float32Array.from(normals!),
        uvs: Float32Array.from(uvs!),
        indices: Uint32Array.from(indices),
      },
    ];
  });
};

export const board = meshKind({
  kind: 'board',
  summary:
    'Raised letters on a board, around the middle of the board’s front. A thickness of 0 leaves the letters alone; all share the board’s square of uv.',
  fields: {
    size: lengths(2),
    thickness: number(0.04, 0, 1000),
    /** How high capitals are, in metres. */
    letter: number(0.2, 1e-3, 1000),
    /** Metres that letters stand out. */
    rise: number(0.02, 1e-3, 1000),
    /** From one line to the next, in heights of a capital. */
    leading: number(1.5, 0, 8),
    /** Added between letters, in thousandths of what a letter is drawn in. */
    tracking: number(0, -500, 2000),
    /** Straight lines for a bend. */
    bends: { numbers: 1, least: 1, most: 32, whole: true, otherwise: 6 },
  },
  words: {
    text: { most: 200, otherwise: 'TONIGHT' },
    face: { options: FACES, otherwise: 'bold' },
    align: { options: ['left', 'middle', 'right'], otherwise: 'middle' },
  },
  make: ({ size, thickness, letter, rise, leading, tracking, bends, text, face, align }) => {
    const known = faceHere(face);
    const standing: Standing = {
      ...{ size, letter, rise, tracking, bends },
      leading: known ? (leading * known.height) / 1000 : leading,
      sunk: thickness / 2,
    };
    return joined([
      ...(thickness > 0
        ? [
            box.make({
              ...{ kind: 'box', size: [...size, thickness], divisions: [1, 1, 1], pivot: [0.5, 0.5, 1] },
            }),
          ]
        : []),
      ...(known ? lettersOf(known, text, align, standing) : []),
    ]);
  },
});
