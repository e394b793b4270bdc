import { computeConstant } from '../kernels/computeConstant.ts';
import { asksTexture } from '../primitives.ts';
import type { Peephole } from '../builder.ts';
import type { Value } from '../value.ts';

/** Ops that are worth keeping as written even on constants: they name things, or cost nothing. */
const kept: ReadonlySet<Value['op']> = new Set(['constant', 'dFdx', 'dFdy', 'fwidth', 'call', 'iterate']);

/** Computes what depends on constants alone, with the reference evaluator. */
export const foldConstants: Peephole = (b, op, type, inputs, payload) =>
  !inputs.length || kept.has(op) || asksTexture(op) || inputs.some((input) => input.op !== 'constant')
    ? null
    : b.constant(
        type,
        computeConstant(
          { op, type, inputs, payload },
          inputs.map((input) => input.payload as readonly number[]),
        ),
      );
