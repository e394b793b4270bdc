import { BUDGET_FIGURE_NAMES, BUDGET_FIGURES, FIRST_BUDGETS } from '../document/budgets.ts';
import { CHECKS } from './findAll.ts';

const row = (...cells: readonly (string | number)[]): string => `| ${cells.join(' | ')} |`;

/** The page on what is checked, as Markdown. */
export const checksPage = (): string =>
  `# Checks, guarantees and cost

Made from the code by \`npm run docs\`.

## Checks

What the **Checks** tab and \`veil check\` look for: in the program itself, by what its values lie between with every parameter
anywhere in its range; and by measuring it over the props that wear it, with its parameters as they stand, at each end of their ranges,
and two and a half seconds later. What is narrower than the points measured lie apart is missed. A check that is answered is silent at
that place, and the answer is kept with the document.

${[
  row('check', 'finds', 'why it matters'),
  row('---', '---', '---'),
  ...CHECKS.map(({ name, title, why }) => row(`\`${name}\``, title, why)),
].join('\n')}

## Guarantees

Statements kept with a shader, measured again with every change, by \`veil check\` too, where one that does not hold ends with 1.

${[
  row('kind', 'holds where'),
  row('---', '---'),
  row(
    '`shows`',
    'nothing, or all, of a prop shows with a parameter at a number, or at a time; by opacity, or by a strand',
  ),
  row('`within`', 'a strand’s numbers stay between two, with every parameter at each end of its range'),
  row('`numbers`', 'no step that the surface reads is without end or not a number'),
  row('`cost`', 'no figure is above that of a budget'),
  row('`tiles`', 'a strand is the same, to a step of eight bits, on opposite edges of uv'),
].join('\n')}

What reads the scene behind a surface or distances cannot be measured outside the picture: such a guarantee holds only where it holds
whatever is read, and else is told as not measured.

## Cost

Counted in the source that is handed over. Operations are additions of the worst way through a pixel, dearer functions as several; a lit
surface's light is estimated by its source, for four lights. What stands in a step's place that another has computed before costs nothing
there.

Under the table the workshop tells how often the stage draws a pixel as it stands, one prop over another: on the mean of those that
are covered, and at most. What lies behind an opaque surface that is drawn before it is not drawn, as on the graphics card.

${[
  row('figure', 'counts', ...FIRST_BUDGETS.map(({ name }) => name)),
  row('---', '---', ...FIRST_BUDGETS.map(() => '---:')),
  ...BUDGET_FIGURE_NAMES.map((figure) =>
    row(
      BUDGET_FIGURES[figure].label,
      BUDGET_FIGURES[figure].told,
      ...FIRST_BUDGETS.map((each) => each[figure]),
    ),
  ),
].join('\n')}

The three budgets are what a project begins with; names and numbers are the author's.
`;
