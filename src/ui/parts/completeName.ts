import { CALLED_NAMES } from '#core/language/glsl/builtInNames.ts';
import { OPERATORS } from '#core/operators/catalogue.ts';
import { declarationOf, INPUT_NAMES } from '#core/program/inputs.ts';

/** A name an expression or code may read from around its step. */
export interface Readable {
  readonly name: string;
  readonly detail: string;
}

export interface Offers {
  /** The part of the text that an offer takes the place of. */
  readonly from: number;
  readonly to: number;
  readonly offers: readonly Readable[];
}

/** Offered at once: what does not come by then is quicker written on. */
const MOST = 8;

const GIVEN: readonly Readable[] = [
  ...INPUT_NAMES.map((name) => ({ name, detail: declarationOf(name).type })),
  ...[...OPERATORS.values()]
    .filter(({ name }) => name !== 'value' && name !== 'code')
    .map(({ name }) => ({ name: `${name}(`, detail: 'operator' })),
  // What else GLSL ES 3.00 has; names of before are known and not offered.
  ...CALLED_NAMES.filter((name) => !OPERATORS.has(name) && !name.startsWith('texture2D')).map((name) => ({
    name: `${name}(`,
    detail: 'GLSL',
  })),
];

/**
 * Names that go on from what stands before the caret: strands and parameters first, then what a shader is given and
 * operators and what else GLSL has; those that begin so before those that have it in them.
 * @returns null where no name is being written
 */
export const completeName = (text: string, caret: number, around: readonly Readable[]): Offers | null => {
  const word = /[A-Za-z_]\w*$/.exec(text.slice(0, caret))?.[0];
  if (!word) return null;
  const from = caret - word.length;
  // A component, or a number's exponent.
  if (/[.\d]/.test(text.charAt(from - 1))) return null;
  const to = caret + /^\w*\(?/.exec(text.slice(caret))![0].length;
  const wanted = word.toLowerCase();
  const all = [...around, ...GIVEN];
  const begins = all.filter((each) => each.name.toLowerCase().startsWith(wanted));
  const within = all.filter((each) => each.name.toLowerCase().indexOf(wanted) > 0);
  const offers = [...begins, ...within].filter((each) => each.name !== text.slice(from, to)).slice(0, MOST);
  return offers.length ? { from, to, offers } : null;
};
