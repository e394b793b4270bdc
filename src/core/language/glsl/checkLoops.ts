import { fail } from '../mistake.ts';
import type { Expression } from '../syntax.ts';
import { MOST_ROUNDS } from './limits.ts';
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

/** How much a counter moves with each round, where that is written as a number. */
const movesBy = (step: Expression): number | null => {
  if (step.kind === 'postfix' || (step.kind === 'unary' && (step.sign === '++' || step.sign === '--')))
    return step.sign === '++' ? 1 : -1;
  if (step.kind !== 'assignment' || (step.sign !== '+=' && step.sign !== '-=')) return null;
  const by = literal(step.value);
  return by === null ? null : step.sign === '+=' ? by : -by;
};

/** How often for (i = a; i < b; i += c) goes round, where all three are written as numbers; never ending is Infinity. */
const roundsOf = ({ init, condition, step }: Loop): number | null => {
  if (init?.kind !== 'declaration' || condition?.kind !== 'binary' || !step) return null;
  const counter = init.names[0]?.name;
  if (condition.left.kind !== 'name' || condition.left.name !== counter) return null;
  const [from, to, by] = [literal(init.names[0]?.value), literal(condition.right), movesBy(step)];
  if (from === null || to === null || by === null) return null;
  const apart = to - from;
  switch (condition.sign) {
    case '<':
    case '<=':
      if (apart < 0 || (apart === 0 && condition.sign === '<')) return 0;
      return by > 0 ? Math.floor(apart / by) + Number(condition.sign === '<=' || apart % by !== 0) : Infinity;
    case '>':
    case '>=':
      if (apart > 0 || (apart === 0 && condition.sign === '>')) return 0;
      return by < 0 ? Math.floor(apart / by) + Number(condition.sign === '>=' || apart % by !== 0) : Infinity;
    case '!=':
      return apart === 0 ? 0 : by !== 0 && apart % by === 0 && apart / by > 0 ? apart / by : Infinity;
    default:
      return null;
  }
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
      const written = roundsOf(statement);
      const endless =
        condition === null || (condition.kind === 'literal' && condition.value !== 0) || written === Infinity;
      if (endless && !leaves(statement.body))
        fail(statement, 'This loop never ends; a shader would hang in it.');
      const rounds = written === null || written === Infinity ? 1 : written;
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
