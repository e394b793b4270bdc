import type { Type } from '../types.ts';

/** What an operation is, apart from its place in a program. */
export interface Operation {
  readonly op: string;
  readonly type: Type;
  readonly inputs: readonly { readonly type: Type }[];
  readonly payload: string | number | readonly number[] | null;
}
