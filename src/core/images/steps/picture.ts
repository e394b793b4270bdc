import { toLinear } from '../../numbers/colour.ts';
import { declareStep } from '../declareStep.ts';
import { CHANNELS, mapped, sizeOf, type Image } from '../image.ts';
import { coloursReach } from '../lossIn.ts';
import { resampled } from '../resampled.ts';

/** Made smaller, it reaches no further than it does: what rings beside an edge would be told as lost. */
const shrunk = (image: Image, scale: number): Image => {
  const { low, high } = coloursReach(image);
  const small = resampled(image, sizeOf([image.width, image.height], scale), [false, false]);
  const held = (x: number, i: number): number => {
    if (!Number.isFinite(x)) return x;
    return i % CHANNELS === 3 ? Math.min(Math.max(x, 0), 1) : Math.min(Math.max(x, low), high);
  };
  return { ...small, data: small.data.map(held) };
};

export const picture = declareStep({
  name: 'picture',
  summary: 'A picture that was brought.',
  isSource: true,
  arguments: {
    picture: {
      kind: 'picture',
      about: 'PNG, JPEG or WebP; OpenEXR or Radiance, whose floats are taken as they are.',
    },
    holds: {
      ...{ kind: 'choice', start: 'color', options: ['color', 'numbers'] },
      about: 'Colour, which sRGB’s curve is taken from, or numbers as they are.',
    },
  },
  size: (given, { picture: sizeOfPicture }) => sizeOfPicture(given.word('picture')),
  make: (_, given, { picture: bring, scale }) => {
    const sha = given.word('picture');
    if (!sha) throw new Error('No picture is chosen yet.');
    const brought = bring(sha);
    const linear =
      given.word('holds') === 'color' && !brought.isLight
        ? mapped(brought, (numbers) => {
            for (let i = 0; i < numbers.length; i += 1) numbers[i] = toLinear(numbers[i]!);
          })
        : brought;
    return scale === 1 ? linear : shrunk(linear, scale);
  },
});
