import { budgetProblem, budgets } from '../budgets.ts';
import { documentKind, type DocumentOf } from '../documentKind.ts';
import { optional, standing, text, told } from '../fields.ts';
import { values } from '../values.ts';

export const shared = documentKind({
  name: 'shared',
  version: 1,
  fields: {
    values: standing(values, {}),
    budgets: optional(
      told(budgets, 'What shaders should come to at most; three of its own where none are told.'),
    ),
    budget: optional(
      told(text(40), 'The name of the budget that is worked to; the first where it is not told.'),
    ),
  },
  check: (r, { budgets: list = [] }) => {
    const problem = budgetProblem(list);
    if (problem) r.problem(`budgets[${problem.at}]`, problem.why);
  },
});
/** The one value of each shared parameter, for every shader in the project that names it, and what all of them may cost. */
export type SharedDocument = DocumentOf<typeof shared>;
