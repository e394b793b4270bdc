import type { Peephole } from '../builder.ts';
import type { Program } from '../value.ts';
import { foldConstants } from './foldConstants.ts';
import { rewrite } from './rewrite.ts';
import { simplify } from './simplify.ts';

/** Computes constants and leaves out idle work while a program is built. */
export const peephole: Peephole = (b, op, type, inputs, payload) =>
  foldConstants(b, op, type, inputs, payload) ?? simplify(b, op, type, inputs, payload);

/** The same program with less to do: constants computed, idle work removed, unused values left behind. */
export const optimise = (program: Program): Program => rewrite(program, peephole);
