import type { Type } from '../types.ts';
import type { Value } from '../value.ts';

/** What an operation is, apart from its place in a program. */
export interface Operation {
  readonly op: Value['op'];
  readonly type: Type;
  readonly inputs: readonly { readonly type: Type }[];
  readonly payload: Value['payload'];
}
