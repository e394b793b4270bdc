import type { PartOf } from '../../document/project.ts';
import type { Edit } from '../../document/patch.ts';
import { reachable, rootsOf, type Value } from '../../program/value.ts';
import { sampleOf } from '../sampleOf.ts';
import type { Check, Found, Subject } from '../scene.ts';
import { isDecoded } from '../srgb.ts';
import { NUMBERS } from './numbersAsColours.ts';
import { repeatedIn } from './untiledPicture.ts';

type Texture = PartOf<'texture'>;

const samplesIn = (values: readonly Value[]): ReadonlySet<string> =>
  new Set(reachable(values).flatMap((each) => sampleOf(each) ?? []));

/** Textures that values read with nothing on the way that takes sRGB’s curve from them. */
const undecoded = (values: readonly Value[]): ReadonlySet<string> => {
  const [found, seen] = [new Set<string>(), new Set<Value>()];
  const look = (value: Value): void => {
    if (seen.has(value) || isDecoded(value)) return;
    seen.add(value);
    const name = sampleOf(value);
    if (name !== null) found.add(name);
    value.inputs.forEach(look);
  };
  values.forEach(look);
  return found;
};

/** How a shader reads its textures. */
const usesIn = (subject: Subject) => {
  const { program } = subject;
  const all = reachable(rootsOf(program));
  const numbers = NUMBERS.flatMap((output) => program.outputs[output] ?? []);
  return {
    asColour: samplesIn(all.filter(isDecoded)),
    asNumbers: undecoded(numbers),
    beyond: repeatedIn(subject, program),
    /** Those by which the place is moved where another is read. */
    moving: new Set(
      all.flatMap((value) => (sampleOf(value) === null ? [] : [...samplesIn(value.inputs.slice(1, 2))])),
    ),
  };
};

/** What of a texture is not as it is read, and what it should be. */
interface Misfit {
  readonly why: string;
  readonly label: string;
  readonly field: string;
  readonly value: unknown;
}
const misfitsOf = (
  { name: called, body: { holds: told, bits, repeats, filter } }: Texture,
  name: string,
  uses: ReturnType<typeof usesIn>,
): readonly Misfit[] => {
  const bends = uses.asColour.has(name);
  // Floats are light, or numbers, whatever they are of.
  const isLight = bits === 32 && told === 'color';
  const holds = isLight ? 'numbers' : told;
  return [
    ...(isLight && bends
      ? [
          {
            why: `keeps light as it is, in 32 bits, and ${name} is read as colours, which sRGB’s curve is taken from`,
            ...{ label: `Keep ${called} in 16 bits`, field: 'bits', value: 16 },
          },
        ]
      : []),
    ...(holds !== 'color' && bends && !isLight
      ? [
          {
            why: `holds ${holds}, and ${name} is read as colours, which sRGB’s curve is taken from`,
            ...{ label: `Let ${called} hold colour`, field: 'holds', value: 'color' },
          },
        ]
      : []),
    ...(holds === 'color' && !bends && uses.asNumbers.has(name)
      ? [
          {
            why: `holds colour, bent by sRGB’s curve, and ${name} is read as numbers`,
            ...{ label: `Let ${called} hold numbers`, field: 'holds', value: 'numbers' },
          },
        ]
      : []),
    ...((repeats[0] === false || repeats[1] === false) && uses.beyond.has(name)
      ? [
          {
            why: `does not come round, and ${name} is read beyond its edges`,
            ...{ label: `Let ${called} come round`, field: 'repeats', value: [true, true] },
          },
        ]
      : []),
    ...(filter === 'nearest' && uses.moving.has(name)
      ? [
          {
            why: `is read at its nearest texel, and ${name} moves the place where another picture is read: it is torn into blocks`,
            ...{ label: `Read ${called} between texels`, field: 'filter', value: 'linear' },
          },
        ]
      : []),
  ];
};

export const textureUse: Check = {
  name: 'texture-use',
  title: 'A texture that is not what it is read as',
  why: 'Numbers that are kept as colours are bent by sRGB’s curve, a tile that does not come round smears its edge, and a distortion without a filter tears.',
  of: 'shader',
  look: ({ subjects, materials, textures = [] }) =>
    subjects.flatMap((subject): Found[] => {
      const { shader } = subject;
      const readers = materials.filter(({ body }) => body.shader === shader.id && body.made);
      if (!readers.length) return [];
      const uses = usesIn(subject);
      return shader.body.parameters.flatMap(({ id, name, kind }): Found[] => {
        if (kind !== 'texture') return [];
        const read = new Set(readers.flatMap(({ body }) => body.made?.[id] ?? []));
        // One place is told of once: the first of its textures, with all that is wrong of it.
        for (const texture of textures) {
          const misfits = read.has(texture.id) ? misfitsOf(texture, name, uses) : [];
          const [first] = misfits;
          if (!first) continue;
          const fix: Edit = {
            ...{ label: misfits.length > 1 ? `Mend ${texture.name}` : first.label, part: texture.id },
            patches: misfits.map(({ field, value }) => ({ op: 'add', path: [field], value })),
          };
          const message = misfits.map(({ why }) => `${texture.name} ${why}.`).join(' ');
          return [{ ...{ part: shader.id, place: { kind: 'parameter', parameter: id } }, message, fix }];
        }
        return [];
      });
    }),
};
