import { codeNames } from '../language/codeNames.ts';

/** Replaces names in source. */
export const renameIn = (text: string, names: ReadonlyMap<string, string>): string => {
  let renamed = text;
  for (const each of codeNames(text).reverse()) {
    const to = names.get(each.name);
    if (to !== undefined) renamed = renamed.slice(0, each.from) + to + renamed.slice(each.to);
  }
  return renamed;
};
