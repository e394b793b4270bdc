import { prepare } from '../evaluate/columns/evaluate.ts';
import type { InputName } from '../program/inputs.ts';
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
  const [inputs, parameters, knobs] = [given('input'), given('parameter'), given('knob')];
  const asGiven = new Set([...inputs, ...parameters, ...knobs]);
  const made = layout.slots.filter((slot) => !asGiven.has(slot));
  const compute = prepare(made.map(({ value }) => value));
  const read = inputsRead(layout.slots.map(({ value }) => value));
  const numbers: LiveNumbers = {
    floats: new Float32Array(layout.floats * 4),
    ints: new Int32Array(layout.ints * 4),
  };
  const put = ({ array, place: { slot, offset, size } }: LiveSlot, of: ArrayLike<number>): void => {
    const into = array === 'live' ? numbers.floats : numbers.ints;
    const at = slot * 4 + offset;
    for (let c = 0; c < size; c += 1) into[at + c] = of[c] ?? 0;
  };
  /** Those of a slot; where they are not there, or too few, that is said as for any other points. */
  const numbersOf = (now: LiveGiven, { value, place }: LiveSlot): ArrayLike<number> => {
    const name = value.payload as string;
    const found =
      value.op === 'input'
        ? now.inputs[name as InputName]
        : (value.op === 'knob' ? now.knobs : now.parameters).get(name);
    return found?.length === place.size ? found : uniformNumbers({ ...now, count: 1 }, value);
  };
  const isSameInput = (now: ArrayLike<number> | undefined, then: ArrayLike<number> | undefined): boolean => {
    if (now === then || !now || now.length !== then?.length) return now === then;
    for (let i = 0; i < now.length; i += 1) if (now[i] !== then[i]) return false;
    return true;
  };
  let before: LiveGiven | null = null;
  return (now) => {
    const then = before;
    const areInputs = then !== null && read.every((name) => isSameInput(now.inputs[name], then.inputs[name]));
    const areParameters = then?.parameters === now.parameters;
    const areKnobs = then?.knobs === now.knobs;
    if (areInputs && areParameters && areKnobs) return numbers;
    if (!areInputs) for (const slot of inputs) put(slot, numbersOf(now, slot));
    if (!areParameters) for (const slot of parameters) put(slot, numbersOf(now, slot));
    if (!areKnobs) for (const slot of knobs) put(slot, numbersOf(now, slot));
    if (made.length) compute({ ...now, count: 1 }).forEach((column, i) => put(made[i]!, column.data));
    before = now;
    return numbers;
  };
};
