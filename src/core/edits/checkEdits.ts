import { FIRST_BUDGETS, type Budget } from '../document/budgets.ts';
import type { Guarantee } from '../document/guarantees.ts';
import type { Edit, Patch } from '../document/patch.ts';
import type { Part, PartOf } from '../document/project.ts';
import type { Silence } from '../document/silenced.ts';
import type { PartChange } from './changeParts.ts';

/** What an author's answers are kept with. */
export type Answering = PartOf<'shader'> | PartOf<'motif'> | PartOf<'stage'>;

/** Sets a list of a document; one that holds nothing is left out. */
const setList = (
  part: string,
  body: object,
  name: string,
  list: readonly unknown[],
  told: Pick<Edit, 'label' | 'merge'>,
): Edit => {
  const patch: Patch | null = list.length
    ? { op: 'add', path: [name], value: list }
    : Object.hasOwn(body, name)
      ? { op: 'remove', path: [name] }
      : null;
  return { ...told, part, patches: patch ? [patch] : [] };
};

/** Answers what a check said of a place: it is told no more, and the note says why. */
export const silence = (part: Answering, answer: Silence): Edit =>
  setList(
    part.id,
    part.body,
    'silenced',
    [
      ...(part.body.silenced ?? []).filter((each) => each.check !== answer.check || each.at !== answer.at),
      answer,
    ],
    { label: 'Leave what a check found' },
  );

/** Has a check speak of a place again. */
export const askAgain = (part: Answering, { check, at }: Pick<Silence, 'check' | 'at'>): Edit =>
  setList(
    part.id,
    part.body,
    'silenced',
    (part.body.silenced ?? []).filter((each) => each.check !== check || each.at !== at),
    { label: 'Check it again' },
  );

const guaranteesOf = ({ body }: PartOf<'shader'>): readonly Guarantee[] => body.guarantees ?? [];

/** Puts a guarantee behind another, or at the end. */
export const addGuarantee = (shader: PartOf<'shader'>, guarantee: Guarantee, after?: string): Edit => {
  const list = [...guaranteesOf(shader)];
  const at = list.findIndex(({ id }) => id === after);
  list.splice(at < 0 ? list.length : at + 1, 0, guarantee);
  return setList(shader.id, shader.body, 'guarantees', list, { label: 'Add a guarantee' });
};
export const changeGuarantee = (shader: PartOf<'shader'>, guarantee: Guarantee): Edit =>
  setList(
    shader.id,
    shader.body,
    'guarantees',
    guaranteesOf(shader).map((each) => (each.id === guarantee.id ? guarantee : each)),
    { label: 'Change a guarantee', merge: `guarantee ${guarantee.id}` },
  );
export const removeGuarantee = (shader: PartOf<'shader'>, id: string): Edit =>
  setList(
    shader.id,
    shader.body,
    'guarantees',
    guaranteesOf(shader).filter((each) => each.id !== id),
    { label: 'Delete a guarantee' },
  );

/** The budgets a project works to. */
export const budgetsOf = (shared: PartOf<'shared'> | null): readonly Budget[] => {
  const own = shared?.body.budgets ?? [];
  return own.length ? own : FIRST_BUDGETS;
};
/** The one that is worked to first. */
export const budgetOf = (shared: PartOf<'shared'> | null): Budget => {
  const all = budgetsOf(shared);
  return all.find(({ name }) => name === shared?.body.budget) ?? all[0]!;
};
export const setBudgets = (shared: PartOf<'shared'>, list: readonly Budget[], merge?: string): Edit =>
  setList(shared.id, shared.body, 'budgets', list, {
    label: 'Change the budgets',
    ...(merge === undefined ? {} : { merge }),
  });
/** Works to another budget. */
export const workTo = (shared: PartOf<'shared'>, name: string): Edit => ({
  ...{ label: `Work to the ${name} budget`, part: shared.id },
  patches: [{ op: 'add', path: ['budget'], value: name }],
});

/** Calls a budget otherwise, for every guarantee that names it, too. */
export const renameBudget = (
  parts: readonly Part[],
  shared: PartOf<'shared'>,
  from: string,
  to: string,
): readonly PartChange[] => [
  {
    ...{ op: 'change', id: shared.id },
    patches: [
      {
        ...{ op: 'add', path: ['budgets'] },
        value: budgetsOf(shared).map((each) => (each.name === from ? { ...each, name: to } : each)),
      },
      ...(shared.body.budget === from ? [{ op: 'add' as const, path: ['budget'], value: to }] : []),
    ],
  },
  ...parts.flatMap((part): PartChange[] => {
    const list = part.kind === 'shader' ? (part.body.guarantees ?? []) : [];
    return list.some(({ budget }) => budget === from)
      ? [
          {
            ...{ op: 'change', id: part.id },
            patches: [
              {
                ...{ op: 'replace', path: ['guarantees'] },
                value: list.map((each) => (each.budget === from ? { ...each, budget: to } : each)),
              },
            ],
          },
        ]
      : [];
  }),
];
