import { evaluateConstant } from '../../emit/columns/interpret.ts';
import type { Value } from '../value.ts';
import { copy, type Visit } from './rewrite.ts';

/** Ops that are worth keeping as written even on constants: they name things, or cost nothing. */
const kept: ReadonlySet<Value['op']> = new Set([
  'constant',
  'texture',
  'dFdx',
  'dFdy',
  'fwidth',
  'call',
  'iterate',
]);

/** Computes what depends on constants alone, with the reference evaluator. */
export const fold: Visit = (b, value, inputs) => {
  if (
    kept.has(value.op) ||
    value.type === 'sampler2D' ||
    !inputs.length ||
    inputs.some((input) => input.op !== 'constant')
  )
    return copy(b, value, inputs);
  return b.constant(value.type, evaluateConstant(copy(b, value, inputs)));
};
