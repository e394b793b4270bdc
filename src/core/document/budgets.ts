import { list, number, object, text, told, type Field, type Read } from './fields.ts';

/** What a budget counts, in the words of whoever reads it. */
export const BUDGET_FIGURES = {
  operations: { label: 'operations', told: 'a pixel, in additions' },
  textureReads: { label: 'texture reads', told: 'a pixel' },
  varyings: { label: 'varyings', told: 'handed on from corner to pixel' },
  uniformVectors: { label: 'uniform vectors', told: 'set from outside' },
  passes: { label: 'passes', told: 'drawings of the scene it asks for, its own among them' },
} as const;
export type BudgetFigure = keyof typeof BUDGET_FIGURES;
export const BUDGET_FIGURE_NAMES = Object.keys(BUDGET_FIGURES) as readonly BudgetFigure[];

const most = (figure: BudgetFigure): Field<number> =>
  told(number, `The most ${BUDGET_FIGURES[figure].label} (${BUDGET_FIGURES[figure].told}); above 0.`);

export const budget = object({
  name: text(40),
  operations: most('operations'),
  textureReads: most('textureReads'),
  varyings: most('varyings'),
  uniformVectors: most('uniformVectors'),
  passes: most('passes'),
});
/** The most that a shader should come to, on some kind of machine. */
export type Budget = Read<typeof budget>;
export const MOST_BUDGETS = 8;
export const budgets = list(budget, MOST_BUDGETS);

/** What a project begins with: orders of magnitude, for its authors to set right for the machines they have. */
export const FIRST_BUDGETS: readonly Budget[] = [
  { name: 'phone', operations: 2400, textureReads: 8, varyings: 8, uniformVectors: 64, passes: 3 },
  { name: 'handheld', operations: 6000, textureReads: 16, varyings: 12, uniformVectors: 128, passes: 4 },
  { name: 'desktop', operations: 20000, textureReads: 48, varyings: 16, uniformVectors: 224, passes: 6 },
];

/** Says what is wrong with a list of budgets, by the place of each; null where nothing is. */
export const budgetProblem = (
  list: readonly Budget[],
): { readonly at: number; readonly why: string } | null => {
  for (const [at, each] of list.entries()) {
    if (!each.name.trim()) return { at, why: 'A budget needs a name.' };
    if (list.findIndex(({ name }) => name === each.name) !== at)
      return { at, why: `Two budgets are called “${each.name}”.` };
    const figure = BUDGET_FIGURE_NAMES.find((name) => !(each[name] > 0 && Number.isFinite(each[name])));
    if (figure)
      return {
        at,
        why: `The most ${BUDGET_FIGURES[figure].label} should be above 0, and is ${each[figure]}.`,
      };
  }
  return null;
};
