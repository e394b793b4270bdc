import type { Builder } from '../../program/builder.ts';
import type { Value } from '../../program/value.ts';
import { childrenOf, type Expression } from '../syntax.ts';
import type { CodeValue } from './codeValue.ts';
import type { State } from './flow.ts';
import type { FunctionSource, Statement, TypeName } from './syntax.ts';

/** What surrounds a function: names from outside, constants beside it, and the functions it may call. */
export interface Surroundings {
  readonly outside: (name: string) => CodeValue | null;
  readonly names: () => Iterable<string>;
  readonly constant: (name: string) => { readonly type: TypeName; readonly value: Expression | null } | null;
  /** The functions of a name that another may call: several where it is overloaded. */
  readonly functionsOf: (name: string, caller: FunctionSource) => readonly FunctionSource[];
  /** Calls a function of the module as one of the program, or gives null where it has to be written out. */
  readonly callWhole: (b: Builder, fn: FunctionSource, args: readonly CodeValue[]) => CodeValue | null;
  /** Folds a function of the module: state = f(i, state, …) for i from 0, or gives null as above. */
  readonly foldWhole: (
    b: Builder,
    fn: FunctionSource,
    count: Value,
    args: readonly CodeValue[],
  ) => CodeValue | null;
}

export interface Variable {
  readonly key: number;
  readonly type: string;
  readonly isConst: boolean;
}
/** Names that are known at a place, innermost block last. */
export type ScopeChain = readonly Map<string, Variable>[];

/** What runs code through a builder, for its parts to call on one another. */
export interface Runner {
  readonly b: Builder;
  readonly around: Surroundings;
  readonly evaluate: (e: Expression, state: State, scope: ScopeChain) => CodeValue;
  /** Puts a value where an expression names a place, and gives it back. */
  readonly assign: (target: Expression, value: CodeValue, state: State, scope: ScopeChain) => CodeValue;
  readonly run: (statement: Statement, state: State, scope: ScopeChain) => void;
  readonly runAll: (statements: readonly Statement[], state: State, scope: ScopeChain) => void;
}

/** True where evaluating an expression changes a variable. */
export const hasEffects = (e: Expression): boolean =>
  e.kind === 'assignment' ||
  e.kind === 'postfix' ||
  (e.kind === 'unary' && (e.sign === '++' || e.sign === '--')) ||
  childrenOf(e).some(hasEffects);
