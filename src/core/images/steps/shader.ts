import { declareStep } from '../declareStep.ts';
import { sizeOf } from '../image.ts';

export const shader = declareStep({
  name: 'shader',
  summary: 'What a shader, or a strand of one, is over the square of uv.',
  isSource: true,
  arguments: {
    of: {
      kind: 'surface',
      about: 'A shader as it starts or as a material has it; all it shows, or a strand.',
    },
    time: { kind: 'number', start: 0, least: 0, most: 3600, about: 'Seconds that have passed.' },
  },
  make: (_, given, { size, scale, surface }) => {
    const word = given.word('of');
    if (!word) throw new Error('No shader is chosen yet.');
    return surface(word, sizeOf(size, scale), given.number('time'));
  },
});
