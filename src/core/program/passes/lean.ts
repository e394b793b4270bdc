import type { Leaner } from '../builder.ts';
import type { Program } from '../value.ts';
import { fold } from './fold.ts';
import { rewrite } from './rewrite.ts';
import { simplify } from './simplify.ts';

/** Computes constants and leaves out idle work while a program is built. */
export const leaner: Leaner = (b, op, type, inputs, payload) =>
  fold(b, op, type, inputs, payload) ?? simplify(b, op, type, inputs, payload);

/** The same program with less to do: constants computed, idle work removed, unused values left behind. */
export const lean = (program: Program): Program => rewrite(program, leaner);
