import type { Type } from './types.ts';
import type { Origin, ProgramFunction, Value } from './value.ts';

export interface ValueTable {
  /** How many values there are. */
  readonly size: () => number;
  /** The value that is this operation on these inputs: the one there is, or a new one with the next id. */
  readonly intern: (
    op: Value['op'],
    type: Type,
    inputs: readonly Value[],
    payload: Value['payload'],
    fn: ProgramFunction | null,
    origin: Origin | null,
  ) => Value;
}

/** Scrambles two whole numbers into one (Fibonacci hashing). */
const mixed = (h: number, x: number): number => Math.imul(h ^ x, 0x9e3779b1) ^ (h >>> 15);

const bits = new Float64Array(1);
const halves = new Int32Array(bits.buffer);
const hashOfNumber = (h: number, x: number): number => {
  bits[0] = x;
  return mixed(mixed(h, halves[0]!), halves[1]!);
};

const isSamePayload = (a: Value['payload'], b: Value['payload']): boolean => {
  if (a === b) return true;
  if (a === null || b === null || typeof a !== 'object' || typeof b !== 'object') return false;
  // 0 and −0 are two constants; a NaN is itself.
  return a.length === b.length && a.every((x, i) => Object.is(x, b[i]));
};

const areSameValues = (a: readonly Value[], b: readonly Value[]): boolean => {
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i += 1) if (a[i] !== b[i]) return false;
  return true;
};

/**
 * Every value of a program under construction, found again by what it is. An open-addressed hash table: a program of
 * thousands of steps is built on each edit, and keys made of text would be most of that work.
 */
export const createValueTable = (room = 64): ValueTable => {
  const words = new Map<string, number>();
  const numberOf = (word: string): number => {
    let number = words.get(word);
    if (number === undefined) words.set(word, (number = words.size));
    return number;
  };
  let places: (Value | undefined)[] = new Array(room);
  let hashes = new Int32Array(room);
  let count = 0;

  const hashOf = (
    op: string,
    type: Type,
    inputs: readonly Value[],
    payload: Value['payload'],
    fn: ProgramFunction | null,
  ): number => {
    let h = mixed(numberOf(op), numberOf(type));
    for (const input of inputs) h = mixed(h, input.id);
    if (fn) h = mixed(h, fn.id);
    if (typeof payload === 'string') h = mixed(h, numberOf(payload));
    else if (typeof payload === 'number') h = hashOfNumber(h, payload);
    else if (payload) for (const x of payload) h = hashOfNumber(h, x);
    return h ^ (h >>> 13);
  };

  const grow = (): void => {
    const [values, was] = [places, hashes];
    places = new Array(values.length * 2);
    hashes = new Int32Array(places.length);
    values.forEach((value, i) => {
      if (!value) return;
      const at = freePlace(was[i]!);
      places[at] = value;
      hashes[at] = was[i]!;
    });
  };
  const freePlace = (hash: number): number => {
    let at = hash & (places.length - 1);
    while (places[at]) at = (at + 1) & (places.length - 1);
    return at;
  };

  return {
    size: () => count,
    intern: (op, type, inputs, payload, fn, origin) => {
      const hash = hashOf(op, type, inputs, payload, fn);
      let at = hash & (places.length - 1);
      for (let value = places[at]; value; at = (at + 1) & (places.length - 1), value = places[at])
        if (
          hashes[at] === hash &&
          value.op === op &&
          value.type === type &&
          value.fn === fn &&
          areSameValues(value.inputs, inputs) &&
          isSamePayload(value.payload, payload)
        )
          return value;
      const made: Value = { id: count, op, type, inputs, payload, fn, origin };
      places[at] = made;
      hashes[at] = hash;
      count += 1;
      if (count * 2 > places.length) grow();
      return made;
    },
  };
};
