import type { FunctionSource, Module } from '../language/glsl/syntax.ts';
import { parseExpression } from '../language/parseExpression.ts';
import type { Expression } from '../language/syntax.ts';

const isOne = (e: Expression | undefined): boolean => e?.kind === 'literal' && Number(e.value) === 1;
/** The fourth number of a vec4 that is put together here. */
const alphaOf = (e: Expression | undefined): Expression | undefined =>
  e?.kind === 'call' && e.callee === 'vec4' && e.args.length > 1 ? e.args.at(-1) : undefined;

/** True of a function of one vec4 whose every answer has the alpha it was given. */
const keepsAlpha = (text: string, functions: readonly FunctionSource[], fn: FunctionSource): boolean => {
  if (fn.parameters.length !== 1) return false;
  const { name } = fn.parameters[0]!;
  const body = text.slice(fn.bodyAt.from, fn.bodyAt.to);
  // What it was given must still be what it was given.
  if (new RegExp(`\\b${name}\\s*(\\.\\w+|\\[[^\\]]*\\])?\\s*[-+*/]?=(?!=)`).test(body)) return false;
  const isOwn = (e: Expression): boolean => e.kind === 'name' && e.name === name;
  const answers = [...body.matchAll(/\breturn\b([^;]*);/g)];
  return (
    answers.length > 0 &&
    answers.every(([, answer]) => {
      const { expression } = parseExpression(answer!.trim());
      if (expression && isOwn(expression)) return true;
      if (expression?.kind === 'call' && expression.args.length === 1)
        return isOwn(expression.args[0]!) && allKeepAlpha(text, functions, expression.callee);
      const alpha = alphaOf(expression);
      return alpha?.kind === 'member' && /^[aw]$/.test(alpha.member) && isOwn(alpha.object);
    })
  );
};

/** True where each function that is called so keeps its alpha. GLSL has no recursion, so this ends. */
const allKeepAlpha = (text: string, functions: readonly FunctionSource[], name: string): boolean => {
  const called = functions.filter((each) => each.name === name);
  return called.length > 0 && called.every((each) => keepsAlpha(text, functions, each));
};

/**
 * True where all that is written to an output leaves its alpha at 1, so that it can be left out. Only what is sure
 * counts: an output that is handed on, indexed, or written in any other way keeps its alpha.
 */
export const isOpaque = (text: string, { functions }: Module, name: string): boolean => {
  const target =
    name === 'gl_FragColor' ? '(?:gl_FragColor|gl_FragData\\s*\\[\\s*0\\s*\\])' : `\\b${name}\\b`;
  const bodies = functions.map((each) => text.slice(each.bodyAt.from, each.bodyAt.to)).join('\n');
  const isKept = (value: string): boolean => {
    const { expression: e } = parseExpression(value);
    if (isOne(alphaOf(e))) return true;
    return (
      e?.kind === 'call' &&
      e.args.length === 1 &&
      new RegExp(`^${target}$`).test(value.slice(e.args[0]!.from, e.args[0]!.to).trim()) &&
      allKeepAlpha(text, functions, e.callee)
    );
  };
  let written = 0;
  const others = bodies.replace(
    new RegExp(`${target}\\s*(\\.\\w+)?\\s*([-+*/]?)=(?!=)\\s*([^;]*);`, 'g'),
    (all, part: string | undefined, changes: string, value: string) => {
      const kept = part ? !/[waq]/.test(part) : !changes && isKept(value.trim());
      if (!kept) return all;
      written += 1;
      // What it is made of may read the output’s colour.
      return part ? value : '';
    },
  );
  const colourRead = new RegExp(`${target}\\s*\\.\\s*[xyzrgbstp]+\\b(?!\\s*[-+*/]?=(?!=))`, 'g');
  return written > 0 && !new RegExp(target).test(others.replace(colourRead, ''));
};
