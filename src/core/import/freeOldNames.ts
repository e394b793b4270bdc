import { codeNames } from '../language/codeNames.ts';
import { isBuiltIn } from '../language/glsl/builtInNames.ts';
import type { Module } from '../language/glsl/syntax.ts';
import { freeName } from './freeName.ts';
import { renameIn } from './renameIn.ts';

/** Functions of GLSL ES 1.00 (chapter 8): a source of that version may call its own functions by all other names. */
const OF_ES_100 =
  /^(radians|degrees|a?(sin|cos|tan)|pow|exp2?|log2?|sqrt|inversesqrt|abs|sign|floor|ceil|fract|mod|min|max|clamp|mix|step|smoothstep|length|distance|dot|cross|normalize|faceforward|reflect|refract|matrixCompMult|lessThan|lessThanEqual|greaterThan|greaterThanEqual|equal|notEqual|any|all|not|texture2D\w*|dFdx|dFdy|fwidth)$/;

const isOfEs100 = (source: string): boolean => {
  const version = /^[ \t]*#[ \t]*version[ \t]+(\d+)/m.exec(source)?.[1];
  return version === undefined || version === '100';
};

/**
 * A source of GLSL ES 1.00 whose functions have names that ES 3.00 took for its own, with other names in their place.
 * @returns null where there are none; else the text, and where a place in it was before
 */
export const freeOldNames = (
  source: string,
  text: string,
  { functions }: Module,
): { readonly text: string; readonly placeBefore: (at: number) => number } | null => {
  if (!isOfEs100(source)) return null;
  const found = codeNames(text);
  const used = new Set(found.map(({ name }) => name));
  const renames = new Map<string, string>();
  for (const { name } of functions)
    if (isBuiltIn(name) && !OF_ES_100.test(name) && !renames.has(name)) {
      const free = freeName(`${name}Own`, used);
      used.add(free);
      renames.set(name, free);
    }
  if (!renames.size) return null;
  const renamed = found.flatMap(({ name, from }) => {
    const free = renames.get(name);
    return free === undefined ? [] : [{ from, longer: free.length - name.length }];
  });
  const placeBefore = (at: number): number => {
    let shift = 0;
    for (const { from, longer } of renamed) if (from + shift < at) shift += longer;
    return at - shift;
  };
  return { text: renameIn(text, renames), placeBefore };
};
