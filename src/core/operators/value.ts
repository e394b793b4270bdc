import { any, operator } from './declare.ts';

/** Begins a strand with anything that can be said in an expression. */
export const value = operator({
  name: 'value',
  family: 'value',
  summary: 'Any number, name or expression: where a strand begins, or is replaced.',
  inputs: { x: any(0) },
  flow: null,
  synonyms: ['expression', 'constant', 'strand', 'formula', 'code', 'number'],
  example: 'uv.x * 2.0',
  lower: (_, { x }) => x,
});
