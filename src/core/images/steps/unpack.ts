import { channelOf, FROM } from '../channelOf.ts';
import { declareStep } from '../declareStep.ts';
import { always, pixelFormula } from '../pixelCode.ts';

const UNPACKED = new Map(
  FROM.map((name) => {
    const formula = pixelFormula({ pictures: 1 }, ({ pictures: [pixel], keep }) => {
      const x = keep(channelOf(pixel!, name));
      return { r: x, g: x, b: x, a: always(1) };
    });
    return [name as string, formula] as const;
  }),
);

export const unpack = declareStep({
  name: 'unpack',
  summary: 'One of its channels, as grey.',
  arguments: { channel: { kind: 'choice', start: 'red', options: FROM, about: 'Which.' } },
  reach: () => 0,
  make: ({ width, height, data }, given) => ({
    ...{ width, height },
    data: UNPACKED.get(given.word('channel'))!({ pictures: [data] }),
  }),
});
