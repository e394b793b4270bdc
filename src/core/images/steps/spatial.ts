import { widelyBlurred } from '../blurred.ts';
import { gaussianBlurred, gaussianReach } from '../gaussianBlurred.ts';
import { declareStep } from '../declareStep.ts';
import { distances } from '../distances.ts';
import { greatestWithin } from '../greatestWithin.ts';
import {
  beyond,
  CHANNELS,
  drawn,
  greyOf,
  luminance,
  isGrey,
  planeOf,
  movedTo,
  type Image,
} from '../image.ts';
import { overChannels } from '../overChannels.ts';
import { withinBand } from '../rows.ts';

const held = (x: number): number => Math.min(Math.max(x, 0), 1);
const lightness = ({ width, height, data }: Image): Float32Array => {
  const made = new Float32Array(width * height);
  for (let i = 0; i < made.length; i += 1)
    made[i] = luminance(data[i * CHANNELS]!, data[i * CHANNELS + 1]!, data[i * CHANNELS + 2]!);
  return made;
};

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
    const grey = isGrey(image);
    const channels = grey ? 1 : CHANNELS;
    const from = grey ? planeOf(image, 0) : image.data;
    const slow = widelyBlurred(from, channels, image, radius, [true, true]);
    // A plane stands for all three.
    const beside = grey ? 0 : 1;
    let [red, green, blue] = [0, 0, 0];
    for (let i = 0; i < from.length; i += channels) {
      red += from[i]!;
      green += from[i + beside]!;
      blue += from[i + 2 * beside]!;
    }
    const count = from.length / channels;
    [red, green, blue] = [red / count, green / count, blue / count];
    // What is blurred is nobody else's, but where it was too narrow to be.
    const made = grey || slow === from ? new Float32Array(image.data.length) : slow;
    for (let i = 0, at = 0; i < from.length; i += channels, at += CHANNELS) {
      made[at] = from[i]! - (slow[i]! - red) * amount;
      made[at + 1] = from[i + beside]! - (slow[i + beside]! - green) * amount;
      made[at + 2] = from[i + 2 * beside]! - (slow[i + 2 * beside]! - blue) * amount;
      made[at + 3] = image.data[at + 3]!;
    }
    return { ...image, data: made };
  },
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
    const { data } = image;
    // What is blurred is nobody else's, and becomes what is given back.
    const made = soft.data;
    for (let i = 0; i < made.length; i += CHANNELS) {
      for (let c = i; c < i + 3; c += 1) made[c] = data[c]! + (data[c]! - made[c]!) * amount;
      made[i + 3] = data[i + 3]!;
    }
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
    return movedTo(image, wraps, (y, xs, ys) => {
      for (let x = 0, at = y * image.width * CHANNELS; x < image.width; x += 1, at += CHANNELS) {
        xs[x] = x + 0.5 + (other.data[at]! - 0.5) * 2 * dx * scale;
        ys[x] = y + 0.5 + (other.data[at + 1]! - 0.5) * 2 * dy * scale;
      }
    });
  },
});

/** Of every place, the two pixels that lie around a way off, around the edges, and the share of the second. */
interface Shift {
  readonly first: Int32Array;
  readonly second: Int32Array;
  readonly share: number;
}
/** Those before and after. */
const shiftsOf = (size: number, way: number): readonly [Shift, Shift] => {
  const shift = (by: number): Shift => {
    const whole = Math.floor(by);
    const at = (more: number) =>
      Int32Array.from({ length: size }, (_, i) => beyond(i + whole + more, size, true));
    return { first: at(0), second: at(1), share: by - whole };
  };
  return [shift(-way), shift(way)];
};

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
    const plane = lightness(image);
    // Each neighbour lies as far from every pixel: between the same two, by the same share.
    const [left, right] = shiftsOf(width, fx * scale);
    const [above, below] = shiftsOf(height, fy * scale);
    const to = new Float32Array(image.data.length);
    for (let y = 0, place = 0; y < height; y += 1) {
      const row = y * width;
      const [above1, above2] = [above.first[y]! * width, above.second[y]! * width];
      const [below1, below2] = [below.first[y]! * width, below.second[y]! * width];
      for (let x = 0; x < width; x += 1, place += CHANNELS) {
        const sum =
          plane[row + left.first[x]!]! * (1 - left.share) +
          plane[row + left.second[x]!]! * left.share +
          (plane[row + right.first[x]!]! * (1 - right.share) + plane[row + right.second[x]!]! * right.share) +
          (plane[above1 + x]! * (1 - above.share) + plane[above2 + x]! * above.share) +
          (plane[below1 + x]! * (1 - below.share) + plane[below2 + x]! * below.share);
        const lower = Math.max(sum / 4 - plane[row + x]!, 0);
        for (let c = 0; c < 3; c += 1) to[place + c] = Math.max(lower - sensitivity[c]!, 0) * intensity;
        to[place + 3] = 1;
      }
    }
    return { width, height, data: to };
  },
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
    const { data } = image;
    const inside = new Uint8Array(data.length / CHANNELS);
    for (let i = 0, at = 0; i < inside.length; i += 1, at += CHANNELS)
      inside[i] = Math.fround(luminance(data[at]!, data[at + 1]!, data[at + 2]!)) >= edge ? 1 : 0;
    const to = distances(inside, image, wraps, reach);
    const out =
      side === 'outside'
        ? null
        : distances(
            inside.map((x) => 1 - x),
            image,
            wraps,
            reach,
          );
    // What it comes to is written over the way there: a picture is large, and new room for it takes time.
    const fell = to;
    if (!out) for (let i = 0; i < fell.length; i += 1) fell[i] = held(1 - to[i]! / reach);
    else if (side === 'inside') for (let i = 0; i < fell.length; i += 1) fell[i] = held(out[i]! / reach);
    else
      for (let i = 0; i < fell.length; i += 1)
        // The edge lies between the last pixel inside and the first outside.
        fell[i] = held(0.5 + (inside[i] ? out[i]! - 0.5 : 0.5 - to[i]!) / (2 * reach));
    return greyOf(image.width, image.height, fell);
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
