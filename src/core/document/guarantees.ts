import { id, list, number, object, oneOf, optional, text, told, type Read } from './fields.ts';
import type { Reader } from './read.ts';
import type { Score } from './score.ts';

export const GUARANTEE_KINDS = ['shows', 'within', 'numbers', 'cost', 'tiles'] as const;

const guarantee = object({
  id,
  kind: told(
    oneOf(GUARANTEE_KINDS),
    'shows: nothing or all of it shows; within: a strand’s numbers; numbers: nothing is not a number; cost: within a budget; tiles: a strand is the same on opposite edges of uv.',
  ),
  shows: optional(told(oneOf(['nothing', 'all']), 'Of shows.')),
  parameter: optional(
    told(id, 'Of shows: the parameter that stands at `at`, by its id; the time, where none is told.'),
  ),
  at: optional(told(number, 'Of shows: what the parameter stands at, or the time in seconds.')),
  strand: optional(
    told(id, 'Of within, tiles and shows: the strand; of shows, the surface’s opacity where it is not told.'),
  ),
  low: optional(told(number, 'Of within.')),
  high: optional(told(number, 'Of within.')),
  budget: optional(told(text(40), 'Of cost: the budget’s name.')),
});
/** A statement about a shader that is checked by measurement. */
export type Guarantee = Read<typeof guarantee>;
export const MOST_GUARANTEES = 32;
export const guarantees = told(
  list(guarantee, MOST_GUARANTEES),
  'Statements that are checked by measurement.',
);

/** Says what of a guarantee is not told, or null. */
export const guaranteeProblem = ({
  kind,
  shows,
  at,
  strand,
  low,
  high,
  budget,
}: Guarantee): string | null => {
  if (kind === 'shows' && (!shows || at === undefined)) return 'It does not say what shows, or at what.';
  if ((kind === 'within' || kind === 'tiles') && strand === undefined)
    return 'It does not say of which strand.';
  if (kind === 'within' && (low === undefined || high === undefined || !(low <= high)))
    return 'It does not say between which numbers, the lesser first.';
  if (kind === 'cost' && !budget) return 'It does not say which budget.';
  return null;
};

export const checkGuarantees = (r: Reader, list: readonly Guarantee[]): void => {
  list.forEach((each, i) => {
    const problem = guaranteeProblem(each);
    if (problem) r.problem(`guarantees[${i}]`, problem);
    if (list.findIndex((other) => other.id === each.id) !== i)
      r.problem(`guarantees[${i}].id`, `Two guarantees have the id “${each.id}”.`);
  });
};

const figure = (x: number | undefined): string => String(x ?? '?').replace('-', '−');
/** A guarantee as a sentence. */
export const guaranteeSentence = (each: Guarantee, score: Score): string => {
  const strand = score.strands.find(({ id: at }) => at === each.strand)?.name ?? each.strand ?? '';
  switch (each.kind) {
    case 'shows': {
      const parameter = score.parameters.find(({ id: at }) => at === each.parameter)?.name ?? each.parameter;
      const when = parameter ? `at ${parameter} = ${figure(each.at)}` : `at ${figure(each.at)} s`;
      const what = each.shows === 'nothing' ? 'nothing' : 'all of it';
      return `${when} ${what} shows${each.strand ? `, by ${strand}` : ''}`;
    }
    case 'within':
      return `${strand} stays within ${figure(each.low)} and ${figure(each.high)}`;
    case 'numbers':
      return 'everything is a number';
    case 'cost':
      return `costs no more than the ${each.budget} budget`;
    case 'tiles':
      return `${strand} tiles without a seam`;
  }
};
