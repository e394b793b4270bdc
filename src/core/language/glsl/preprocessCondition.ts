import { fail, SourceError, type Span } from '../mistake.ts';
import { parseExpression } from '../parseExpression.ts';
import type { Expression } from '../syntax.ts';
import type { Macro } from './macro.ts';

const BINARY: Readonly<Record<string, (x: number, y: number) => number>> = {
  '*': (x, y) => Math.imul(x, y),
  '/': (x, y) => (y ? Math.trunc(x / y) : NaN),
  '%': (x, y) => (y ? x % y : NaN),
  '+': (x, y) => x + y,
  '-': (x, y) => x - y,
  '<<': (x, y) => x << y,
  '>>': (x, y) => x >> y,
  '<': (x, y) => Number(x < y),
  '>': (x, y) => Number(x > y),
  '<=': (x, y) => Number(x <= y),
  '>=': (x, y) => Number(x >= y),
  '==': (x, y) => Number(x === y),
  '!=': (x, y) => Number(x !== y),
  '&': (x, y) => x & y,
  '^': (x, y) => x ^ y,
  '|': (x, y) => x | y,
  '&&': (x, y) => Number(x !== 0 && y !== 0),
  '||': (x, y) => Number(x !== 0 || y !== 0),
};

const compute = (e: Expression, at: Span): number => {
  switch (e.kind) {
    case 'literal':
      return e.value;
    case 'name':
      // As in C, a name that nothing defines is 0 here: drivers differ, and people rely on it.
      return 0;
    case 'unary': {
      const x = compute(e.operand, at);
      return e.sign === '-' ? -x : e.sign === '!' ? Number(x === 0) : e.sign === '~' ? ~x : x;
    }
    case 'binary': {
      const work = BINARY[e.sign];
      if (work) return work(compute(e.left, at), compute(e.right, at));
    }
  }
  return fail(at, 'After #if whole numbers, defined(NAME) and signs between them may stand.');
};

/** Works out what stands after #if. @throws SourceError */
export const evaluateCondition = (
  text: string,
  macros: ReadonlyMap<string, Macro>,
  expand: (line: string) => string,
  at: Span,
): number => {
  const plain = text
    .replace(/\/\/.*$|\/\*.*?\*\//gs, ' ')
    .replace(/\bdefined\s*(?:\(\s*(\w+)\s*\)|(\w+))/g, (_, inside: string, bare: string) =>
      macros.has(inside ?? bare) ? '1' : '0',
    );
  const { expression, mistake } = parseExpression(expand(plain).trim());
  if (!expression)
    throw new SourceError({ ...at, message: `What stands after #if cannot be read: ${mistake.message}` });
  return compute(expression, at);
};
