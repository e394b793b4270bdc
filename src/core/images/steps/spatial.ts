import { widelyBlurred } from '../blurred.ts';
import { gaussianBlurred, gaussianReach } from '../gaussianBlurred.ts';
import { declareStep } from '../declareStep.ts';
import { distances } from '../distances.ts';
import { greatestWithin } from '../greatestWithin.ts';
import { greyPixels } from '../greyRows.ts';
import { beyond, CHANNELS, drawn, drawnRows, greyOf, isGrey, planeOf } from '../image.ts';
import { overChannels } from '../overChannels.ts';
import { movedTo } from '../movedTo.ts';
import { meanColour } from '../meanColour.ts';
import {
  always,
  greatest,
  held,
  lightness,
  lightnessOf,
  minus,
  over,
  pixelFormula,
  planeFormula,
  plus,
  rounded,
  times,
  whereAtLeast,
  type Pair,
  type Pixels,
} from '../pixelCode.ts';
import { withinBand } from '../rows.ts';

/** What is left of a picture without what is slow in it, about means. */
const withoutSlow = pixelFormula({ pictures: 2, told: 4 }, ({ pictures, told }) => {
  const [from, slow] = pictures as readonly [Pixels, Pixels];
  const of = (c: 'r' | 'g' | 'b', mean: Pair): Pair => minus(from[c], times(minus(slow[c], mean), told[3]!));
  return { r: of('r', told[0]!), g: of('g', told[1]!), b: of('b', told[2]!), a: from.a };
});

export const evenOut = declareStep({
  name: 'evenOut',
  summary: 'Takes slow light and shade out: what is left after a wide blur that wraps, about the mean.',
  arguments: {
    radius: {
      kind: 'number',
      start: 96,
      least: 1,
      most: 512,
      unit: 'px',
      about: 'What is slower than this goes.',
    },
    amount: { kind: 'number', start: 1, least: 0, most: 1, about: 'How much of it goes.' },
  },
  make: (image, given) => {
    const radius = given.pixels('radius');
    const amount = given.number('amount');
    const { width, height, data } = image;
    // A plane stands for all three.
    const isPlane = isGrey(image);
    const from = isPlane ? planeOf(image, 0) : data;
    const blurred = widelyBlurred(from, isPlane ? 1 : CHANNELS, image, radius, [true, true]);
    const slow = isPlane ? greyPixels(blurred) : blurred;
    // What is blurred is nobody else's, but where it was too narrow to be.
    const room = slow === data ? undefined : slow;
    const made = withoutSlow({ pictures: [data, slow], told: [...meanColour(data), amount] }, room);
    return { width, height, data: made };
  },
});

const sharpened = pixelFormula({ pictures: 2, told: 1 }, ({ pictures, told }) => {
  const [from, soft] = pictures as readonly [Pixels, Pixels];
  const of = (x: Pair, y: Pair): Pair => plus(x, times(minus(x, y), told[0]!));
  return { r: of(from.r, soft.r), g: of(from.g, soft.g), b: of(from.b, soft.b), a: from.a };
});

export const sharpen = declareStep({
  name: 'sharpen',
  summary: 'Further from what a blur makes of it.',
  arguments: {
    radius: {
      kind: 'number',
      start: 2,
      least: 0,
      most: 64,
      unit: 'px',
      about: 'The blur’s standard deviation.',
    },
    amount: { kind: 'number', start: 1, least: 0, most: 8, about: 'How much further.' },
  },
  reach: (given) => gaussianReach(given.pixels('radius')),
  make: (image, given, { wraps }) => {
    const radius = given.pixels('radius');
    const amount = given.number('amount');
    const soft = overChannels(image, (data, channels) =>
      gaussianBlurred(data, channels, image, radius, wraps),
    );
    // What is blurred is nobody else's, and becomes what is given back.
    const made = sharpened({ pictures: [image.data, soft.data], told: [amount] }, soft.data);
    return { ...image, data: made };
  },
});

