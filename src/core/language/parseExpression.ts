import { fail, SourceError, type Mistake, type Span } from './mistake.ts';
import { ASSIGNS, BINDS, type Expression, type Unary } from './syntax.ts';
import { tokenize, valueOfNumber, type Token } from './tokens.ts';

/** Limits that keep any paste from stalling the page. */
export const LONGEST_EXPRESSION = 10_000;
export const DEEPEST_EXPRESSION = 200;

export type Parsed =
  | { readonly expression: Expression; readonly mistake?: undefined }
  | { readonly expression?: undefined; readonly mistake: Mistake };

/** Expressions read before: of a thousand steps one changes between two compilings. */
const known = new Map<string, Parsed>();
const MOST_KNOWN = 8000;
/** A longer text is rarely met again as it is. */
const LONGEST_KNOWN = 400;

/**
 * Parses one GLSL ES 3.00 expression, the whole grammar: literals, names, swizzles, indices, calls and
 * constructors, unary and infix signs, ?:, assignments and sequences.
 * @returns the tree, or the first mistake with its place; never throws
 */
export const parseExpression = (text: string): Parsed => {
  const before = known.get(text);
  if (before) return before;
  const parsed = parse(text);
  if (text.length <= LONGEST_KNOWN) {
    if (known.size >= MOST_KNOWN) known.clear();
    known.set(text, parsed);
  }
  return parsed;
};

const parse = (text: string): Parsed => {
  try {
    if (text.length > LONGEST_EXPRESSION)
      fail(
        { from: 0, to: text.length },
        `This expression has ${text.length} characters; the longest allowed is ${LONGEST_EXPRESSION}.`,
      );
    return { expression: readAll(tokenize(text)) };
  } catch (error) {
    if (error instanceof SourceError) return { mistake: error.mistake };
    throw error;
  }
};

/** A place among tokens, and what can be read from there. */
export interface ExpressionReader {
  readonly peek: (ahead?: number) => Token;
  readonly next: () => Token;
  readonly isSign: (text: string) => boolean;
  readonly accept: (text: string) => boolean;
  /** @throws SourceError saying what should stand here */
  readonly expected: (what: string) => never;
  readonly close: (sign: string, opened: Span) => void;
  readonly deeper: <T>(read: () => T) => T;
  /** One expression, up to a comma. */
  readonly readAssignment: () => Expression;
  readonly readSequence: () => Expression;
  readonly readConditional: () => Expression;
}

const readAll = (tokens: readonly Token[]): Expression => {
  const { peek, isSign, expected, readSequence } = createExpressionReader(tokens);
  if (peek().kind === 'end')
    fail({ from: 0, to: 0 }, 'There is no expression here yet; write a number, a name or a formula.');
  const whole = readSequence();
  if (isSign(')') || isSign(']'))
    fail(peek(), `This bracket closes nothing; remove it or open one before it.`);
  if (peek().kind !== 'end') expected('an operator such as + or *');
  return whole;
};

