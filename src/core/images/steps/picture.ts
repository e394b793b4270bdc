import { toLinear } from '../../numbers/colour.ts';
import { declareStep } from '../declareStep.ts';
import { mapped, sizeOf } from '../image.ts';
import { resampled } from '../resampled.ts';

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
    const size = sizeOf([brought.width, brought.height], scale);
    return scale === 1 ? linear : resampled(linear, size, [false, false]);
  },
});
