import { flag, list, object, oneOf, optional, standing, told, type Field, type Read } from './fields.ts';

export const FILTERS = ['linear', 'nearest'] as const;

const finer: Field<16 | 32> = {
  schema: { enum: [16, 32] },
  read: (r, value, path) => {
    if (value === 16 || value === 32) return value;
    r.problem(path, `This should be 16 or 32, or not be told, and is ${JSON.stringify(value)}.`);
    return 16;
  },
};

export const sampling = object({
  repeats: standing(told(list(flag, 2), 'Whether it comes round across and down; else its edge goes on.'), [
    true,
    true,
  ]),
  holds: optional(
    told(
      oneOf(['color', 'directions']),
      'What its smaller copies are means of: light by sRGB’s curve, or directions that stay one long; numbers as they are where it is not told.',
    ),
  ),
  bits: optional(told(finer, 'As finely as it is kept: 16, or 32 of floats; 8 where it is not told.')),
  filter: standing(told(oneOf(FILTERS), 'Between the texels, or the nearest one.'), 'linear'),
});
/** How a texture is read. */
export type Sampling = Read<typeof sampling>;

/** Comes round both ways, goes between texels, and is numbers of 8 bits: as everything is read of which nothing else is told. */
export const isUsual = ({ repeats, filter, holds, bits }: Sampling): boolean =>
  repeats[0] !== false && repeats[1] !== false && filter === 'linear' && !holds && !bits;

/**
 * What stands behind the address of a picture that is read otherwise than all are: `#repeat-clamp-nearest`, and
 * `#repeat-repeat-linear-directions-16`.
 */
export const samplingHash = (sampling: Sampling): string => {
  if (isUsual(sampling)) return '';
  const { repeats, filter, holds, bits } = sampling;
  const kept = holds || bits ? `-${holds ?? 'numbers'}-${bits ?? 8}` : '';
  return `#${repeats.map((each) => (each === false ? 'clamp' : 'repeat')).join('-')}-${filter}${kept}`;
};
