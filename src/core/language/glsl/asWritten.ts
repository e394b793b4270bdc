import type { Type } from '../../program/types.ts';
import type { Span } from '../mistake.ts';
import { printExpression } from '../printExpression.ts';
import type { Expression } from '../syntax.ts';
import { visibleFrom, type Analysed, type AnalysedFunction } from './analyseModule.ts';

/** A function and all that it calls. */
export const reachableFrom = (code: Analysed, fn: AnalysedFunction): ReadonlySet<AnalysedFunction> => {
  const found = new Set<AnalysedFunction>();
  const visit = (each: AnalysedFunction): void => {
    if (found.has(each)) return;
    found.add(each);
    for (const call of each.calls)
      for (const callee of visibleFrom(each.source, code.named.get(call.name)!))
        visit(code.functions.get(callee)!);
  };
  visit(fn);
  return found;
};

interface Edit extends Span {
  readonly text: string;
}

/**
 * Variables beside the functions begin anew wherever the step is used: what they begin with is put where its main
 * function begins, and may read what is handed in.
 */
const beginAnew = (code: Analysed): Edit[] => {
  const edits: Edit[] = [];
  let begins = '';
  for (const { from, to, names, qualifiers } of code.module.globals) {
    if (qualifiers.includes('const') || !names.some((each) => each.value)) continue;
    /** Brackets left empty take their length from the value, which is taken away here. */
    const sized = (text: string, value: Expression | null | undefined): string =>
      value?.kind === 'call' ? text.replace(/\[\s*\]/, `[${value.args.length}]`) : text;
    const declared = names.map(({ name, brackets, value }) => {
      if (value && code.main.globals.has(name)) begins += ` ${name} = ${printExpression(value)};`;
      const length = brackets?.length ? printExpression(brackets.length) : '';
      return sized(`${name}${brackets ? `[${length}]` : ''}`, value);
    });
    const head = sized(code.text.slice(from, names[0]!.from), names[0]!.value);
    const text = `${head}${declared.join(', ')};`;
    // Lines stay where they are, for the driver's mistakes to be found.
    const lost = code.text.slice(from, to).split('\n').length - text.split('\n').length;
    edits.push({ from, to, text: text + '\n'.repeat(lost) });
  }
  const at = code.main.source.bodyAt.from + 1;
  return begins ? [...edits, { from: at, to: at, text: begins }] : edits;
};

/**
 * Names that functions read from outside are handed down to them. Overloads take the same ones, so that a call need
 * not know which of them it reaches.
 */
const namesHanded = (code: Analysed): ((fn: AnalysedFunction) => readonly string[]) => {
  const namesOf = (fn: AnalysedFunction) => fn.free.map((each) => each.name);
  const all = namesOf(code.main);
  const mixed = [...code.named.values()].some(
    (overloads) =>
      overloads.length > 1 && overloads.some((each) => code.functions.get(each)!.free.length > 0),
  );
  return mixed ? () => all : namesOf;
};

/**
 * The source of code that runs as it is written, line by line where the author has it: what its functions read from
 * outside is handed down as parameters, variables begin anew, and what is never called is left out.
 */
export const sourceAsWritten = (code: Analysed, typeOf: (name: string) => Type): string => {
  const edits: Edit[] = beginAnew(code);
  const insert = (at: number, text: string) => edits.push({ from: at, to: at, text });
  const reachable = reachableFrom(code, code.main);
  const handed = namesHanded(code);
  for (const fn of code.functions.values()) {
    const { source, calls } = fn;
    if (!reachable.has(fn)) {
      const lines = code.text.slice(source.from, source.to).split('\n').length - 1;
      edits.push({ ...source, text: `// ${source.name} is never called${'\n'.repeat(lines)}` });
      continue;
    }
    const names = handed(fn);
    if (names.length) {
      const declared = names.map((name) => `${typeOf(name)} ${name}`).join(', ');
      insert(source.parametersEnd, `${source.parameters.length ? ', ' : ''}${declared}`);
    }
    // A variable may be called as what is handed in only in a block of its own.
    const hides = source.body.some(
      (each) => each.kind === 'declaration' && each.names.some(({ name }) => names.includes(name)),
    );
    if (hides) {
      insert(source.bodyAt.from + 1, ' {');
      insert(source.bodyAt.to - 1, '} ');
    }
    for (const call of calls) {
      const [callee] = visibleFrom(source, code.named.get(call.name)!);
      const needed = handed(code.functions.get(callee!)!);
      if (needed.length) insert(call.to - 1, `${call.hasArguments ? ', ' : ''}${needed.join(', ')}`);
    }
  }
  let text = code.text;
  for (const { from, to, text: piece } of edits.sort((x, y) => y.from - x.from))
    text = text.slice(0, from) + piece + text.slice(to);
  return text.trim();
};