export const warp = declareStep({
  name: 'warp',
  summary: 'Each pixel from elsewhere, as red and green of another texture tell; 0.5 is nowhere else.',
  arguments: {
    by: { kind: 'texture', about: 'What tells where.' },
    strength: {
      kind: 'numbers',
      start: [16, 16],
      least: -512,
      most: 512,
      unit: 'px',
      about: 'Across and down, at 1.',
    },
  },
  make: (image, given, { beside, wraps, scale }) => {
    const other = beside(given.word('by'), image);
    const [dx, dy] = given.numbers('strength') as [number, number];
    return movedTo(image, wraps, (y, places) => {
      for (let x = 0, at = y * image.width * CHANNELS; x < image.width; x += 1, at += CHANNELS) {
        places[x * 2] = x + 0.5 + (other.data[at]! - 0.5) * 2 * dx * scale;
        places[x * 2 + 1] = y + 0.5 + (other.data[at + 1]! - 0.5) * 2 * dy * scale;
      }
    });
  },
});

/** How far it is to something, in whole pixels and a share of the next. */
interface Way {
  readonly whole: number;
  readonly share: number;
}
const wayOf = (by: number): Way => ({ whole: Math.floor(by), share: by - Math.floor(by) });
/** A row, each of whose numbers is the one so far beside it, around the edges. */
const shiftedBy = (row: Float32Array, by: number): Float32Array => {
  const first = beyond(by, row.length, true);
  const made = new Float32Array(row.length);
  made.set(row.subarray(first));
  made.set(row.subarray(0, first), row.length - first);
  return made;
};
/** Of each neighbour the two between which it lies, and where it is itself; the shares of those, three sensitivities, and a factor. */
const lower = pixelFormula({ planes: 9, told: 8 }, ({ planes, told, keep }) => {
  const around = [0, 1, 2, 3].map((k) =>
    plus(times(planes[2 * k]!, minus(always(1), told[k]!)), times(planes[2 * k + 1]!, told[k]!)),
  );
  const mean = over(around.reduce(plus), always(4));
  const by = keep(greatest(minus(mean, planes[8]!), always(0)));
  const of = (k: number): Pair => times(greatest(minus(by, told[4 + k]!), always(0)), told[7]!);
  return { r: of(0), g: of(1), b: of(2), a: always(1) };
});

export const lowPlaces = declareStep({
  name: 'lowPlaces',
  summary: 'Where it is lower than around it, by three sensitivities into red, green and blue.',
  arguments: {
    filter: {
      kind: 'numbers',
      start: [24, 24],
      least: 0.25,
      most: 512,
      unit: 'px',
      about: 'How far the four neighbours are.',
    },
    sensitivity: {
      kind: 'numbers',
      start: [0.04, 0.015, 0.004],
      least: 0,
      most: 1,
      about: 'What is not counted.',
    },
    intensity: { kind: 'number', start: 12, least: 0, most: 256, about: 'What is left is multiplied by.' },
  },
  make: (image, given, { scale }) => {
    const [fx, fy] = given.numbers('filter') as [number, number];
    const sensitivity = given.numbers('sensitivity');
    const intensity = given.number('intensity');
    const { width, height } = image;
    const plane = lightnessOf(image.data);
    const row = (y: number): Float32Array => {
      const at = beyond(y, height, true) * width;
      return plane.subarray(at, at + width);
    };
    const [x, y] = [fx * scale, fy * scale];
    const ways = [-x, x, -y, y].map(wayOf);
    const told = [...ways.map(({ share }) => share), ...sensitivity, intensity];
    return drawnRows(width, height, (to, start, place) => {
      const here = row(place);
      const planes = ways.flatMap(({ whole }, k) =>
        [whole, whole + 1].map((by) => (k < 2 ? shiftedBy(here, by) : row(place + by))),
      );
      lower({ planes: [...planes, here], told }, to.subarray(start, start + width * CHANNELS));
    });
  },
});

