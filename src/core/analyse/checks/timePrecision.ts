import { reachable, rootsOf, type Value } from '../../program/value.ts';
import { boundsOf } from '../boundsOf.ts';
import { placeOf, wordOf } from '../placeOf.ts';
import type { Check, Found } from '../scene.ts';

/** An hour of play, and how far apart single precision's numbers are at 1. */
const HOUR = 3600;
const STEP = 2 ** -23;
/** A step of this much of a turn or a tile is seen as a jerk. */
const SEEN = 1 / 128;

/** How fast each value grows with time at most, as far as it still grows without end; null where it does not. */
const speedsOf = (values: readonly Value[], most: (value: Value) => number): ReadonlyMap<Value, number> => {
  const speeds = new Map<Value, number>();
  const speedOf = (value: Value | undefined): number => (value && speeds.get(value)) ?? 0;
  const timesMost = (x: Value, y: Value): number => (speedOf(x) > 0 ? speedOf(x) * most(y) : 0);
  for (const value of values) {
    const [x, y] = value.inputs;
    let speed = 0;
    if (value.op === 'input') speed = value.payload === 'time' ? 1 : 0;
    else if (value.op === 'add' || value.op === 'subtract') speed = Math.max(speedOf(x), speedOf(y));
    else if (value.op === 'multiply') speed = Math.max(timesMost(x!, y!), timesMost(y!, x!));
    else if (value.op === 'divide') speed = speedOf(x) / Math.max(leastSize(y!), 1e-6);
    else if (['negate', 'swizzle', 'construct', 'abs', 'mix', 'select'].includes(value.op))
      speed = Math.max(0, ...value.inputs.map(speedOf));
    if (speed > 0 && Number.isFinite(speed)) speeds.set(value, speed);
  }
  return speeds;
};
const leastSize = ({ op, payload }: Value): number =>
  op === 'constant' ? Math.min(...(payload as readonly number[]).map(Math.abs)) : 1;

/** Where what has grown is used: what turns, repeats, is looked up, or hashed. */
const USES: ReadonlySet<string> = new Set([
  'sin',
  'cos',
  'tan',
  'fract',
  'mod',
  'call',
  'texture',
  'textureLod',
  'floor',
]);
/** What a whole turn or tile is there. */
const turnOf = (op: string): number => (op === 'sin' || op === 'cos' || op === 'tan' ? 2 * Math.PI : 1);

export const timePrecision: Check = {
  name: 'time-precision',
  title: 'Time that loses its precision',
  why: 'A clock that is multiplied grows until single precision has no numbers left between two frames, and what moves jerks.',
  of: 'shader',
  look: ({ subjects }) =>
    subjects.flatMap((subject): Found[] => {
      const { shader, program } = subject;
      const roots = rootsOf(program);
      const values = reachable(roots);
      const bounds = boundsOf(subject, roots);
      const most = (value: Value): number => {
        const { low, high } = bounds.get(value)!;
        return Math.max(Math.abs(low), Math.abs(high));
      };
      const speeds = speedsOf(values, most);
      const told = new Set<string>();
      return values.flatMap((value): Found[] => {
        if (!USES.has(value.op)) return [];
        const speed = Math.max(0, ...value.inputs.map((each) => speeds.get(each) ?? 0));
        const step = (speed * HOUR * STEP) / turnOf(value.op);
        const key = value.origin?.step ?? '';
        if (!(step > SEEN) || told.has(key)) return [];
        told.add(key);
        return [
          {
            ...{ part: shader.id, place: placeOf(subject, value) },
            message: `In ${wordOf(subject, value)}, time runs at up to ${Number(speed.toPrecision(3))} a second: after an hour it moves by steps of ${step.toPrecision(2)} of a turn. Take fract of the time, or of the product, first.`,
          },
        ];
      });
    }),
};
