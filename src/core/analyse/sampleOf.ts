import type { Value } from '../program/value.ts';

/** The texture parameter that a value samples; null where it is no such read. */
export const sampleOf = ({ op, inputs }: Value): string | null =>
  op.startsWith('texture') && inputs.length > 1 && inputs[0]!.op === 'parameter'
    ? (inputs[0]!.payload as string)
    : null;
