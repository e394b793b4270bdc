import type { Program } from '../value.ts';
import { peephole } from './peephole.ts';
import { copy, rewrite } from './rewrite.ts';

/**
 * Turns every knob into the constant it stands at, and simplifies what that leaves: right for a handover, where nothing
 * is being dragged.
 */
export const freeze = (program: Program, knobs: ReadonlyMap<string, readonly number[]>): Program =>
  rewrite(program, peephole, (b, value, inputs) => {
    if (value.op !== 'knob') return copy(b, value, inputs);
    return b.constant(value.type, knobs.get(value.payload as string)!);
  });
