import type { Contour } from './face.ts';

export type Place = readonly [number, number];

/**
 * A closed line as short straight ones: the places it goes through, the first not told again at its end.
 * @param place from the contour's own numbers to where it is wanted
 * @param pieces how many straight lines a bend is, by how far it leaves a straight line: |start − 2·way + end|
 */
export const flatten = (
  { from, bends }: Contour,
  place: (x: number, y: number) => Place,
  pieces: (bent: number) => number,
): Place[] => {
  const places = [place(...from)];
  for (const [mx, my, x, y] of bends) {
    const [start, middle, end] = [places.at(-1)!, place(mx, my), place(x, y)];
    const isStraight = mx === x && my === y;
    const bent = Math.hypot(start[0] - 2 * middle[0] + end[0], start[1] - 2 * middle[1] + end[1]);
    const count = isStraight ? 1 : Math.max(1, pieces(bent));
    for (let i = 1; i <= count; i += 1) {
      const t = i / count;
      places.push([
        (1 - t) ** 2 * start[0] + 2 * t * (1 - t) * middle[0] + t * t * end[0],
        (1 - t) ** 2 * start[1] + 2 * t * (1 - t) * middle[1] + t * t * end[1],
      ]);
    }
  }
  const [first, last] = [places[0]!, places.at(-1)!];
  if (places.length > 1 && first[0] === last[0] && first[1] === last[1]) places.pop();
  return places;
};
