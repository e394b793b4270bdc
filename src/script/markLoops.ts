import { parser } from '@lezer/javascript';

const LEFT = /^(Binary|Member|Call)Expression$/;

/** A script whose loops can be found again when one has to be stopped. */
export interface Marked {
  readonly source: string;
  /** How deep its syntax tree is, without chains such as `a + b + c` and `a.b().c()`, which parsers read in a loop. */
  readonly depth: number;
  /** Brings a line and column of the marked source back to the author's. Both count from 1. */
  readonly columnAt: (line: number, column: number) => number;
}

/**
 * Puts a call at the head of every loop and every function given to a call, which notes its line: an engine that is
 * interrupted there does not know its own. What is called and its result dropped is watched, since it may go on, and fail, later. What
 * cannot be parsed is left alone.
 */
export const markLoops = (source: string): Marked => {
  const inserts: { at: number; text: string }[] = [];
  let broken = false;
  let [depth, deepest] = [0, 0];
  const lineOf = (at: number): number => source.slice(0, at).split('\n').length;
  parser.parse(source).iterate({
    leave: ({ type }) => void (depth -= LEFT.test(type.name) ? 0 : 1),
    enter: ({ type, node, from, to }) => {
      depth += LEFT.test(type.name) ? 0 : 1;
      deepest = Math.max(deepest, depth);
      if (type.isError) broken = true;
      if (type.name === 'ExpressionStatement') {
        const called = node.firstChild;
        if (called?.name === 'CallExpression' && called.firstChild?.name !== 'super')
          inserts.push({ at: called.from, text: '__watch(' }, { at: called.to, text: ')' });
        return;
      }
      if (/^(ArrowFunction|FunctionExpression)$/.test(type.name)) {
        const body = node.lastChild;
        if (node.parent?.name === 'ArgList' && body?.name === 'Block')
          inserts.push({ at: body.from + 1, text: `__at(${lineOf(from)});` });
        return;
      }
      if (!/^(While|For|Do)Statement$/.test(type.name)) return;
      const body =
        type.name === 'DoStatement'
          ? node.firstChild?.nextSibling
          : node.lastChild?.name === ';'
            ? node.lastChild.prevSibling
            : node.lastChild;
      if (!body || body.from < from || body.to > to) return;
      const mark = `__loop(${lineOf(from)});`;
      if (body.name === 'Block') inserts.push({ at: body.from + 1, text: mark });
      else if (/Statement$|Declaration$/.test(body.name))
        inserts.push({ at: body.from, text: `{${mark}` }, { at: body.to, text: '}' });
    },
  });
  if (broken) return { source, depth: deepest, columnAt: (_, column) => column };
  inserts.sort((a, b) => a.at - b.at);
  let marked = '';
  let last = 0;
  const places: { line: number; column: number; length: number }[] = [];
  for (const { at, text } of inserts) {
    marked += source.slice(last, at);
    last = at;
    places.push({
      line: marked.split('\n').length,
      column: marked.length - marked.lastIndexOf('\n'),
      length: text.length,
    });
    marked += text;
  }
  return {
    source: marked + source.slice(last),
    depth: deepest,
    columnAt: (line, column) =>
      places.reduce(
        (kept, place) => (place.line === line && place.column <= column ? kept - place.length : kept),
        column,
      ),
  };
};
