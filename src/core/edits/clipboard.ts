import { createReader } from '../document/read.ts';
import { strand } from '../document/score.ts';
import type { Parameter, Score, Step, Strand } from '../document/shader.ts';
import { EditRefusal } from './foldExpression.ts';
import type { Edit, Patch } from '../document/patch.ts';
import { renameEverywhere, usesOf } from '../document/uses.ts';

/** Steps or strands on their way from one shader to another, as people may read them. */
interface Clipping {
  readonly format: 'wicked-veil/clipping';
  readonly version: 1;
  readonly strands: readonly Strand[];
  /** True where only steps were taken: they join a strand instead of making one. */
  readonly stepsOnly: boolean;
  /** Parameters the strands read, so that they mean something elsewhere. */
  readonly parameters: readonly Parameter[];
}

const parametersOf = (score: Score, strands: readonly Strand[]): Parameter[] =>
  score.parameters.filter((each) => usesOf({ parameters: [], strands }, each.name).length > 0);

/** Text that `paste` reads back. */
export const copySteps = (score: Score, steps: readonly Step[]): string => {
  const strand: Strand = { id: 'clipping', name: 'clipping', note: '', steps };
  const clipping: Clipping = {
    ...{ format: 'wicked-veil/clipping', version: 1, stepsOnly: true },
    strands: [strand],
    parameters: parametersOf(score, [strand]),
  };
  return `${JSON.stringify(clipping, null, 2)}\n`;
};

export const copyStrands = (score: Score, strands: readonly Strand[]): string => {
  const clipping: Clipping = {
    ...{ format: 'wicked-veil/clipping', version: 1, stepsOnly: false },
    strands,
    parameters: parametersOf(score, strands),
  };
  return `${JSON.stringify(clipping, null, 2)}\n`;
};

const read = (text: string): Clipping => {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    throw new EditRefusal('What was copied is not steps or strands of a shader.');
  }
  const r = createReader();
  const given = r.object(json, '');
  if (given['format'] !== 'wicked-veil/clipping')
    throw new EditRefusal('What was copied is not steps or strands of a shader.');
  const strands = r.list(given['strands'], 'strands', 1000, (item, path) => strand.read(r, item, path, {}));
  if (r.problems.length)
    throw new EditRefusal(
      `What was copied cannot be read: ${r.problems[0]!.path}: ${r.problems[0]!.message}`,
    );
  const parameters = Array.isArray(given['parameters']) ? (given['parameters'] as Parameter[]) : [];
  return {
    format: 'wicked-veil/clipping',
    version: 1,
    strands,
    stepsOnly: given['stepsOnly'] === true,
    parameters,
  };
};

/**
 * Puts copied steps into a strand, or copied strands below it; names that are taken get a figure, here and where the
 * copied strands read each other. Parameters that are missing come along.
 * @throws EditRefusal with a sentence
 */
export const paste = (
  part: string,
  score: Score,
  text: string,
  at: { readonly strand: number; readonly step: number },
  newId: () => string,
): { readonly edit: Edit; readonly ids: readonly string[] } => {
  const clipping = read(text);
  const taken = new Set([...score.parameters, ...score.strands].map((each) => each.name));
  const missing = clipping.parameters.filter((each) => !taken.has(each.name));
  const bring: Patch[] = missing.map((each, i) => ({
    op: 'add',
    path: ['parameters', score.parameters.length + i],
    value: { ...each, id: newId() },
  }));
  let copied: Score = { parameters: [], strands: clipping.strands };
  if (!clipping.stepsOnly)
    for (const { name } of clipping.strands) {
      if (!taken.has(name)) {
        taken.add(name);
        continue;
      }
      let n = 2;
      while (taken.has(`${name}${n}`)) n += 1;
      taken.add(`${name}${n}`);
      copied = renameEverywhere(copied, name, `${name}${n}`);
    }
  const ids: string[] = [];
  const fresh = copied.strands.map((strand) => ({
    ...strand,
    id: newId(),
    steps: strand.steps.map((step) => {
      const id = newId();
      ids.push(id);
      return { ...step, id };
    }),
  }));
  const patches: Patch[] = clipping.stepsOnly
    ? fresh[0]!.steps.map((step, i) => ({
        op: 'add',
        path: ['strands', at.strand, 'steps', at.step + i],
        value: step,
      }))
    : fresh.map((strand, i) => ({ op: 'add', path: ['strands', at.strand + 1 + i], value: strand }));
  const many = clipping.stepsOnly ? fresh[0]!.steps.length : fresh.length;
  const what = clipping.stepsOnly ? 'step' : 'strand';
  return {
    edit: { label: `Paste ${many} ${what}${many === 1 ? '' : 's'}`, part, patches: [...bring, ...patches] },
    ids,
  };
};
