import type { OutputName } from '../../document/shader.ts';
import { reachable, type Value } from '../../program/value.ts';
import { placeOf, wordOf } from '../placeOf.ts';
import { sampleOf } from '../sampleOf.ts';
import type { Check, Found, Subject } from '../scene.ts';
import { isDecoded } from '../srgb.ts';
import { findStep } from '../../document/findStep.ts';

/** Outputs that are numbers, whatever picture they are read from. */
export const NUMBERS: readonly OutputName[] = [
  ...(['opacity', 'roughness', 'metallic', 'occlusion', 'normal', 'vertexOffset'] as const),
];
const COLOURS = ['baseColor', 'emission'] as const;
const WORDS: Readonly<Partial<Record<OutputName, string>>> = {
  ...{ baseColor: 'base colour', vertexOffset: 'vertex offset' },
};
const wordFor = (output: OutputName): string => WORDS[output] ?? output;

const isSample = (value: Value): boolean => sampleOf(value) !== null;
const isRead = (value: Value): boolean => reachable([value]).some(isSample);

/** Pictures whose red, green and blue are this colour, by nothing but a factor or a mixture. */
const plainPictures = (value: Value, textures: ReadonlySet<string>): Value[] => {
  const { op, inputs, payload } = value;
  if (isSample(value)) return textures.has(inputs[0]!.payload as string) ? [value] : [];
  if (op === 'swizzle')
    return new Set(payload as string).size >= 3 ? plainPictures(inputs[0]!, textures) : [];
  if (op === 'multiply') return inputs.flatMap((each) => plainPictures(each, textures));
  return op === 'mix' ? inputs.slice(0, 2).flatMap((each) => plainPictures(each, textures)) : [];
};

const asColours = (subject: Subject): Found[] => {
  const { shader, program } = subject;
  const textures = new Set(
    shader.body.parameters.filter(({ kind }) => kind === 'texture').map(({ name }) => name),
  );
  const told = new Set<Value>();
  return COLOURS.flatMap((output): Found[] => {
    const value = program.outputs[output];
    const text = shader.body.surface.outputs[output] ?? '';
    return (value ? plainPictures(value, textures) : []).flatMap((picture): Found[] => {
      if (told.has(picture)) return [];
      told.add(picture);
      const at = picture.origin && findStep(shader.body, picture.origin.step);
      const strand = at ? shader.body.strands[at.strand]!.name : null;
      const named = new RegExp(`\\b${strand}\\.(rgb|xyz)\\b`, 'g');
      return [
        {
          ...{ part: shader.id, place: placeOf(subject, picture) },
          message: `${picture.inputs[0]!.payload as string} is shown as ${wordFor(output)} as it is stored: linear light is meant there, and it comes out too light.`,
          ...(strand && named.test(text)
            ? {
                fix: {
                  ...{ label: 'Read the picture as sRGB', part: shader.id },
                  patches: [
                    {
                      ...{ op: 'replace', path: ['surface', 'outputs', output] },
                      value: text.replace(named, (each) => `srgbToLinear(${each})`),
                    },
                  ],
                },
              }
            : {}),
        },
      ];
    });
  });
};

const asNumbers = (subject: Subject): Found[] => {
  const { shader, program } = subject;
  const told = new Set<string>();
  return NUMBERS.flatMap((output): Found[] => {
    const value = program.outputs[output];
    const decoded = value ? reachable([value]).filter((each) => isDecoded(each) && isRead(each)) : [];
    return decoded.flatMap((each): Found[] => {
      const step = each.origin?.step ?? '';
      if (told.has(step)) return [];
      told.add(step);
      const at = findStep(shader.body, step);
      return [
        {
          ...{ part: shader.id, place: placeOf(subject, each) },
          message: `${wordOf(subject, each)} reads numbers as if they were sRGB colours: they end up in the ${wordFor(output)}.`,
          ...(at?.operator === 'srgbToLinear'
            ? {
                fix: {
                  ...{ label: 'Leave the numbers as they are', part: shader.id },
                  patches: [{ op: 'remove', path: ['strands', at.strand, 'steps', at.step] }],
                },
              }
            : {}),
        },
      ];
    });
  });
};

export const numbersAsColours: Check = {
  name: 'colour-space',
  title: 'Numbers read as colours, or colours as numbers',
  why: 'A map that holds numbers must not be read as sRGB, and a picture that holds colours must be: else every value but black and white is wrong.',
  of: 'shader',
  look: ({ subjects }) => subjects.flatMap((subject) => [...asNumbers(subject), ...asColours(subject)]),
};
