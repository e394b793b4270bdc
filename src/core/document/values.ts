import { list, mapOf, number, type Field } from './fields.ts';
import type { ParameterValue } from './parameterKinds.ts';

/** A value holds at most this many numbers: a curve of the most keys. */
export const MOST_NUMBERS = 4096;

/** What parameters stand at, by their names. */
export const values: Field<Readonly<Record<string, ParameterValue>>> = mapOf(list(number, MOST_NUMBERS));
