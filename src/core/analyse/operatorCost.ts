import { OPERATORS } from '../operators/catalogue.ts';
import { createBuilder } from '../program/builder.ts';
import { reachable } from '../program/value.ts';
import type { Type } from '../program/types.ts';
import { costOfValues, type Cost } from './cost.ts';

const known = new Map<string, Cost>();

/** What an operator comes to in each pixel, on single numbers and at its first choices. */
export const costOf = (name: string): Cost => {
  const before = known.get(name);
  if (before) return before;
  const operator = OPERATORS.get(name)!;
  const b = createBuilder();
  const inputs = Object.entries(operator.inputs);
  const given = inputs.flatMap(([key, { type }], i) =>
    type === 'choice' ? [] : [[key, b.argument(type === 'any' ? 'float' : (type as Type), i)] as const],
  );
  const chosen = inputs.flatMap(([key, { options }]) => (options ? [[key, options[0]!] as const] : []));
  const value = operator.lower(b, Object.fromEntries(given), Object.fromEntries(chosen));
  const made = costOfValues(reachable([value]));
  known.set(name, made);
  return made;
};
