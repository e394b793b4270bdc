import { fail, type Span } from './mistake.ts';

export type TokenKind = 'int' | 'uint' | 'float' | 'name' | 'sign' | 'end';
export interface Token extends Span {
  readonly kind: TokenKind;
  readonly text: string;
}

const SIGNS = [
  ...['<<=', '>>='],
  ...['++', '--', '<<', '>>', '<=', '>=', '==', '!=', '&&', '||', '^^'],
  ...['+=', '-=', '*=', '/=', '%=', '&=', '|=', '^='],
  ...'()[]{};.,?:+-*/%<>=!~&|^',
];

const NUMBER =
  /(?:0[xX][0-9a-fA-F]+[uU]?)|(?:(?:\d+\.\d*|\.\d+)(?:[eE][+-]?\d+)?[fF]?)|(?:\d+[eE][+-]?\d+[fF]?)|(?:\d+[uU]?)/y;
const NAME = /[A-Za-z_][A-Za-z0-9_]*/y;
const BLANK = /(?:\s+|\/\/[^\n]*|\/\*[\s\S]*?\*\/)+/y;

/** What people type from a keyboard's or a document's habits, and what GLSL writes instead. */
const INSTEAD: Readonly<Record<string, string>> = {
  '×': '*',
  '·': '*',
  '÷': '/',
  '−': '-',
  '≤': '<=',
  '≥': '>=',
};

const match = (pattern: RegExp, text: string, at: number): string | null => {
  pattern.lastIndex = at;
  return pattern.exec(text)?.[0] ?? null;
};

/** Splits an expression into tokens. @throws SourceError at the first character GLSL has no use for. */
export const tokenize = (text: string): Token[] => {
  const tokens: Token[] = [];
  let at = 0;
  while (at < text.length) {
    at += match(BLANK, text, at)?.length ?? 0;
    if (at >= text.length) break;
    const token = readToken(text, at);
    tokens.push(token);
    at = token.to;
  }
  tokens.push({ kind: 'end', text: '', from: text.length, to: text.length });
  return tokens;
};

const readToken = (text: string, from: number): Token => {
  const number = match(NUMBER, text, from);
  if (number) return readNumber(text, number, from);
  const name = match(NAME, text, from);
  if (name) return { kind: 'name', text: name, from, to: from + name.length };
  if (text.startsWith('/*', from))
    return fail({ from, to: text.length }, 'This comment is never closed; end it with */.');
  const sign = SIGNS.find((each) => text.startsWith(each, from));
  if (sign) return { kind: 'sign', text: sign, from, to: from + sign.length };
  const letter = String.fromCodePoint(text.codePointAt(from)!);
  const instead = INSTEAD[letter];
  return fail(
    { from, to: from + letter.length },
    instead
      ? `“${letter}” is written ${instead} here.`
      : letter === '#'
        ? 'A line that begins with # stands by itself, and only in code.'
        : `“${letter}” has no meaning in GLSL; names use the letters a–z, digits and _.`,
    instead ? { label: `write ${instead}`, text: instead } : undefined,
  );
};

const isOctal = (digits: string): boolean => /^0\d+$/.test(digits);

/** The value of a number as it is written: decimal, hexadecimal, or octal where it begins with 0. */
export const valueOfNumber = (text: string): number => {
  const digits = text.replace(/^0x/i.test(text) ? /[uU]$/ : /[uUfF]$/, '');
  return isOctal(digits) ? parseInt(digits, 8) : Number(digits);
};

const readNumber = (text: string, number: string, from: number): Token => {
  const to = from + number.length;
  const tail = match(NAME, text, to);
  if (tail)
    return fail(
      { from, to: to + tail.length },
      `“${number}${tail}” is neither a number nor a name; a name cannot begin with a digit.`,
    );
  const hex = /^0x/i.test(number);
  const kind = /u$/i.test(number) ? 'uint' : !hex && /[.eEfF]/.test(number) ? 'float' : 'int';
  // A whole number that begins with 0 is octal (GLSL ES 3.00, 4.1.3).
  const wrong = isOctal(number.replace(/[uU]$/, '')) ? /[89]/.exec(number)?.[0] : undefined;
  if (wrong)
    return fail(
      { from, to },
      `${number} begins with 0, which makes it octal, and octal has no digit ${wrong}; leave the 0 out.`,
      { label: 'leave the 0 out', text: number.replace(/^0+(?=\d)/, '') },
    );
  const value = valueOfNumber(number);
  if (kind !== 'float' && value > 4294967295)
    return fail({ from, to }, `${number} does not fit in 32 bits; write it as a float: ${number}.0.`);
  if (kind === 'float' && !Number.isFinite(Math.fround(value)))
    return fail({ from, to }, `${number} is too large for a 32-bit float, whose largest is about 3.4e38.`);
  return { kind, text: number, from, to };
};
