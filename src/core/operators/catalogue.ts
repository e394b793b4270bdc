import * as colour from './colour.ts';
import { FAMILIES, type Operator } from './declare.ts';
import * as falloffs from './falloffs.ts';
import * as images from './images.ts';
import * as light from './light.ts';
import * as logic from './logic.ts';
import * as noise from './noise.ts';
import * as normals from './normals.ts';
import * as numbers from './numbers.ts';
import * as placement from './placement.ts';
import * as scene from './scene.ts';
import * as shaping from './shaping.ts';
import * as slopes from './slopes.ts';
import * as value from './value.ts';
import * as vectors from './vectors.ts';

const all: readonly Operator[] = [
  ...[value, scene, numbers, shaping, noise, placement, falloffs],
  ...[vectors, colour, images, normals, light, slopes, logic],
].flatMap((family) => Object.values(family));

/** Every operator by name, in the order the palette and the reference list them. */
export const OPERATORS: ReadonlyMap<string, Operator> = new Map(
  FAMILIES.flatMap((family) => all.filter((each) => each.family === family)).map((each) => [each.name, each]),
);

export const OPERATOR_NAMES: ReadonlySet<string> = new Set(OPERATORS.keys());

/** What a search looks at. */
export interface Searchable {
  readonly name: string;
  readonly family: string;
  readonly summary: string;
  readonly synonyms?: readonly string[];
}

/** How well something fits the words looked for; 0 where a word is not in it at all. */
const fitOf = (each: Searchable, words: readonly string[]): number => {
  const name = each.name.toLowerCase();
  let sum = 0.001;
  for (const word of words) {
    const synonym = each.synonyms?.find((known) => known.includes(word));
    if (name === word) sum += 8;
    else if (name.startsWith(word)) sum += 5;
    else if (name.includes(word)) sum += 3;
    else if (synonym) sum += synonym === word ? 4 : synonym.startsWith(word) ? 2.5 : 2;
    else if (each.family.startsWith(word)) sum += 1.5;
    else if (each.summary.toLowerCase().includes(word)) sum += 1;
    else return 0;
  }
  return sum;
};

/** Finds things by their name, their synonyms, their family or their summary; the best fit first. */
export const search = <T extends Searchable>(among: Iterable<T>, wanted: string): T[] => {
  const words = wanted.toLowerCase().split(/\s+/).filter(Boolean);
  return [...among]
    .map((each) => ({ each, fit: fitOf(each, words) }))
    .filter(({ fit }) => fit > 0)
    .sort((a, b) => b.fit - a.fit)
    .map(({ each }) => each);
};

export const searchOperators = (wanted: string): Operator[] => search(OPERATORS.values(), wanted);
