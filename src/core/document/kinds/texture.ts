import { WORD_KINDS, type Argument } from '../../images/declareStep.ts';
import { HOLDS } from '../../images/encodePng.ts';
import { BITS } from '../../images/encodePicture.ts';
import { IMAGE_STEPS } from '../../images/imageSteps.ts';
import { MOST_PIXELS } from '../../images/recipe.ts';
import { keysProblem } from '../../numbers/curve.ts';
import { documentKind, type DocumentOf } from '../documentKind.ts';
import {
  flag,
  id,
  list,
  mapOf,
  number,
  numbers,
  object,
  oneOf,
  optional,
  standing,
  text,
  told,
  type Read,
} from '../fields.ts';
import { sampledPicture } from '../picture.ts';
import { FILTERS } from '../sampling.ts';

export const MOST_IMAGE_STEPS = 64;

const imageStep = object({
  id,
  step: told(text(64), 'The image step’s name, as docs/textures.md has it.'),
  numbers: standing(
    told(mapOf(list(number, 256)), 'What is told of it in numbers; the rest is as it starts.'),
    {},
  ),
  words: standing(
    told(
      mapOf(text(200)),
      'Choices, free words, ids of other textures, pictures by their SHA-256, “shader strand” and “set prop” by their ids.',
    ),
    {},
  ),
  off: optional(told(flag, 'Left out.')),
});
/** One step of a texture. */
export type TextureStep = Read<typeof imageStep>;

const problemOf = (argument: Argument | undefined, value: readonly number[]): string | null => {
  if (!argument) return 'This step has no such argument.';
  if (argument.kind === 'curve' || argument.kind === 'gradient')
    return keysProblem(value, argument.kind === 'curve' ? 'key' : 'stop');
  if (argument.kind === 'flag') return value.length === 1 ? null : 'A switch is one number, 0 or 1.';
  if (argument.kind !== 'number' && argument.kind !== 'numbers') return 'This is told in words.';
  const wanted = argument.kind === 'number' ? 1 : argument.start.length;
  if (value.length !== wanted) return `This has ${wanted} numbers; there are ${value.length}.`;
  const wrong = value.find((x) => !(x >= argument.least && x <= argument.most));
  return wrong === undefined
    ? null
    : `This should lie between ${argument.least} and ${argument.most}, and is ${wrong}.`;
};

export const texture = documentKind({
  name: 'texture',
  version: 1,
  fields: {
    size: told(numbers(2), 'Pixels across and down.'),
    repeats: standing(list(flag, 2), [true, true]),
    holds: standing(
      told(oneOf(HOLDS), 'Colour is written by sRGB’s curve; numbers and directions as they are.'),
      'color',
    ),
    filter: optional(
      told(
        oneOf(FILTERS),
        'How it is read: between its texels, or the nearest one; linear where it is not told.',
      ),
    ),
    bits: optional(
      told(
        number,
        'How finely each number is kept when it is baked: 8 or 16 bits from 0 to 1, or 32, floats as they are; 8 where it is not told.',
      ),
    ),
    steps: list(imageStep, MOST_IMAGE_STEPS),
    byHand: optional(
      told(flag, 'Baked only when that is asked for; else, once it was baked, whenever it is another.'),
    ),
    bakedOf: optional(told(text(16), 'What tells how it was made when it was baked last.')),
    baked: optional(
      told(sampledPicture, 'What it came to when it was baked last; the materials that read it read this.'),
    ),
  },
  check: (r, { size, repeats, bits = 8, steps }) => {
    if (!BITS.some((each) => each === bits)) r.problem('bits', `This should be 8, 16 or 32, and is ${bits}.`);
    size.forEach((x, i) => {
      if (!(Number.isInteger(x) && x >= 1 && x <= 8192))
        r.problem(`size[${i}]`, `A texture is 1 to 8192 whole pixels each way; this says ${x}.`);
    });
    if (size[0] * size[1] > MOST_PIXELS)
      r.problem('size', `${size[0]} × ${size[1]} are more than ${MOST_PIXELS / 2 ** 20} million pixels.`);
    if (repeats.length !== 2) r.problem('repeats', 'Two switches: across, and down.');
    const seen = new Set<string>();
    steps.forEach((each, i) => {
      const path = `steps[${i}]`;
      if (seen.has(each.id)) r.problem(`${path}.id`, `Two steps have the id “${each.id}”.`);
      seen.add(each.id);
      const step = IMAGE_STEPS.get(each.step);
      if (!step) return r.problem(`${path}.step`, `There is no image step “${each.step}”.`);
      for (const [name, value] of Object.entries(each.numbers)) {
        const problem = problemOf(step.arguments[name], value);
        if (problem) r.problem(`${path}.numbers.${name}`, problem);
      }
      for (const [name, word] of Object.entries(each.words)) {
        const argument = step.arguments[name];
        if (!argument || !('kind' in argument) || !['choice', 'text', ...WORD_KINDS].includes(argument.kind))
          r.problem(`${path}.words.${name}`, 'This step has no such argument in words.');
        else if (argument.kind === 'text' && [...word].length > argument.most)
          r.problem(
            `${path}.words.${name}`,
            `At most ${argument.most} letters; there are ${[...word].length}.`,
          );
        else if (argument.kind === 'choice' && !argument.options.includes(word))
          r.problem(
            `${path}.words.${name}`,
            `This should be one of ${argument.options.join(', ')}, not “${word}”.`,
          );
      }
    });
  },
});
/** A picture that is made: a row of image steps. */
export type TextureDocument = DocumentOf<typeof texture>;
