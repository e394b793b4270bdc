import { fail, type Span } from '../mistake.ts';
import type { Macro } from './macro.ts';
import { evaluateCondition } from './preprocessCondition.ts';

/** Source with its # lines carried out, and where each stretch of it stands in what its author wrote. */
export interface Preprocessed {
  readonly text: string;
  /** A stretch of the text as a stretch of the source: what a macro became stands where it was used. */
  readonly placeIn: (span: Span) => Span;
}

/** A piece of the output, and the piece of the source it came from. */
interface Piece {
  readonly at: number;
  readonly length: number;
  readonly from: number;
  readonly to: number;
}

const HAS_DIRECTIVES = /^[ \t]*#|\b__(LINE|FILE|VERSION)__\b/m;
/** Names that are defined for every fragment (GLSL ES 3.00, 3.4). */
const GIVEN: readonly (readonly [string, string])[] = [
  ['GL_ES', '1'],
  ['GL_FRAGMENT_PRECISION_HIGH', '1'],
  ['__VERSION__', '300'],
  ['__FILE__', '0'],
];
/** How deep macros may stand in one another, and how much they may come to. */
const DEEPEST = 64;
const LONGEST = 1_000_000;

const WORD = /[A-Za-z_]\w*|\d[\w.]*|\/\/[^\n]*|\/\*[\s\S]*?(?:\*\/|$)/g;

/** The arguments of a macro's use, from its opening bracket on; null where it is never closed. */
const argumentsAt = (
  text: string,
  open: number,
): { readonly list: string[]; readonly end: number } | null => {
  const list = [''];
  let depth = 0;
  for (let at = open; at < text.length; at += 1) {
    const letter = text[at]!;
    if (letter === '(') depth += 1;
    if (letter === ')') depth -= 1;
    if (depth === 0) return { list: list.map((each) => each.trim()), end: at + 1 };
    if (letter === ',' && depth === 1) list.push('');
    else if (!(letter === '(' && depth === 1)) list[list.length - 1] += letter;
  }
  return null;
};

/** A line with its macros put in. @param hidden macros that are being put in already */
const expand = (
  text: string,
  macros: ReadonlyMap<string, Macro>,
  line: number,
  hidden: readonly string[],
  at: Span,
): string => {
  if (hidden.length > DEEPEST || text.length > LONGEST)
    return fail(at, 'The macros here come to too much, one in another.');
  let out = '';
  let last = 0;
  const words = new RegExp(WORD);
  for (let found = words.exec(text); found; found = words.exec(text)) {
    const [name] = found;
    const use = useOf(text, name, found.index, macros, line, hidden, at);
    if (!use) continue;
    out += text.slice(last, found.index) + use.text;
    last = use.end;
    words.lastIndex = use.end;
  }
  return out + text.slice(last);
};