/** Where it is at least so light. */
const lightPlaces = planeFormula({ pictures: 1, told: 1 }, ({ pictures: [pixel], told: [edge] }) =>
  // As near as a float has it, as all that is measured.
  whereAtLeast(rounded(lightness(pixel!)), edge!, always(1), always(0)),
);
const fallen = planeFormula({ planes: 1, told: 1 }, ({ planes: [away], told: [reach] }) =>
  held(minus(always(1), over(away!, reach!))),
);
const risen = planeFormula({ planes: 1, told: 1 }, ({ planes: [away], told: [reach] }) =>
  held(over(away!, reach!)),
);
/** The edge lies between the last pixel inside and the first outside. */
const acrossEdge = planeFormula({ planes: 3, told: 1 }, ({ planes, told: [twice] }) => {
  const [inside, away, out] = planes as readonly [Pair, Pair, Pair];
  const by = whereAtLeast(inside, always(1), minus(out, always(0.5)), minus(always(0.5), away));
  return held(plus(always(0.5), over(by, twice!)));
});

export const distance = declareStep({
  name: 'distance',
  summary: 'How far the nearest place is where it is at least so much: 1 there, 0 as far as it reaches.',
  from: 'P. Felzenszwalb and D. Huttenlocher, Distance Transforms of Sampled Functions, 2012',
  arguments: {
    edge: { kind: 'number', start: 0.5, least: 0, most: 1, about: 'From here on it is inside.' },
    reach: { kind: 'number', start: 32, least: 0.5, most: 2048, unit: 'px', about: 'How far it falls off.' },
    side: {
      kind: 'choice',
      start: 'outside',
      options: ['outside', 'inside', 'both'],
      about: 'Both is 0.5 at the edge.',
    },
  },
  make: (image, given, { wraps }) => {
    const [edge, reach, side] = [
      given.number('edge'),
      Math.max(given.pixels('reach'), 1e-3),
      given.word('side'),
    ];
    const inside = lightPlaces({ pictures: [image.data], told: [edge] });
    // On both sides it falls off from half a pixel further on.
    const furthest = side === 'both' ? reach + 0.5 : reach;
    const away = (mask: Float32Array): Float32Array => distances(mask, image, wraps, furthest);
    const { width, height } = image;
    if (side === 'outside') return greyOf(width, height, fallen({ planes: [away(inside)], told: [reach] }));
    const out = away(inside.map((x) => 1 - x));
    if (side === 'inside') return greyOf(width, height, risen({ planes: [out], told: [reach] }));
    const planes = [inside, away(inside), out];
    return greyOf(width, height, acrossEdge({ planes, told: [2 * reach] }));
  },
});

export const spread = declareStep({
  name: 'spread',
  summary: 'The greatest, or the least, of what is within a radius: masks grow or shrink.',
  arguments: {
    radius: { kind: 'number', start: 2, least: 0, most: 128, unit: 'px', about: 'How far, in a circle.' },
    by: {
      kind: 'choice',
      start: 'dilate',
      options: ['dilate', 'erode'],
      about: 'What is light grows, or shrinks.',
    },
  },
  reach: (given) => withinBand(Math.floor(given.pixels('radius'))),
  make: (image, given, { wraps }) => {
    const radius = given.pixels('radius');
    const isLeast = given.word('by') === 'erode';
    if (isGrey(image)) {
      const plane = greatestWithin(planeOf(image, 0), 1, image, radius, wraps, isLeast);
      return drawn(image.width, image.height, (_x, _y, to, at) => {
        to[at] = to[at + 1] = to[at + 2] = plane[at / CHANNELS]!;
        to[at + 3] = image.data[at + 3]!;
      });
    }
    const made = greatestWithin(image.data, CHANNELS, image, radius, wraps, isLeast);
    for (let i = 3; i < made.length; i += CHANNELS) made[i] = image.data[i]!;
    return { ...image, data: made };
  },
});
