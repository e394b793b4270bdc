import type { Program } from '../value.ts';
import { fold } from './fold.ts';
import { rewrite } from './rewrite.ts';
import { simplify } from './simplify.ts';

/** The same program with less to do: constants computed, idle work removed, unused values left behind. */
export const lean = (program: Program): Program => rewrite(rewrite(program, fold), simplify);
