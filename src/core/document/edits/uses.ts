import { codeNames } from '../../language/codeNames.ts';
import { parseExpression } from '../../language/parseExpression.ts';
import { namesIn } from '../../language/syntax.ts';
import type { Span } from '../../language/mistake.ts';
import type { MotifOutput } from '../motif.ts';
import type { Score, ShaderDocument } from '../shader.ts';
import { applyPatches, type Patch } from './patch.ts';

type Path = readonly (string | number)[];

/** A score with what reads it: a shader's outputs, or a motif's. */
export type Readable = Score & {
  readonly outputs?: readonly MotifOutput[];
  readonly surface?: ShaderDocument['surface'];
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
  if (isCode) return codeNames(text).filter((each) => each.name === name);
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

/** Rewrites only the name itself, leaving the author's spacing and comments as they are. */
export const renameUses = (document: Readable, from: string, to: string): Patch[] =>
  usesOf(document, from).map((use) => {
    let renamed = use.text;
    for (const place of [...placesIn(use.text, from, isCode(use))].reverse())
      renamed = renamed.slice(0, place.from) + to + renamed.slice(place.to);
    return { op: 'replace', path: use.path, value: renamed };
  });

/** The document with a strand or parameter called something else, wherever it stands. */
export const renameEverywhere = <D extends Readable>(document: D, from: string, to: string): D => {
  const own = (['parameters', 'strands'] as const).flatMap((list) =>
    document[list].flatMap((each, i): Patch[] =>
      each.name === from ? [{ op: 'replace', path: [list, i, 'name'], value: to }] : [],
    ),
  );
  return applyPatches(document, [...own, ...renameUses(document, from, to)]).document;
};
