import { curveOver } from '../../numbers/curve.ts';
import { amongPieces, EACH, FEW, inEaches } from '../amongPieces.ts';
import { declareStep } from '../declareStep.ts';
import { mapped } from '../image.ts';
import { always, minus, over, plus, times, whereAtLeast } from '../pixelCode.ts';
import { tone } from '../tone.ts';

/** By how many keys there are: cubic Hermite pieces, as `curveAt` has them. */
const curved = Array.from({ length: FEW }, (_, i) =>
  tone((i + 1) * EACH, (x, told, keep) => {
    const keys = inEaches(told);
    return amongPieces(x, keys, [keys[0]![1]!, keys.at(-1)![1]!], ([x0, y0, , out], [x1, y1, into]) => {
      const span = minus(x1!, x0!);
      const t = keep(over(minus(x, x0!), span));
      const s = keep(minus(always(1), t));
      const twice = times(always(2), t);
      const begins = times(times(times(y0!, plus(always(1), twice)), s), s);
      const leaves = times(times(times(times(span, out!), t), s), s);
      const ends = times(times(times(y1!, t), t), minus(always(3), twice));
      const comes = times(times(times(times(span, into!), t), t), s);
      const made = minus(plus(plus(begins, leaves), ends), comes);
      return whereAtLeast(always(0), span, y1!, made);
    });
  }),
);

export const curves = declareStep({
  name: 'curves',
  summary: 'Each number as a curve has it.',
  arguments: {
    curve: { kind: 'curve', start: [0, 0, 1, 1, 1, 1, 1, 1], about: 'From 0 to 1, level beyond its ends.' },
  },
  reach: () => 0,
  make: (image, given) => {
    const curve = given.numbers('curve');
    const quick = curved[curve.length / EACH - 1];
    if (quick) return quick(image, ...curve);
    return mapped(image, (numbers) => curveOver(curve, numbers));
  },
});
