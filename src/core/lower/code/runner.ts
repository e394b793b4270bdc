import type { Builder } from '../../program/builder.ts';
import type { Value } from '../../program/value.ts';
import { childrenOf, type Expression } from '../../language/syntax.ts';
import type { GlslValue } from '../expression/glslValue.ts';
import type { State } from './flow.ts';
import type { GlobalName } from '../../language/glsl/analyseModule.ts';
import type { FunctionSource, Statement, Structure } from '../../language/glsl/syntax.ts';

/** What surrounds a function: names from outside, what is declared beside it, and the functions it may call. */
export interface Surroundings {
  readonly outside: (name: string) => GlslValue | null;
  readonly names: () => Iterable<string>;
  readonly globals: ReadonlyMap<string, GlobalName>;
  /** Those that the function or its callees touch, in the order they are declared. */
  readonly globalsOf: (fn: FunctionSource) => readonly GlobalName[];
  readonly structure: (name: string) => Structure | undefined;
  /** True where a call changes something: what it is handed, or a variable beside the functions. */
  readonly changes: (fn: FunctionSource) => boolean;
  /** The functions of a name that another may call: several where it is overloaded. */
  readonly functionsOf: (name: string, caller: FunctionSource) => readonly FunctionSource[];
  /** Calls a function of the module as one of the program, or gives null where it has to be written out. */
  readonly callAsFunction: (b: Builder, fn: FunctionSource, args: readonly GlslValue[]) => GlslValue | null;
  /** Folds a function of the module: state = f(i, state, …) for i from 0, or gives null as above. */
  readonly iterateAsFunction: (
    b: Builder,
    fn: FunctionSource,
    count: Value,
    args: readonly GlslValue[],
  ) => GlslValue | null;
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
  readonly find: (scope: ScopeChain, name: string) => Variable | undefined;
  /** True where evaluating an expression changes a variable. */
  readonly hasEffects: (e: Expression, state: State) => boolean;
  readonly declare: (
    state: State,
    scope: ScopeChain,
    name: string,
    value: GlslValue,
    isConst: boolean,
  ) => void;
  readonly evaluate: (e: Expression, state: State, scope: ScopeChain) => GlslValue;
  readonly run: (statement: Statement, state: State, scope: ScopeChain) => void;
  readonly runAll: (statements: readonly Statement[], state: State, scope: ScopeChain) => void;
}

/** True where evaluating an expression changes a variable, of itself or by a call. */
export const hasEffects = (e: Expression, changes: (callee: string) => boolean): boolean =>
  e.kind === 'assignment' ||
  e.kind === 'postfix' ||
  (e.kind === 'unary' && (e.sign === '++' || e.sign === '--')) ||
  (e.kind === 'call' && changes(e.callee)) ||
  childrenOf(e).some((each) => hasEffects(each, changes));
