import { costOf } from '#core/analyse/operatorCost.ts';
import { reaches, type Library } from '#core/document/motif.ts';
import type { Step } from '#core/document/shader.ts';
import { OPERATORS, search } from '#core/operators/catalogue.ts';
import { INPUT_NAMES, declarationOf } from '#core/program/inputs.ts';
import { signatureText } from '#core/operators/signature.ts';

/** Something the palette offers: an operator, something the shader is given, a motif, or a piece of code. */
export interface PaletteItem {
  readonly key: string;
  readonly name: string;
  readonly family: string;
  readonly summary: string;
  readonly synonyms: readonly string[];
  /** How it is written, what it computes and what it costs. */
  readonly signature?: string;
  readonly formula?: string;
  readonly source?: string;
  readonly cost?: string;
  readonly step: Omit<Step, 'id'>;
}

const NEW_CODE = `float shape(float x) {
  return x;
}
`;

const costText = (name: string): string => {
  const { arithmetic, textures } = costOf(name);
  const reads = textures ? `, ${textures} texture read${textures === 1 ? '' : 's'}` : '';
  return `about ${Math.max(Math.round(arithmetic), 0)} operations${reads}`;
};

const OPERATOR_ITEMS: readonly PaletteItem[] = [...OPERATORS.values()].map((each) => ({
  key: each.name,
  name: each.name,
  family: each.family,
  summary: each.summary,
  synonyms: each.synonyms ?? [],
  signature: signatureText(each),
  ...(each.formula ? { formula: each.formula } : {}),
  ...(each.source ? { source: each.source } : {}),
  get cost() {
    return costText(each.name);
  },
  step: { operator: each.name, arguments: {} },
}));

const INPUT_ITEMS: readonly PaletteItem[] = INPUT_NAMES.map((name) => {
  const { summary, type, synonyms, unit } = declarationOf(name);
  return {
    key: `input ${name}`,
    name,
    family: 'inputs',
    summary,
    synonyms: synonyms ?? [],
    signature: `${name}: ${type}${unit ? `, ${unit}` : ''}`,
    step: { operator: 'value', arguments: { x: name } },
  };
});

const CODE_ITEM: PaletteItem = {
  key: 'code',
  name: 'code',
  family: 'value',
  summary: 'GLSL of your own: one or more functions, the last one’s signature gives inputs and output.',
  synonyms: ['glsl', 'function', 'custom', 'source', 'script', 'loop', 'if'],
  step: { operator: 'code', code: NEW_CODE, arguments: {} },
};

const motifItems = (library: Library, inside: string | null): PaletteItem[] =>
  [...library.values()]
    .filter((each) => inside === null || !reaches(library, each.id, inside))
    .map((each) => ({
      key: `motif ${each.id}`,
      name: each.name,
      family: 'motif',
      summary: each.body.description || 'A motif of this project.',
      synonyms: ['motif', 'group', 'reuse'],
      step: { operator: 'motif', motif: each.id, arguments: {} },
    }));

/** What fits the words looked for, the best first; motifs that would go in a circle are left out. */
export const findItems = (wanted: string, library: Library, inside: string | null): PaletteItem[] =>
  search(
    [
      ...OPERATOR_ITEMS.slice(0, 1),
      CODE_ITEM,
      ...motifItems(library, inside),
      ...INPUT_ITEMS,
      ...OPERATOR_ITEMS.slice(1),
    ],
    wanted,
  );
