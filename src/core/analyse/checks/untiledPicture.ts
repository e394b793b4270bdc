import type { Picture } from '../../evaluate/points/points.ts';
import { reachable, writtenBy, type Program } from '../../program/value.ts';
import { boundsOf } from '../boundsOf.ts';
import { sampleOf } from '../sampleOf.ts';
import type { Check, Found, Subject } from '../scene.ts';

const CHANNELS = 4;
const at = ({ width, rgba }: Picture, x: number, y: number, c: number): number =>
  rgba[(y * width + x) * CHANNELS + c]!;

/** How far apart texels beside one another are, in the mean, along one way: within the picture, and over its edge. */
const stepsAlong = (picture: Picture, way: 'x' | 'y'): { readonly within: number; readonly over: number } => {
  const { width, height } = picture;
  const [along, across] = way === 'x' ? [width, height] : [height, width];
  let [within, over] = [0, 0];
  const between = (i: number, j: number, k: number): number => {
    let sum = 0;
    for (let c = 0; c < CHANNELS; c += 1)
      sum +=
        way === 'x'
          ? Math.abs(at(picture, i, k, c) - at(picture, j, k, c))
          : Math.abs(at(picture, k, i, c) - at(picture, k, j, c));
    return sum / CHANNELS;
  };
  for (let k = 0; k < across; k += 1) {
    for (let i = 0; i + 1 < along; i += 1) within += between(i, i + 1, k);
    over += between(along - 1, 0, k);
  }
  return { within: within / (across * Math.max(along - 1, 1)), over: over / across };
};

/** A seam is seen where it steps further than the picture does, and by more than a few steps of eight bits. */
const TIMES = 3;
const SEEN = 4 / 255;
export const seamOf = (picture: Picture): number => {
  const found = (['x', 'y'] as const).map((way) => {
    const { within, over } = stepsAlong(picture, way);
    return over > SEEN && over > within * TIMES ? over : 0;
  });
  return Math.max(...found);
};

/** Pictures that are read at a place that was moved or multiplied, and so beyond their edges. */
export const repeatedIn = (subject: Pick<Subject, 'shader' | 'knobs'>, program: Program): Set<string> => {
  const roots = writtenBy(program, 'fragment');
  const bounds = boundsOf(subject, roots);
  return new Set(
    reachable(roots).flatMap((value) => {
      const name = sampleOf(value);
      if (name === null) return [];
      const place = value.inputs[1]!;
      const isUv = place.op === 'input' && (place.payload === 'uv' || place.payload === 'uv2');
      const { low, high } = bounds.get(place)!;
      return isUv || (low >= 0 && high <= 1) ? [] : [name];
    }),
  );
};

export const untiledPicture: Check = {
  name: 'untiled-picture',
  title: 'A tile with a seam, where it repeats',
  why: 'Its edges show as lines wherever the picture begins again.',
  of: 'shader',
  look: ({ subjects }) =>
    subjects.flatMap((subject): Found[] => {
      const { shader, program, worn } = subject;
      const repeated = repeatedIn(subject, program);
      return shader.body.parameters.flatMap(({ id, name, kind }): Found[] => {
        if (kind !== 'texture' || !repeated.has(name)) return [];
        const found = worn.flatMap(({ material, given }) => {
          const picture = given.pictures?.get(name);
          const seam = picture && picture.width > 1 && picture.height > 1 ? seamOf(picture) : 0;
          return seam ? [{ seam, on: material?.name ?? 'its picture' }] : [];
        });
        const [worst] = found.toSorted((a, b) => b.seam - a.seam);
        return worst
          ? [
              {
                ...{ part: shader.id, place: { kind: 'parameter', parameter: id } },
                message: `${name} on ${worst.on} steps by ${Math.round(worst.seam * 255)} of 255 over its edge, several times as far as within it, and is read beyond that edge.`,
              },
            ]
          : [];
      });
    }),
};
