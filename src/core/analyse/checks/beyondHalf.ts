import { formatNumber } from '../../numbers/format.ts';
import { MOST_HALF } from '../../numbers/half.ts';
import { reachOf, type Reach } from '../../numbers/reach.ts';
import type { Picture } from '../../evaluate/points/points.ts';
import type { Check, Found } from '../scene.ts';

const CHANNELS = 4;
/** A picture is looked through once, however often what reads it changes. */
const known = new WeakMap<Picture, Reach>();
const reachIn = (picture: Picture): Reach => {
  const reach = known.get(picture) ?? reachOf(picture.rgba, CHANNELS);
  known.set(picture, reach);
  return reach;
};

export const beyondHalf: Check = {
  name: 'beyond-half',
  title: 'A picture that reaches further than it is read',
  why: 'Pictures of floats are read as half floats, which end at ±65504: what lies beyond is held there, and a number that is none spreads where it is filtered.',
  of: 'shader',
  look: ({ subjects }) =>
    subjects.flatMap(({ shader, worn }): Found[] =>
      shader.body.parameters.flatMap(({ id, name, kind }): Found[] => {
        if (kind !== 'texture') return [];
        for (const { material, given } of worn) {
          const picture = given.pictures?.get(name);
          if (!picture) continue;
          const { low, high, broken } = reachIn(picture);
          const far = high >= MOST_HALF ? high : low <= -MOST_HALF ? low : null;
          const said = [
            ...(far === null
              ? []
              : [`reaches to ${formatNumber(far)}: what lies beyond ±65504 is read as that`]),
            ...(broken ? [`has numbers that are infinite or none at all, ${broken} of them`] : []),
          ];
          if (said.length)
            return [
              {
                ...{ part: shader.id, place: { kind: 'parameter', parameter: id } },
                message: `${name} on ${material?.name ?? 'its picture'} ${said.join(', and ')}.`,
              },
            ];
        }
        return [];
      }),
    ),
};
