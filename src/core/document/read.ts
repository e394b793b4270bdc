import { nearestName } from '../language/nearest.ts';

/** What is wrong with a document, and where in it: `strands[2].steps[0].operator`. */
export interface Problem {
  readonly path: string;
  readonly message: string;
}

/**
 * Reads unknown JSON field by field, collecting problems instead of stopping at the first. Every reader returns a
 * usable value of its type whatever it was given, so that reading can go on; a document with problems is refused.
 */
export interface Reader {
  readonly problems: Problem[];
  problem(path: string, message: string): void;
  /** An object. @param known the fields it may have, where it is not a map of names */
  object(value: unknown, path: string, known?: readonly string[]): Readonly<Record<string, unknown>>;
  list<T>(value: unknown, path: string, most: number, read: (item: unknown, path: string) => T): T[];
  text(value: unknown, path: string, most?: number): string;
  number(value: unknown, path: string): number;
  numbers(value: unknown, path: string, size: number): number[];
  flag(value: unknown, path: string): boolean;
  oneOf<T extends string>(value: unknown, path: string, known: readonly T[]): T;
}

const shown = (value: unknown): string => {
  if (value === undefined) return 'nothing';
  if (Array.isArray(value)) return value.length ? `a list of ${value.length}` : 'an empty list';
  if (typeof value === 'object' && value !== null) return 'an object';
  const text = JSON.stringify(value) ?? String(value);
  return text.length > 40 ? `${text.slice(0, 40)}…` : text;
};

/** Problems beyond this many are counted, not listed. */
const MOST_PROBLEMS = 50;

/** @param strict false where fields that nobody knows are left out without a word, as for what was stored before */
export const createReader = (strict: boolean | undefined = true): Reader => {
  const problems: Problem[] = [];
  const reader: Reader = {
    problems,
    problem: (path, message) => {
      if (problems.length < MOST_PROBLEMS) problems.push({ path, message });
    },
    object: (value, path, known) => {
      if (typeof value === 'object' && value !== null && !Array.isArray(value)) {
        const unknown = strict && known ? Object.keys(value).filter((key) => !known.includes(key)) : [];
        for (const key of unknown.slice(0, MOST_PROBLEMS)) {
          const near = nearestName(key, known!);
          reader.problem(
            path ? `${path}.${key}` : key,
            `There is no field “${key.slice(0, 64)}” here${near ? `; did you mean ${near}?` : `; there is ${known!.join(', ')}.`}`,
          );
        }
        return value as Readonly<Record<string, unknown>>;
      }
      reader.problem(path, `An object should stand here, not ${shown(value)}.`);
      return {};
    },
    list: (value, path, most, read) => {
      if (!Array.isArray(value)) {
        reader.problem(path, `A list should stand here, not ${shown(value)}.`);
        return [];
      }
      if (value.length > most) {
        reader.problem(path, `The list has ${value.length} entries; at most ${most} are allowed.`);
        return [];
      }
      return value.map((item, i) => read(item, `${path}[${i}]`));
    },
    text: (value, path, most = 10_000) => {
      if (typeof value !== 'string') reader.problem(path, `Text should stand here, not ${shown(value)}.`);
      else if (value.length > most)
        reader.problem(path, `The text has ${value.length} characters; at most ${most} are allowed.`);
      else return value;
      return '';
    },
    number: (value, path) => {
      if (typeof value === 'number' && Number.isFinite(value)) return value;
      reader.problem(path, `A finite number should stand here, not ${shown(value)}.`);
      return 0;
    },
    numbers: (value, path, size) => {
      if (Array.isArray(value) && value.length === size)
        return value.map((each, i) => reader.number(each, `${path}[${i}]`));
      reader.problem(path, `A list of ${size} numbers should stand here, not ${shown(value)}.`);
      return new Array<number>(size).fill(0);
    },
    flag: (value, path) => {
      if (typeof value !== 'boolean')
        reader.problem(path, `true or false should stand here, not ${shown(value)}.`);
      return value === true;
    },
    oneOf: (value, path, known) => {
      if (known.includes(value as never)) return value as (typeof known)[number];
      reader.problem(path, `One of ${known.join(', ')} should stand here, not ${shown(value)}.`);
      return known[0]!;
    },
  };
  return reader;
};

/** What stands in for a field that may be left out; null is not left out. */
export const orElse = (value: unknown, start: unknown): unknown => (value === undefined ? start : value);

/** Checks the envelope every document has; says when it comes from a newer version. Gives the version found. */
export const readFormat = (
  reader: Reader,
  document: Readonly<Record<string, unknown>>,
  format: string,
  version: number,
): number => {
  if (document['format'] !== format)
    reader.problem('format', `This should be “${format}”, not ${shown(document['format'])}.`);
  const found = reader.number(document['version'], 'version');
  if (found > version)
    reader.problem(
      'version',
      `This document was made by a newer version (format ${found}; this one reads up to ${version}). Update to open it; nothing was changed.`,
    );
  else if (found < 1 || !Number.isInteger(found))
    reader.problem('version', `There is no format version ${found}.`);
  return found;
};
