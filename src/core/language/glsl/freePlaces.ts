import { codeNames } from '../codeNames.ts';
import type { Span } from '../mistake.ts';
import { analyseModule, readsFromOutside } from './analyseModule.ts';

/**
 * Where code reads a name from outside itself: not where a variable, a parameter or a function of its own is called so.
 * Code that cannot be read yet gives every place where the name stands.
 */
export const freePlaces = (text: string, name: string): readonly Span[] => {
  if (!text.includes(name)) return [];
  const { code } = analyseModule(text);
  if (!code) return codeNames(text).filter((each) => each.name === name);
  const places = new Map<number, Span>();
  for (const each of readsFromOutside(code))
    if (each.name === name) {
      const place = code.placeIn(each);
      // What a macro became stands where it was used; its own text is looked at below.
      if (text.slice(place.from, place.to) === name) places.set(place.from, place);
    }
  for (const line of text.matchAll(/^[ \t]*#.*$/gm))
    for (const each of codeNames(line[0]))
      if (each.name === name)
        places.set(line.index + each.from, { from: line.index + each.from, to: line.index + each.to });
  return [...places.values()].sort((x, y) => x.from - y.from);
};

/** Where code calls something of its own by a name: what would hide a name from outside that came to be the same. */
export const ownPlaces = (text: string, name: string): readonly Span[] => {
  const { code } = analyseModule(text);
  if (!code || !text.includes(name)) return [];
  const free = new Set(freePlaces(text, name).map((each) => each.from));
  const fields = code.module.structs.map((each) => code.placeIn(each.fieldsAt));
  const inStructure = ({ from }: Span) => fields.some((each) => from >= each.from && from < each.to);
  return codeNames(text).filter((each) => each.name === name && !free.has(each.from) && !inStructure(each));
};
