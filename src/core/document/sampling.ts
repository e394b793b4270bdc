import { flag, list, object, oneOf, standing, told, type Read } from './fields.ts';

export const FILTERS = ['linear', 'nearest'] as const;

export const sampling = object({
  repeats: standing(told(list(flag, 2), 'Whether it comes round across and down; else its edge goes on.'), [
    true,
    true,
  ]),
  filter: standing(told(oneOf(FILTERS), 'Between the texels, or the nearest one.'), 'linear'),
});
/** How a texture is read. */
export type Sampling = Read<typeof sampling>;

/** Comes round both ways, and goes between texels: as everything is read of which nothing else is told. */
export const isUsual = ({ repeats, filter }: Sampling): boolean =>
  repeats[0] !== false && repeats[1] !== false && filter === 'linear';

/** What stands behind the address of a picture that is read otherwise than all are: `#repeat-clamp-nearest`. */
export const samplingHash = (sampling: Sampling): string =>
  isUsual(sampling)
    ? ''
    : `#${sampling.repeats.map((each) => (each ? 'repeat' : 'clamp')).join('-')}-${sampling.filter}`;
