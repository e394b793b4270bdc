import type { Operator } from './declare.ts';
import * as noise from './noise.ts';
import * as numbers from './numbers.ts';
import * as placement from './placement.ts';
import * as shaping from './shaping.ts';
import * as value from './value.ts';

/** Every operator by name, in the order the palette lists them. */
export const OPERATORS: ReadonlyMap<string, Operator> = new Map(
  [value, noise, shaping, numbers, placement]
    .flatMap((family) => Object.values(family))
    .map((each) => [each.name, each]),
);

export const OPERATOR_NAMES: ReadonlySet<string> = new Set(OPERATORS.keys());

/** Finds operators by their name, their synonyms or their summary; the best fit first. */
export const searchOperators = (wanted: string): Operator[] => {
  const words = wanted.toLowerCase().split(/\s+/).filter(Boolean);
  const score = (each: Operator): number => {
    const name = each.name.toLowerCase();
    let sum = 0;
    for (const word of words) {
      const synonym = each.synonyms?.find((known) => known.includes(word));
      if (name === word) sum += 8;
      else if (name.startsWith(word)) sum += 5;
      else if (name.includes(word)) sum += 3;
      else if (synonym) sum += synonym.startsWith(word) ? 2.5 : 2;
      else if (each.family.startsWith(word)) sum += 1.5;
      else if (each.summary.toLowerCase().includes(word)) sum += 1;
      else return 0;
    }
    return sum + 0.001;
  };
  return [...OPERATORS.values()]
    .map((each) => ({ each, fit: score(each) }))
    .filter(({ fit }) => fit > 0)
    .sort((a, b) => b.fit - a.fit)
    .map(({ each }) => each);
};