/** What stands for a word, and where what it stands for ends; null where it is no macro. */
const useOf = (
  text: string,
  name: string,
  from: number,
  macros: ReadonlyMap<string, Macro>,
  line: number,
  hidden: readonly string[],
  at: Span,
): { readonly text: string; readonly end: number } | null => {
  if (name === '__LINE__') return { text: String(line), end: from + name.length };
  const macro = macros.get(name);
  if (!macro || hidden.includes(name)) return null;
  const end = from + name.length;
  if (!macro.parameters) return { text: expand(macro.body, macros, line, [...hidden, name], at), end };
  const open = /^\s*\(/.exec(text.slice(end));
  if (!open) return null;
  const given = argumentsAt(text, end + open[0].length - 1);
  if (!given) return fail(at, `The brackets of ${name} are never closed.`);
  const { parameters, body } = macro;
  const list = parameters.length === 0 && given.list.length === 1 && !given.list[0] ? [] : given.list;
  if (list.length !== parameters.length)
    return fail(at, `${name} takes ${parameters.length} arguments, not ${list.length}.`);
  const values = list.map((each) => expand(each, macros, line, hidden, at));
  const filled = body
    .replace(/\s*##\s*/g, '\u0000')
    .replace(/[A-Za-z_]\w*/g, (word) => {
      const place = parameters.indexOf(word);
      return place < 0 ? word : values[place]!;
    })
    .replaceAll('\u0000', '');
  return { text: expand(filled, macros, line, [...hidden, name], at), end: given.end };
};

interface Branch {
  /** True where lines are kept. */
  readonly live: boolean;
  /** True where one of the ways was taken already, or none may be. */
  readonly done: boolean;
  readonly opened: Span;
  readonly hasElse: boolean;
}

const readDefine = (rest: string, at: Span): readonly [string, Macro] => {
  const found = /^([A-Za-z_]\w*)(\(([^)]*)\))?\s*(.*)$/s.exec(rest);
  if (!found) return fail(at, 'After #define a name should stand.');
  const [, name, brackets, inside, body] = found;
  const parameters = brackets
    ? inside!
        .split(',')
        .map((each) => each.trim())
        .filter(Boolean)
    : null;
  return [name!, { parameters, body: body!.replace(/\/\/.*$|\/\*.*?\*\//gs, ' ').trim() }];
};

/**
 * Carries out what stands on # lines: definitions, conditions; versions, extensions and pragmas are left out. Lines stay
 * where they are.
 * @param defines more names that are defined
 * @throws SourceError at the line that is wrong
 */
export const preprocess = (
  source: string,
  defines: readonly (readonly [string, string])[] = [],
): Preprocessed => {
  if (!HAS_DIRECTIVES.test(source)) return { text: source, placeIn: (span) => span };
  const macros = new Map<string, Macro>(
    [...GIVEN, ...defines].map(([name, body]) => [name, { parameters: null, body }]),
  );
  const branches: Branch[] = [];
  const isLive = () => branches.every((each) => each.live);
  const pieces: Piece[] = [];
  let text = '';
  const put = (piece: string, from: number, to: number): void => {
    pieces.push({ at: text.length, length: piece.length, from, to });
    text += piece;
  };

  const direct = (word: string, rest: string, at: Span): void => {
    const truth = (): boolean =>
      evaluateCondition(rest, macros, (line) => expand(line, macros, 0, [], at), at) !== 0;
    const inner = branches.at(-1);
    switch (word) {
      case 'if':
      case 'ifdef':
      case 'ifndef': {
        const outer = isLive();
        const holds =
          outer && (word === 'if' ? truth() : macros.has(rest.trim().split(/\s/)[0]!) === (word === 'ifdef'));
        branches.push({ live: holds, done: holds || !outer, opened: at, hasElse: false });
        return;
      }
      case 'elif':
      case 'else': {
        if (!inner || inner.hasElse) return fail(at, `This #${word} belongs to no #if.`);
        branches.pop();
        const holds = !inner.done && (word === 'else' || truth());
        branches.push({ ...inner, live: holds, done: inner.done || holds, hasElse: word === 'else' });
        return;
      }
      case 'endif':
        if (!branches.pop()) fail(at, 'This #endif belongs to no #if.');
        return;
    }
    if (!isLive()) return;
    switch (word) {
      case 'define': {
        const [name, macro] = readDefine(rest.trim(), at);
        macros.set(name, macro);
        return;
      }
      case 'undef':
        macros.delete(rest.trim().split(/\s/)[0]!);
        return;
      case 'error':
        return fail(at, `The source says: ${rest.trim() || '#error'}`);
      case 'include':
        return fail(
          at,
          `${`#include ${rest.trim()}`} names a file that is not here; put what is in it in its place.`,
        );
      case 'version':
      case 'extension':
      case 'pragma':
      case 'line':
      case '':
        return;
      default:
        fail(
          at,
          `GLSL has no #${word}; it has #define, #undef, #if, #ifdef, #ifndef, #elif, #else and #endif.`,
        );
    }
  };

  /** Lines between two directives are written together: a macro's brackets may go over several. */
  let chunk = { text: '', from: 0, line: 1 };
  const flush = (next: number, line: number): void => {
    if (chunk.text) writeChunk(chunk, macros, put);
    chunk = { text: '', from: next, line };
  };
  const lines = source.split('\n');
  let from = 0;
  let comment = false;
  for (let i = 0; i < lines.length; i += 1) {
    const [start, first] = [from, i];
    let line = lines[i]!;
    const directive = comment ? null : /^[ \t]*#[ \t]*(\w*)/.exec(line);
    // A directive whose line ends in \ goes on in the next.
    while (directive && line.endsWith('\\') && i + 1 < lines.length) line = `${line}\n${lines[(i += 1)]!}`;
    const end = i + 1 < lines.length ? '\n' : '';
    from += line.length + end.length;
    comment = opensComment(line, comment);
    if (!directive && isLive()) {
      chunk.text += line + end;
      continue;
    }
    flush(start, first + 1);
    const at = { from: start, to: start + line.length };
    if (directive) direct(directive[1]!, line.slice(directive[0].length).replace(/\\\n/g, ' '), at);
    put(line.replace(/[^\n]/g, ' ') + end, start, from);
    chunk = { text: '', from, line: i + 2 };
  }
  flush(from, lines.length);
  const open = branches.at(-1);
  if (open) fail(open.opened, 'This #if is never closed; add #endif.');

  const placeOf = (at: number, end: boolean): number => {
    let [low, high] = [0, pieces.length - 1];
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (pieces[middle]!.at <= (end ? at - 1 : at)) low = middle;
      else high = middle - 1;
    }
    const piece = pieces[low];
    if (!piece) return at;
    if (piece.length === piece.to - piece.from) return piece.from + Math.min(at - piece.at, piece.length);
    return end ? piece.to : piece.from;
  };
  return {
    text,
    placeIn: (span) => ({
      from: placeOf(span.from, false),
      to: Math.max(placeOf(span.to, true), placeOf(span.from, false)),
    }),
  };
};

/** True where a line ends inside a comment. */
const opensComment = (line: string, inside: boolean): boolean => {
  let open = inside;
  for (const [mark] of line.matchAll(/\/\/.*|\/\*|\*\//g)) {
    if (mark === '*/') open = false;
    else if (mark === '/*') open = true;
    else if (!open) break;
  }
  return open;
};

/** Writes some lines, their macros put in, piece by piece. */
const writeChunk = (
  { text, from, line }: { readonly text: string; readonly from: number; readonly line: number },
  macros: ReadonlyMap<string, Macro>,
  put: (piece: string, from: number, to: number) => void,
): void => {
  const breaks = (piece: string): number => piece.split('\n').length - 1;
  let [counted, number] = [0, line];
  const lineAt = (index: number): number => {
    number += breaks(text.slice(counted, index));
    counted = index;
    return number;
  };
  let last = 0;
  const words = new RegExp(WORD);
  for (let found = words.exec(text); found; found = words.exec(text)) {
    const [name] = found;
    if (name !== '__LINE__' && !macros.has(name)) continue;
    const at = { from: from + found.index, to: from + found.index + name.length };
    const use = useOf(text, name, found.index, macros, lineAt(found.index), [], at);
    if (!use) continue;
    put(text.slice(last, found.index), from + last, from + found.index);
    const lost = breaks(text.slice(found.index, use.end)) - breaks(use.text);
    put(use.text + '\n'.repeat(Math.max(lost, 0)), from + found.index, from + use.end);
    last = use.end;
    words.lastIndex = use.end;
  }
  put(text.slice(last), from + last, from + text.length);
};
