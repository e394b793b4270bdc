import { declareStep } from '../declareStep.ts';
import { movedTo } from '../movedTo.ts';

/** The map that takes the corners of a square to four points (P. Heckbert, 1989): nine numbers, row after row. */
const toCorners = (corners: readonly number[]): readonly number[] => {
  const [x0, y0, x1, y1, x2, y2, x3, y3] = corners as [
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  const [dx1, dx2, sx] = [x1 - x2, x3 - x2, x0 - x1 + x2 - x3];
  const [dy1, dy2, sy] = [y1 - y2, y3 - y2, y0 - y1 + y2 - y3];
  const size = dx1 * dy2 - dx2 * dy1;
  if (Math.abs(size) < 1e-9)
    throw new Error('The four corners lie on a line; there is nothing between them.');
  const g = (sx * dy2 - dx2 * sy) / size;
  const h = (dx1 * sy - sx * dy1) / size;
  return [x1 - x0 + g * x1, x3 - x0 + h * x3, x0, y1 - y0 + g * y1, y3 - y0 + h * y3, y0, g, h, 1];
};

export const straighten = declareStep({
  name: 'straighten',
  summary: 'What lies between four corners, as if seen from straight before it.',
  from: 'P. Heckbert, Fundamentals of Texture Mapping and Image Warping, 1989',
  arguments: {
    corners: {
      ...{ kind: 'numbers', start: [0, 0, 1, 0, 1, 1, 0, 1], least: -1, most: 2 },
      about: 'x and y of the upper left, upper right, lower right and lower left one, as shares of it.',
    },
  },
  make: (image, given) => {
    const m = toCorners(given.numbers('corners'));
    const { width, height } = image;
    return movedTo(image, [false, false], (y, places) => {
      const v = (y + 0.5) / height;
      for (let x = 0; x < width; x += 1) {
        const u = (x + 0.5) / width;
        const w = m[6]! * u + m[7]! * v + 1;
        places[x * 2] = ((m[0]! * u + m[1]! * v + m[2]!) / w) * width;
        places[x * 2 + 1] = ((m[3]! * u + m[4]! * v + m[5]!) / w) * height;
      }
    });
  },
});
