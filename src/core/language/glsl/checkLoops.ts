import { fail } from '../mistake.ts';
import type { Expression } from '../syntax.ts';
import { MOST_ROUNDS } from './runLoop.ts';
import type { FunctionSource, Loop, Statement } from './syntax.ts';

/** Rounds that loops inside loops may come to together, in code that runs as it is written. */
const MOST_TOGETHER = 1_048_576;

const leaves = (statement: Statement): boolean => {
  switch (statement.kind) {
    case 'break':
    case 'return':
    case 'discard':
      return true;
    case 'block':
      return statement.body.some(leaves);
    case 'if':
      return leaves(statement.yes) || (statement.no !== null && leaves(statement.no));
    case 'loop':
      return leaves(statement.body);
    case 'switch':
      return statement.sections.some(({ body }) => body.some(leaves));
    default:
      return false;
  }
};

const literal = (e: Expression | null | undefined): number | null =>
  e?.kind === 'literal' && e.type !== 'bool'
    ? e.value
    : e?.kind === 'unary' && e.sign === '-' && e.operand.kind === 'literal'
      ? -e.operand.value
      : null;

/** How often for (i = a; i < b; i += c) goes round, where all three are written as numbers. */
const roundsOf = ({ init, condition, step }: Loop): number | null => {
  if (init?.kind !== 'declaration' || condition?.kind !== 'binary' || !step) return null;
  const [from, to] = [literal(init.names[0]?.value), literal(condition.right)];
  if (from === null || to === null || !['<', '<=', '>', '>='].includes(condition.sign)) return null;
  const by =
    step.kind === 'postfix' || (step.kind === 'unary' && (step.sign === '++' || step.sign === '--'))
      ? 1
      : step.kind === 'assignment' && (step.sign === '+=' || step.sign === '-=')
        ? Math.abs(literal(step.value) ?? 0)
        : 0;
  return by > 0 ? Math.ceil(Math.abs(to - from) / by) : null;
};

const check = (statement: Statement, outer: number): void => {
  switch (statement.kind) {
    case 'block':
      return statement.body.forEach((each) => check(each, outer));
    case 'if':
      check(statement.yes, outer);
      return statement.no ? check(statement.no, outer) : undefined;
    case 'switch':
      return statement.sections.forEach(({ body }) => body.forEach((each) => check(each, outer)));
    case 'loop': {
      const { condition } = statement;
      const endless = condition === null || (condition.kind === 'literal' && condition.value !== 0);
      if (endless && !leaves(statement.body))
        fail(statement, 'This loop never ends; a shader would hang in it.');
      const rounds = roundsOf(statement) ?? 1;
      if (rounds > MOST_ROUNDS)
        fail(statement, `This loop goes round ${rounds} times; at most ${MOST_ROUNDS} are allowed.`);
      if (rounds * outer > MOST_TOGETHER)
        fail(
          statement,
          `Loops inside loops go round ${rounds * outer} times here; at most ${MOST_TOGETHER} are allowed.`,
        );
      return check(statement.body, outer * rounds);
    }
  }
};

/** Refuses loops that would hang a graphics card. @throws SourceError */
export const checkLoops = (source: FunctionSource): void => source.body.forEach((each) => check(each, 1));
