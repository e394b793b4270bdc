import { BUDGET_FIGURE_NAMES, BUDGET_FIGURES } from '../../document/budgets.ts';
import type { Check, Found } from '../scene.ts';

export const overBudget: Check = {
  name: 'over-budget',
  title: 'Over the budget',
  why: 'What one shader takes is missing for the rest of the frame.',
  of: 'shader',
  look: ({ subjects, budget }) =>
    subjects.flatMap(({ shader, cost }): Found[] => {
      const over = BUDGET_FIGURE_NAMES.filter((figure) => cost[figure] > budget[figure]);
      return over.length
        ? [
            {
              ...{ part: shader.id, place: { kind: 'part' } },
              message: `${shader.name} comes to ${over.map((figure) => `${cost[figure]} ${BUDGET_FIGURES[figure].label}, where the ${budget.name} budget has ${budget[figure]}`).join('; ')}.`,
            },
          ]
        : [];
    }),
};
