import { MOST_KEYS } from './curve.ts';

/** A curve's key or a gradient's stop: where it stands, from 0 to 1, then three numbers of its own. */
export type Key = readonly number[];

/** The keys in a flat list of numbers, four each. */
export const keysIn = (numbers: readonly number[]): Key[] =>
  Array.from({ length: Math.floor(numbers.length / 4) }, (_, i) => numbers.slice(i * 4, i * 4 + 4));

/** Puts another key in the place of one. It stays between its neighbours, so that the order is kept. */
export const putKey = (keys: readonly Key[], i: number, key: Key): Key[] => {
  const [before, after] = [keys[i - 1]?.[0] ?? 0, keys[i + 1]?.[0] ?? 1];
  return keys.toSpliced(i, 1, [Math.min(Math.max(key[0]!, before), after), ...key.slice(1)]);
};

/** Adds a key where it belongs. @returns null where there are as many as there may be */
export const addKey = (
  keys: readonly Key[],
  key: Key,
): { readonly keys: Key[]; readonly place: number } | null => {
  if (keys.length >= MOST_KEYS) return null;
  const after = keys.findIndex((each) => each[0]! > key[0]!);
  const place = after < 0 ? keys.length : after;
  return { keys: keys.toSpliced(place, 0, key), place };
};

/** Takes a key out. @returns null where it is the last */
export const removeKey = (keys: readonly Key[], i: number): Key[] | null =>
  keys.length > 1 ? keys.toSpliced(i, 1) : null;
