import { freePlaces, ownPlaces } from '../language/glsl/freePlaces.ts';
import { parseExpression } from '../language/parseExpression.ts';
import { namesIn } from '../language/syntax.ts';
import type { Span } from '../language/mistake.ts';
import type { Score } from './score.ts';
import type { Surface } from './surface.ts';
import { applyPatches, type Patch } from './patch.ts';

type Path = readonly (string | number)[];

/** A score with what reads it: a shader's outputs, or a motif's. */
export type Readable = Score & {
  readonly outputs?: readonly { readonly expression: string }[];
  readonly surface?: Surface;
};

/** A place that reads a name: an argument, a step's code, or an output. */
export interface Use {
  readonly path: Path;
  readonly text: string;
  /** The strand it is in, or `surface`. */
  readonly strand: string;
  /** The step it is in, where it is in one. */
  readonly step: string | null;
}

const placesIn = (text: string, name: string, isCode: boolean): readonly Span[] => {
  if (!text.includes(name)) return [];
  if (isCode) return freePlaces(text, name);
  const { expression } = parseExpression(text);
  return expression ? namesIn(expression).filter((each) => each.name === name) : [];
};

/** Every place whose text could read a name. */
const placesOf = (document: Readable): Use[] => [
  ...document.strands.flatMap((strand, s) =>
    strand.steps.flatMap((step, i) => {
      const at = ['strands', s, 'steps', i] as const;
      const place = { strand: strand.name, step: step.id };
      const texts = Object.entries(step.arguments).flatMap(([key, value]) =>
        typeof value === 'string' ? [{ ...place, path: [...at, 'arguments', key], text: value }] : [],
      );
      return step.code === undefined
        ? texts
        : [...texts, { ...place, path: [...at, 'code'], text: step.code }];
    }),
  ),
  ...Object.entries(document.surface?.outputs ?? {}).map(([key, text]) => ({
    path: ['surface', 'outputs', key],
    text,
    strand: 'surface',
    step: null,
  })),
  ...(document.outputs ?? []).map(({ expression }, i) => ({
    path: ['outputs', i, 'expression'],
    text: expression,
    strand: 'surface',
    step: null,
  })),
];

const isCode = ({ path }: Use): boolean => path[path.length - 1] === 'code';

/** Places that read a name, in order. */
export const usesOf = (document: Readable, name: string): readonly Use[] =>
  placesOf(document).filter((use) => placesIn(use.text, name, isCode(use)).length > 0);

const rewrite = (text: string, places: readonly (Span & { readonly text: string })[]): string =>
  [...places]
    .sort((x, y) => y.from - x.from)
    .reduce((all, { from, to, text: piece }) => all.slice(0, from) + piece + all.slice(to), text);

/** A name that stands nowhere in a text. */
const unusedIn = (text: string, wish: string): string => {
  for (let n = 2; ; n += 1) if (!new RegExp(`\\b${wish}${n}\\b`).test(text)) return `${wish}${n}`;
};

/**
 * Rewrites only the name itself, leaving the author's spacing and comments as they are. Something of code's own that
 * would hide the new name there gets a figure at its end.
 */
export const renameUses = (document: Readable, from: string, to: string): Patch[] =>
  usesOf(document, from).flatMap((use): Patch[] => {
    const places = placesIn(use.text, from, isCode(use)).map((place) => ({ ...place, text: to }));
    const hiding = isCode(use) ? ownPlaces(use.text, to) : [];
    if (!hiding.length) return [{ op: 'replace', path: use.path, value: rewrite(use.text, places) }];
    const aside = unusedIn(use.text, to);
    const code = rewrite(use.text, [...places, ...hiding.map((place) => ({ ...place, text: aside }))]);
    return [
      { op: 'replace', path: use.path, value: code },
      ...moveArgument(document, use, { from, to, aside }),
    ];
  });

/** What a code step's own parameter is given, under the parameter's new name. */
const moveArgument = (
  document: Readable,
  { path }: Use,
  names: { readonly from: string; readonly to: string; readonly aside: string },
): Patch[] => {
  const [, s, , i] = path as readonly [string, number, string, number];
  const given = document.strands[s]!.steps[i]!.arguments;
  if (!Object.hasOwn(given, names.to)) return [];
  const renamed = Object.entries(given).map(([name, value]) => [
    name === names.to ? names.aside : name,
    typeof value === 'string'
      ? rewrite(
          value,
          placesIn(value, names.from, false).map((place) => ({ ...place, text: names.to })),
        )
      : value,
  ]);
  return [{ op: 'replace', path: [...path.slice(0, -1), 'arguments'], value: Object.fromEntries(renamed) }];
};

/** The document with a strand or parameter called something else, wherever it stands. */
export const renameEverywhere = <D extends Readable>(document: D, from: string, to: string): D => {
  const own = (['parameters', 'strands'] as const).flatMap((list) =>
    document[list].flatMap((each, i): Patch[] =>
      each.name === from ? [{ op: 'replace', path: [list, i, 'name'], value: to }] : [],
    ),
  );
  return applyPatches(document, [...own, ...renameUses(document, from, to)]).document;
};
