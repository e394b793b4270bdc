import { gradientAt } from '../../numbers/curve.ts';
import { declareStep } from '../declareStep.ts';
import { drawn, sizeOf } from '../image.ts';

export const ramp = declareStep({
  name: 'ramp',
  summary: 'A gradient across, upwards, from the middle or round it.',
  isSource: true,
  arguments: {
    along: { kind: 'choice', start: 'u', options: ['u', 'v', 'radius', 'angle'], about: 'v grows upwards.' },
    gradient: { kind: 'gradient', start: [0, 0, 0, 0, 1, 1, 1, 1], about: 'From its beginning to its end.' },
  },
  reach: () => 0,
  make: ({ width, height: rows }, given, { size, scale, top }) => {
    const [, height] = sizeOf(size, scale);
    const [along, stops] = [given.word('along'), given.numbers('gradient')];
    return drawn(width, rows, (x, y, to, at) => {
      const [u, v] = [(x + 0.5) / width, 1 - (top + y + 0.5) / height];
      const [dx, dy] = [u - 0.5, v - 0.5];
      const t =
        along === 'u'
          ? u
          : along === 'v'
            ? v
            : along === 'radius'
              ? 2 * Math.sqrt(dx * dx + dy * dy)
              : (Math.atan2(dy, dx) / (2 * Math.PI) + 1) % 1;
      const [r, g, b] = gradientAt(stops, t);
      to.set([r, g, b, 1], at);
    });
  },
});
