import { parseExpression } from './parseExpression.ts';
import type { Expression } from './syntax.ts';

const compute = (e: Expression): number | null => {
  if (e.kind === 'literal') return e.type === 'bool' ? null : e.value;
  if (e.kind === 'unary') {
    const x = compute(e.operand);
    return x === null ? null : e.sign === '-' ? -x : e.sign === '+' ? x : null;
  }
  if (e.kind !== 'binary') return null;
  const [x, y] = [compute(e.left), compute(e.right)];
  if (x === null || y === null) return null;
  switch (e.sign) {
    case '+':
      return x + y;
    case '-':
      return x - y;
    case '*':
      return x * y;
    case '/':
      return x / y;
    default:
      return null;
  }
};

/**
 * Reads what is typed into a number field: a number, or sums on numbers, where 3/8 is 0.375.
 * @returns the finite number, or null when the text is something else
 */
export const readArithmetic = (text: string): number | null => {
  const { expression } = parseExpression(text.replace(/−/g, '-').replace(/,/g, '.'));
  const x = expression ? compute(expression) : null;
  return x !== null && Number.isFinite(x) ? x : null;
};
