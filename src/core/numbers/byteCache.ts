/**
 * Keeps values by their keys up to so many bytes: the least recently used goes first. What is larger than all of that is
 * kept alone, until the next is set.
 * @param sizeOf how many bytes a value holds
 */
export const createByteCache = <V>(most: number, sizeOf: (value: V) => number) => {
  const kept = new Map<string, V>();
  let bytes = 0;
  const remove = (key: string): void => {
    const value = kept.get(key);
    if (value === undefined) return;
    bytes -= sizeOf(value);
    kept.delete(key);
  };
  return {
    has: (key: string): boolean => kept.has(key),
    get: (key: string): V | undefined => {
      const value = kept.get(key);
      if (value === undefined) return undefined;
      kept.delete(key);
      kept.set(key, value);
      return value;
    },
    set: (key: string, value: V): void => {
      remove(key);
      kept.set(key, value);
      bytes += sizeOf(value);
      for (const oldest of kept.keys()) {
        if (bytes <= most || oldest === key) break;
        remove(oldest);
      }
    },
    get bytes() {
      return bytes;
    },
  };
};
