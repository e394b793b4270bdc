import { blurredBy, boxOf, gaussian } from '../blurred.ts';
import { declareStep } from '../declareStep.ts';
import { CHANNELS, isGrey, isOpaque, planeOf, type Image } from '../image.ts';

/** Every channel of a picture by its own way; colour is weighted by alpha, so that what is not seen bleeds into nothing. */
export const overChannels = (
  { width, height, data }: Image,
  how: (plane: Float32Array) => Float32Array,
): Image => {
  const image = { width, height, data };
  const made = new Float32Array(data.length);
  const grey = isGrey(image);
  if (isOpaque(image)) {
    for (let c = 0; c < (grey ? 1 : 3); c += 1) {
      const done = how(planeOf(image, c));
      for (let i = 0, at = c; i < done.length; i += 1, at += CHANNELS) made[at] = done[i]!;
    }
    for (let at = 0; at < made.length; at += CHANNELS) {
      if (grey) made[at + 1] = made[at + 2] = made[at]!;
      made[at + 3] = 1;
    }
    return { width, height, data: made };
  }
  const alpha = planeOf(image, 3);
  const spread = how(alpha);
  for (let c = 0; c < 3; c += 1) {
    const plane = planeOf(image, c);
    for (let i = 0; i < plane.length; i += 1) plane[i]! *= alpha[i]!;
    const done = how(plane);
    for (let i = 0; i < done.length; i += 1)
      made[i * CHANNELS + c] = spread[i]! > 1e-6 ? done[i]! / spread[i]! : data[i * CHANNELS + c]!;
  }
  for (let i = 0; i < spread.length; i += 1) made[i * CHANNELS + 3] = spread[i]!;
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
      made = overChannels(made, (plane) => blurredBy(plane, image, weights, wraps));
    return made;
  },
});
