import { axisAt, FOOT, WIDEST, figureField } from '../figureField.ts';
import { grid } from '../grid.ts';
import { lengths, meshKind, quads } from '../kind.ts';
import { joined, unit, type Point } from '../mesh.ts';
import { lid } from '../vesselProfile.ts';

/** The field is no exact distance everywhere: a step goes so much of the way. */
const CAREFUL = 0.6;
const NEAR = 1e-6;

/** The outermost surface, level with a height and in a direction from the axis; a metre is the whole height. */
const surfaceAt = (high: number, [x, z]: readonly [number, number]): Point => {
  const axis = axisAt(high);
  let out = WIDEST;
  for (let step = 0; step < 400 && out > 0; step += 1) {
    const away = figureField([x * out, high, axis + z * out]);
    if (away < NEAR) break;
    out -= Math.max(away * CAREFUL, NEAR);
  }
  return [x * Math.max(out, 0), high, axis + z * Math.max(out, 0)];
};
/** Where the field grows fastest: straight out of the surface. */
const outOf = ([x, y, z]: Point): Point => {
  const e = 1e-4;
  return unit([
    figureField([x + e, y, z]) - figureField([x - e, y, z]),
    figureField([x, y + e, z]) - figureField([x, y - e, z]),
    figureField([x, y, z + e]) - figureField([x, y, z - e]),
  ]);
};
/** The foot's edge is looked at so far above the floor, where it is upright. */
const ABOVE = 0.01;

export const figure = meshKind({
  kind: 'figure',
  summary:
    'A hooded figure on a round foot, found in a signed field: u goes round it, v up; what is hidden from its sides is filled.',
  // Each corner is looked for: finer than this takes longer than a frame or two.
  fields: { height: lengths(1), divisions: { ...quads(2), most: 160 } },
  make: ({ height, divisions }) => {
    const side = grid(divisions, (u, v) => {
      // From behind, so that the seam of uv lies there.
      const turn = (u - 0.5) * 2 * Math.PI;
      const way = [Math.sin(turn), Math.cos(turn)] as const;
      // Its crown is a metre up, where it comes to a point.
      if (v === 1) return { at: [0, height, axisAt(1) * height], normal: [0, 1, 0] };
      const found = surfaceAt(Math.max(v, ABOVE), way);
      const [x, , z] = v === 0 ? [way[0] * FOOT, 0, way[1] * FOOT] : found;
      return { at: [x * height, v * height, z * height], normal: outOf(found) };
    });
    const sole = lid(divisions[0], FOOT * height, 0, -1);
    // Its sole is as the hem: no part of a map that is laid out over the figure is taken up by it.
    return joined([{ ...sole, uvs: sole.uvs.map((x, i) => (i % 2 ? 0 : x)) }, side]);
  },
});
