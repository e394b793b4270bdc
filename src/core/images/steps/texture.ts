import { declareStep } from '../declareStep.ts';

export const texture = declareStep({
  name: 'texture',
  summary: 'Another texture of the project, as it is made.',
  isSource: true,
  arguments: { texture: { kind: 'texture', about: 'Which one.' } },
  size: (given, around) => around.texture(given.word('texture')),
  make: (_, given, around) => around.texture(given.word('texture')),
});
