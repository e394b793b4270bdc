import { prepare } from '../evaluate/columns/evaluate.ts';
import type { Points } from '../evaluate/points/points.ts';
import { inputsRead, uniformNumbers } from '../evaluate/points/inputNumbers.ts';
import type { LiveLayout, LiveSlot } from '../emit/glsl/liveLayout.ts';

/** The numbers that live source reads as uniforms. */
export interface LiveNumbers {
  readonly floats: Float32Array;
  readonly ints: Int32Array;
}

/** What a frame is given; `parameters` and `knobs` are other maps where what they hold is another. */
export type LiveGiven = Pick<Points, 'inputs' | 'parameters' | 'knobs'>;

/**
 * Prepares what is done each frame: compute everything that is the same at every point, and put it where the shader
 * reads it. What is given as it was, as far as it is read, is not computed again. The arrays returned are the same ones
 * every time.
 */
export const prepareLive = (layout: LiveLayout): ((given: LiveGiven) => LiveNumbers) => {
  const given = (op: string): readonly LiveSlot[] => layout.slots.filter(({ value }) => value.op === op);
  const made = layout.slots.filter(({ value: { op } }) => !['input', 'parameter', 'knob'].includes(op));
  const compute = prepare(made.map(({ value }) => value));
  const read = inputsRead(layout.slots.map(({ value }) => value));
  const numbers: LiveNumbers = {
    floats: new Float32Array(layout.floats * 4),
    ints: new Int32Array(layout.ints * 4),
  };
  const placeOf = ({ value, array, place: { slot, offset, size } }: LiveSlot) => ({
    ...{ value, name: value.payload as string, size, at: slot * 4 + offset },
    into: array === 'live' ? numbers.floats : numbers.ints,
  });
  type Place = ReturnType<typeof placeOf>;
  const put = ({ into, at, size }: Place, of: ArrayLike<number>): void => {
    for (let c = 0; c < size; c += 1) into[at + c] = of[c] ?? 0;
  };
  /** Puts numbers of its own kind; where they are not there, or too few, that is said as for any other points. */
  const putGiven = (place: Place, found: ArrayLike<number> | undefined, now: LiveGiven): void =>
    put(place, found?.length === place.size ? found : uniformNumbers({ ...now, count: 1 }, place.value));
  const [inputs, parameters, knobs] = [given('input'), given('parameter'), given('knob')].map((slots) =>
    slots.map(placeOf),
  ) as [Place[], Place[], Place[]];
  const computed = made.map(placeOf);
  const isSameInput = (now: ArrayLike<number> | undefined, then: ArrayLike<number> | undefined): boolean => {
    if (now === then || !now || now.length !== then?.length) return now === then;
    for (let i = 0; i < now.length; i += 1) if (now[i] !== then[i]) return false;
    return true;
  };
  const areSameInputs = (now: LiveGiven, then: LiveGiven): boolean => {
    for (const name of read) if (!isSameInput(now.inputs[name], then.inputs[name])) return false;
    return true;
  };
  let before: LiveGiven | null = null;
  return (now) => {
    const then = before;
    const areInputs = then !== null && areSameInputs(now, then);
    const areParameters = then?.parameters === now.parameters;
    const areKnobs = then?.knobs === now.knobs;
    if (areInputs && areParameters && areKnobs) return numbers;
    if (!areInputs)
      for (const each of inputs) putGiven(each, now.inputs[each.name as keyof LiveGiven['inputs']], now);
    if (!areParameters) for (const each of parameters) putGiven(each, now.parameters.get(each.name), now);
    if (!areKnobs) for (const each of knobs) putGiven(each, now.knobs.get(each.name), now);
    if (made.length) compute({ ...now, count: 1 }).forEach((column, i) => put(computed[i]!, column.data));
    before = now;
    return numbers;
  };
};
