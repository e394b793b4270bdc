import type { Contour } from './face.ts';
import { flatten, type Place } from './flatten.ts';

/** How far a bend may lie beside the short lines that are drawn for it, in pixels. */
const BESIDE = 0.02;

/**
 * Adds what one straight line covers: in each pixel the part that lies to its right, above 0 where it goes down and
 * below 0 where it goes up; so that summed along a row, contours leave what is inside them (R. Levien, "Inside the
 * fastest font renderer in the world", 2016).
 */
const addLine = (areas: Float64Array, width: number, height: number, from: Place, to: Place): void => {
  const way = from[1] < to[1] ? 1 : -1;
  const [[x0, y0], [x1, y1]] = way > 0 ? [from, to] : [to, from];
  const last = Math.min(height, y1);
  for (let y = Math.max(0, Math.floor(y0)); y < last; y += 1) {
    const [a, b] = [Math.max(y, y0), Math.min(y + 1, y1)];
    if (!(b > a)) continue;
    const at = (down: number): number => x0 + ((x1 - x0) * (down - y0)) / (y1 - y0);
    const [left, right] = [Math.min(at(a), at(b)), Math.max(at(a), at(b))];
    const row = y * (width + 1);
    const put = (x: number, share: number, middle: number): void => {
      if (x >= width) return;
      // Beyond the left edge it has all of the row to its right.
      const inside = x < 0 ? 1 : 1 - (middle - x);
      areas[row + Math.max(x, 0)]! += way * share * inside;
      areas[row + Math.max(x, 0) + 1]! += way * share * (1 - inside);
    };
    const [first, end] = [Math.floor(left), Math.floor(right)];
    if (first === end || end < 0) put(end, b - a, (left + right) / 2);
    else
      for (let x = Math.max(first, -1); x <= Math.min(end, width); x += 1) {
        const begins = x === -1 ? left : Math.max(left, x);
        const ends = Math.min(right, x + 1);
        if (ends > begins) put(x, ((b - a) * (ends - begins)) / (right - left), (begins + ends) / 2);
      }
  }
};

/** What contours have covered so far; letters that overlap cover no more than all. */
export const createInk = (width: number, height: number) => {
  const areas = new Float64Array((width + 1) * height);
  return {
    /** @param place from the contour's own numbers to pixels */
    add: (contour: Contour, place: (x: number, y: number) => Place): void => {
      const places = flatten(contour, place, (bent) => Math.ceil(Math.sqrt(bent / (4 * BESIDE))));
      places.forEach((to, i) => addLine(areas, width, height, places.at(i - 1)!, to));
    },
    /** The share of each pixel that is covered, row after row. */
    covered: (): Float32Array => {
      const made = new Float32Array(width * height);
      for (let y = 0; y < height; y += 1) {
        let sum = 0;
        for (let x = 0; x < width; x += 1) {
          sum += areas[y * (width + 1) + x]!;
          made[y * width + x] = Math.min(1, Math.abs(sum));
        }
      }
      return made;
    },
  };
};