/** Reads expressions from tokens, one after another: what statements are built on. */
export const createExpressionReader = (tokens: readonly Token[]): ExpressionReader => {
  let place = 0;
  let depth = 0;
  const peek = (ahead = 0) => tokens[Math.min(place + ahead, tokens.length - 1)]!;
  const next = () => tokens[place++]!;
  const isSign = (text: string) => peek().kind === 'sign' && peek().text === text;
  const accept = (text: string): boolean => isSign(text) && !!next();

  const expected = (what: string): never =>
    fail(
      peek(),
      peek().kind === 'end'
        ? `Something is missing at the end: ${what}.`
        : `Here ${what} should stand, not “${peek().text}”.`,
    );
  const close = (sign: string, opened: Span) => {
    if (accept(sign)) return;
    if (peek().kind === 'end')
      fail(opened, `This bracket is never closed; add ${sign}.`, {
        label: `add ${sign}`,
        text: sign,
        atEnd: true,
      });
    expected(`${sign} or an operator such as +`);
  };
  const deeper = <T>(read: () => T): T => {
    depth += 1;
    if (depth > DEEPEST_EXPRESSION)
      fail(
        peek(),
        `This is nested more than ${DEEPEST_EXPRESSION} deep; name a part of it as a strand of its own.`,
      );
    const result = read();
    depth -= 1;
    return result;
  };

  /** True where [ … ] ahead is followed by a bracket. */
  const arrayEnd = (): boolean => {
    let ahead = 1;
    while (peek(ahead).kind !== 'end' && peek(ahead).text !== ']') ahead += 1;
    return peek(ahead + 1).text === '(';
  };

  const readPrimary = (): Expression => {
    const token = peek();
    if (token.kind === 'int' || token.kind === 'uint' || token.kind === 'float') {
      next();
      const value = valueOfNumber(token.text);
      return { kind: 'literal', type: token.kind, value, from: token.from, to: token.to };
    }
    if (token.kind === 'name') return readName();
    if (isSign('(')) {
      const opened = next();
      const inner = deeper(readSequence);
      close(')', opened);
      return inner;
    }
    return expected('a value');
  };

  const readName = (): Expression => {
    const { text, from, to } = next();
    if (text === 'true' || text === 'false')
      return { kind: 'literal', type: 'bool', value: text === 'true' ? 1 : 0, from, to };
    // An array's constructor: float[2](…).
    const sized = isSign('[') && arrayEnd();
    if (!isSign('(') && !sized) return { kind: 'name', name: text, from, to };
    if (sized) while (!isSign('(')) next();
    const opened = next();
    const args: Expression[] = [];
    if (!isSign(')'))
      do args.push(deeper(readAssignment));
      while (accept(','));
    close(')', opened);
    return {
      kind: 'call',
      callee: sized ? `${text}[]` : text,
      calleeAt: { from, to },
      args,
      from,
      to: tokens[place - 1]!.to,
    };
  };

  const readPostfix = (): Expression => {
    let e = readPrimary();
    for (;;) {
      const at = peek();
      if (accept('.')) {
        const member = peek();
        if (member.kind !== 'name') expected('a component such as x or rgb');
        next();
        const opened = peek();
        if (member.text === 'length' && accept('(')) {
          close(')', opened);
          e = { kind: 'call', callee: '.length', calleeAt: member, args: [e], from: e.from, to: opened.to };
          continue;
        }
        e = { kind: 'member', object: e, member: member.text, memberAt: member, from: e.from, to: member.to };
      } else if (accept('[')) {
        const index = deeper(readSequence);
        close(']', at);
        e = { kind: 'index', object: e, index, from: e.from, to: tokens[place - 1]!.to };
      } else if (isSign('++') || isSign('--')) {
        const sign = next();
        e = { kind: 'postfix', sign: sign.text as '++', operand: e, from: e.from, to: sign.to };
      } else return e;
    }
  };

  const readUnary = (): Expression => {
    const token = peek();
    if (token.kind === 'sign' && ['+', '-', '!', '~', '++', '--'].includes(token.text)) {
      next();
      const operand = deeper(readUnary);
      return { kind: 'unary', sign: token.text as Unary['sign'], operand, from: token.from, to: operand.to };
    }
    return readPostfix();
  };

  const readBinary = (least: number): Expression => {
    let left = readUnary();
    for (;;) {
      const sign = peek();
      const binds = sign.kind === 'sign' ? BINDS[sign.text] : undefined;
      if (binds === undefined || binds < least) return left;
      next();
      const right = deeper(() => readBinary(binds + 1));
      left = { kind: 'binary', sign: sign.text, left, right, from: left.from, to: right.to };
    }
  };

  const readConditional = (): Expression => {
    const condition = readBinary(0);
    if (!accept('?')) return condition;
    const yes = deeper(readSequence);
    if (!accept(':')) expected('“:” and the other choice');
    const no = deeper(readAssignment);
    return { kind: 'conditional', condition, yes, no, from: condition.from, to: no.to };
  };

  const readAssignment = (): Expression => {
    const target = readConditional();
    const sign = peek();
    if (sign.kind !== 'sign' || !ASSIGNS.has(sign.text)) return target;
    next();
    const value = deeper(readAssignment);
    return { kind: 'assignment', sign: sign.text, target, value, from: target.from, to: value.to };
  };

  const readSequence = (): Expression => {
    let first = readAssignment();
    while (accept(',')) {
      const second = readAssignment();
      first = { kind: 'sequence', first, second, from: first.from, to: second.to };
    }
    return first;
  };

  return {
    ...{ peek, next, isSign, accept, expected, close, deeper },
    ...{ readAssignment, readSequence, readConditional },
  };
};
