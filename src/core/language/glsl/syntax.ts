import type { Span } from '../mistake.ts';
import type { Expression } from '../syntax.ts';

/** The brackets that make an array, and the length in them where one is written. */
export interface Brackets {
  readonly length: Expression | null;
}

/** A type as written: its name, and its brackets where it is an array. */
export interface TypeName extends Span {
  readonly name: string;
  readonly brackets: Brackets | null;
}

export interface Declared extends Span {
  readonly name: string;
  readonly brackets: Brackets | null;
  readonly value: Expression | null;
}

export interface Declaration extends Span {
  readonly kind: 'declaration';
  readonly isConst: boolean;
  readonly type: TypeName;
  readonly names: readonly Declared[];
}

/** GLSL ES 3.00 statements (grammar: specification, section 9), each with the stretch of source it came from. */
export type Statement =
  | Declaration
  | (Span & { readonly kind: 'expression'; readonly expression: Expression })
  | (Span & { readonly kind: 'block'; readonly body: readonly Statement[] })
  | (Span & {
      readonly kind: 'if';
      readonly condition: Expression;
      readonly yes: Statement;
      readonly no: Statement | null;
    })
  | Loop
  | Switch
  | (Span & { readonly kind: 'return'; readonly value: Expression | null })
  | (Span & { readonly kind: 'break' | 'continue' | 'discard' | 'empty' });

export interface Switch extends Span {
  readonly kind: 'switch';
  readonly selector: Expression;
  readonly sections: readonly SwitchSection[];
}

/** What stands below one or more labels, to the next label; `default` is null. */
export interface SwitchSection {
  readonly labels: readonly (Expression | null)[];
  readonly body: readonly Statement[];
}

export interface Loop extends Span {
  readonly kind: 'loop';
  readonly init: Statement | null;
  readonly condition: Expression | null;
  readonly step: Expression | null;
  readonly body: Statement;
  /** True for do … while: the condition is asked after the body. */
  readonly bodyFirst: boolean;
}

export interface FunctionParameter extends Span {
  readonly way: 'in' | 'out' | 'inout';
  readonly type: TypeName;
  readonly name: string;
  readonly brackets: Brackets | null;
}

export interface FunctionSource extends Span {
  readonly name: string;
  readonly nameAt: Span;
  readonly returns: TypeName;
  readonly parameters: readonly FunctionParameter[];
  /** Where the brackets of the parameters close: what is lifted in goes before it. */
  readonly parametersEnd: number;
  readonly body: readonly Statement[];
  /** From brace to brace. */
  readonly bodyAt: Span;
}

export interface Global extends Span {
  /** `const`, `uniform`, `in`, `out`, `attribute`, `varying`, `layout(…)`, precision… */
  readonly qualifiers: readonly string[];
  readonly type: TypeName;
  readonly names: readonly Declared[];
}

export interface Structure extends Span {
  readonly name: string;
  readonly fields: readonly {
    readonly name: string;
    readonly type: TypeName;
    readonly brackets: Brackets | null;
  }[];
  /** From brace to brace. */
  readonly fieldsAt: Span;
}

/** A whole source: functions, what is declared beside them, and structures. */
export interface Module {
  readonly functions: readonly FunctionSource[];
  readonly globals: readonly Global[];
  readonly structs: readonly Structure[];
}
