import type { Span } from './mistake.ts';

/** GLSL ES 3.00 expressions (grammar: specification, section 9), each with the stretch of source it came from. */
export type Expression =
  Literal | Name | Member | Index | Call | Unary | Postfix | Binary | Conditional | Assignment | Sequence;

export interface Literal extends Span {
  readonly kind: 'literal';
  readonly type: 'float' | 'int' | 'uint' | 'bool';
  readonly value: number;
}
export interface Name extends Span {
  readonly kind: 'name';
  readonly name: string;
}
/** `object.member`: a swizzle, or a field where there are structures. */
export interface Member extends Span {
  readonly kind: 'member';
  readonly object: Expression;
  readonly member: string;
  readonly memberAt: Span;
}
export interface Index extends Span {
  readonly kind: 'index';
  readonly object: Expression;
  readonly index: Expression;
}
export interface Call extends Span {
  readonly kind: 'call';
  readonly callee: string;
  readonly calleeAt: Span;
  readonly args: readonly Expression[];
}
export interface Unary extends Span {
  readonly kind: 'unary';
  readonly sign: '+' | '-' | '!' | '~' | '++' | '--';
  readonly operand: Expression;
}
export interface Postfix extends Span {
  readonly kind: 'postfix';
  readonly sign: '++' | '--';
  readonly operand: Expression;
}
export interface Binary extends Span {
  readonly kind: 'binary';
  readonly sign: string;
  readonly left: Expression;
  readonly right: Expression;
}
export interface Conditional extends Span {
  readonly kind: 'conditional';
  readonly condition: Expression;
  readonly yes: Expression;
  readonly no: Expression;
}
export interface Assignment extends Span {
  readonly kind: 'assignment';
  readonly sign: string;
  readonly target: Expression;
  readonly value: Expression;
}
export interface Sequence extends Span {
  readonly kind: 'sequence';
  readonly first: Expression;
  readonly second: Expression;
}

/** How tightly each infix sign binds, larger tighter; all group from the left. */
export const BINDS: Readonly<Record<string, number>> = {
  '*': 13,
  '/': 13,
  '%': 13,
  '+': 12,
  '-': 12,
  '<<': 11,
  '>>': 11,
  '<': 10,
  '>': 10,
  '<=': 10,
  '>=': 10,
  '==': 9,
  '!=': 9,
  '&': 8,
  '^': 7,
  '|': 6,
  '&&': 5,
  '^^': 4,
  '||': 3,
};

export const ASSIGNS: ReadonlySet<string> = new Set([
  ...['=', '+=', '-=', '*=', '/=', '%='],
  ...['<<=', '>>=', '&=', '^=', '|='],
]);

/** The parts of an expression, left to right. */
export const childrenOf = (e: Expression): readonly Expression[] => {
  switch (e.kind) {
    case 'literal':
    case 'name':
      return [];
    case 'member':
      return [e.object];
    case 'index':
      return [e.object, e.index];
    case 'call':
      return e.args;
    case 'unary':
    case 'postfix':
      return [e.operand];
    case 'binary':
      return [e.left, e.right];
    case 'conditional':
      return [e.condition, e.yes, e.no];
    case 'assignment':
      return [e.target, e.value];
    case 'sequence':
      return [e.first, e.second];
  }
};

/** Every name an expression reads, calls left out, in order of appearance. */
export const namesIn = (e: Expression): Name[] => (e.kind === 'name' ? [e] : childrenOf(e).flatMap(namesIn));
