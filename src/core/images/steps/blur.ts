import { blurredBy, boxOf, gaussian } from '../blurred.ts';
import { declareStep } from '../declareStep.ts';
import { CHANNELS, greyOf, isGrey, isOpaque, planeOf, type Image } from '../image.ts';

/**
 * Every channel of a picture by itself; colour is weighted by alpha, so that what is not seen bleeds into nothing.
 * @param how of pixels of so many numbers, those of each channel without the others
 */
export const overChannels = (
  { width, height, data }: Image,
  how: (data: Float32Array, channels: number) => Float32Array,
): Image => {
  const isSeenThrough = !isOpaque({ data });
  if (!isSeenThrough && isGrey({ data })) return greyOf(width, height, how(planeOf({ data }, 0), 1));
  const weighed = isSeenThrough ? data.slice() : data;
  if (isSeenThrough)
    for (let i = 0; i < weighed.length; i += CHANNELS)
      for (let c = i; c < i + 3; c += 1) weighed[c]! *= data[i + 3]!;
  const done = how(weighed, CHANNELS);
  // What is given back as it came is the picture's own.
  const made = done === data ? done.slice() : done;
  for (let i = 0; i < made.length; i += CHANNELS) {
    const alpha = made[i + 3]!;
    if (!isSeenThrough) made[i + 3] = 1;
    else for (let c = i; c < i + 3; c += 1) made[c] = alpha > 1e-6 ? made[c]! / alpha : data[c]!;
  }
  return { width, height, data: made };
};

export const blur = declareStep({
  name: 'blur',
  summary: 'Each pixel with those around it, by a Gaussian or a box.',
  arguments: {
    radius: {
      ...{ kind: 'number', start: 3, least: 0, most: 256, unit: 'px' },
      about: 'A Gaussian’s standard deviation, or how far a box reaches.',
    },
    by: { kind: 'choice', start: 'gaussian', options: ['gaussian', 'box'], about: 'What weighs them.' },
    times: { kind: 'number', start: 1, least: 1, most: 8, whole: true, about: 'How often it is done.' },
  },
  make: (image, given, { wraps }) => {
    const radius = given.pixels('radius');
    const weights = given.word('by') === 'box' ? boxOf(radius) : gaussian(radius);
    let made = image;
    for (let i = 0; i < given.number('times'); i += 1)
      made = overChannels(made, (data, channels) => blurredBy(data, channels, image, weights, wraps));
    return made;
  },
});
