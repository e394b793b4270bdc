import { declareStep } from '../declareStep.ts';
import { greyOf, sizeOf } from '../image.ts';
import { createInk } from '../../letters/inkOf.ts';
import { layLines } from '../../letters/layLines.ts';

export const text = declareStep({
  name: 'text',
  summary: 'Letters in white on black: lines of a face, as large as is asked.',
  isSource: true,
  arguments: {
    words: {
      ...{ kind: 'text', start: 'TONIGHT', most: 200 },
      about: 'What stands there; a new line is one here too. Letters of western Europe.',
    },
    face: {
      ...{ kind: 'choice', start: 'bold', options: ['sans', 'bold', 'mono'] },
      about: 'Commissioner, upright or heavy, or Spline Sans Mono.',
    },
    size: {
      kind: 'number',
      start: 96,
      least: 1,
      most: 4096,
      unit: 'px',
      about: 'How high a line of letters is.',
    },
    at: {
      ...{ kind: 'numbers', start: [0.5, 0.5], least: -1, most: 2 },
      about: 'Where the middle of the lines is: a share of the width, and of the height from the top.',
    },
    align: {
      kind: 'choice',
      start: 'middle',
      options: ['left', 'middle', 'right'],
      about: 'Which side lines share.',
    },
    leading: {
      kind: 'number',
      start: 1.2,
      least: 0,
      most: 8,
      about: 'From one line to the next, in heights of a line.',
    },
    tracking: {
      ...{ kind: 'number', start: 0, least: -500, most: 2000 },
      about: 'Added between letters, in thousandths of the height of a line.',
    },
    turn: {
      kind: 'number',
      start: 0,
      least: -360,
      most: 360,
      unit: '°',
      about: 'Turned left about its middle.',
    },
  },
  make: (_, given, { size, scale, face }) => {
    const [width, height] = sizeOf(size, scale);
    const laid = layLines(face(given.word('face')), given.word('words'), {
      align: given.word('align'),
      leading: given.number('leading'),
      tracking: given.number('tracking'),
    });
    const [across, down] = given.numbers('at');
    const angle = (given.number('turn') * Math.PI) / 180;
    const [cos, sin] = [Math.cos(angle), Math.sin(angle)].map((x) => (x * given.pixels('size')) / 1000) as [
      number,
      number,
    ];
    const ink = createInk(width, height);
    for (const { glyph, x, y } of laid)
      for (const contour of glyph.outline)
        ink.add(contour, (u, v) => [
          across! * width + (x + u) * cos - (y + v) * sin,
          down! * height - (x + u) * sin - (y + v) * cos,
        ]);
    return greyOf(width, height, ink.covered());
  },
});
