import { declareStep } from '../declareStep.ts';
import { distances } from '../distances.ts';
import { greyOf } from '../image.ts';
import {
  always,
  held,
  lightness,
  minus,
  over,
  planeFormula,
  plus,
  rounded,
  whereAtLeast,
  type Pair,
} from '../pixelCode.ts';

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
  summary: 'Distance to the edge between lighter and darker pixels, in pixels over `reach`, held to 0–1.',
  from: 'P. Felzenszwalb and D. Huttenlocher, Distance Transforms of Sampled Functions, 2012',
  arguments: {
    edge: { kind: 'number', start: 0.5, least: 0, most: 1, about: 'Pixels at least this light are inside.' },
    reach: {
      kind: 'number',
      start: 32,
      least: 0.5,
      most: 2048,
      unit: 'px',
      about: 'The distance at which it has gone from 0 to 1.',
    },
    side: {
      kind: 'choice',
      start: 'outside',
      options: ['outside', 'inside', 'both'],
      about:
        'Outside: 1 inside, falling to 0 at `reach` outside it. Inside: 0 outside, rising to 1 at `reach` inside it. Both: 0.5 at the edge, 1 at `reach` inside, 0 at `reach` outside.',
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
