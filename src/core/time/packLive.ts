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
  const isGiven = ({ value: { op } }: LiveSlot): boolean =>
    op === 'input' || op === 'parameter' || op === 'knob';
  const made = layout.slots.filter((slot) => !isGiven(slot));
  const asGiven = layout.slots.filter(isGiven);
  const compute = prepare(made.map(({ value }) => value));
  const read = inputsRead(layout.slots.map(({ value }) => value));
  const floats = new Float32Array(layout.floats * 4);
  const ints = new Int32Array(layout.ints * 4);
  const put = ({ array, place }: LiveSlot, numbers: ArrayLike<number>): void => {
    const into = array === 'live' ? floats : ints;
    for (let c = 0; c < place.size; c += 1) into[place.slot * 4 + place.offset + c] = numbers[c] ?? 0;
  };
  let before: LiveGiven | null = null;
  const isAsBefore = ({ inputs, parameters, knobs }: LiveGiven): boolean =>
    parameters === before?.parameters &&
    knobs === before.knobs &&
    read.every((name) => {
      const [now, then] = [inputs[name], before!.inputs[name]];
      return now?.length === then?.length && Array.prototype.every.call(now ?? [], (x, i) => x === then![i]);
    });
  return (given) => {
    if (isAsBefore(given)) return { floats, ints };
    const points = { ...given, count: 1 };
    for (const slot of asGiven) put(slot, uniformNumbers(points, slot.value));
    if (made.length) compute(points).forEach((column, i) => put(made[i]!, column.data));
    before = given;
    return { floats, ints };
  };
};
