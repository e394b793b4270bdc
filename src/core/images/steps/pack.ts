import { channelOf, FROM } from '../channelOf.ts';
import { declareStep } from '../declareStep.ts';
import { pixelFormula, type Pixels } from '../pixelCode.ts';

const INTO = ['red', 'green', 'blue', 'alpha'] as const;

const PACKED = new Map(
  INTO.flatMap((into, c) =>
    FROM.map((from) => {
      const formula = pixelFormula({ pictures: 2 }, ({ pictures, keep }) => {
        const [own, other] = pictures as readonly [Pixels, Pixels];
        const [r, g, b, a] = [own.r, own.g, own.b, own.a].with(c, keep(channelOf(other, from)));
        return { r: r!, g: g!, b: b!, a: a! };
      });
      return [`${into} ${from}` as string, formula] as const;
    }),
  ),
);

export const pack = declareStep({
  name: 'pack',
  summary: 'A channel of another texture in one of this one’s.',
  arguments: {
    into: {
      kind: 'choice',
      start: 'green',
      options: INTO,
      about: 'Which of this one’s.',
    },
    other: { kind: 'texture', about: 'Where it is from.' },
    from: { kind: 'choice', start: 'luminance', options: FROM, about: 'Which of its.' },
  },
  reach: () => 0,
  make: (image, given, { beside }) => {
    const { width, height, data } = image;
    const pictures = [data, beside(given.word('other'), image).data];
    const formula = PACKED.get(`${given.word('into')} ${given.word('from')}`)!;
    return { width, height, data: formula({ pictures }) };
  },
});
