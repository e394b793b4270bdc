import { nameProblem } from '../../language/names/reserved.ts';
import { documentKind, type DocumentOf } from '../documentKind.ts';
import { id, identifier, list, object, optional, standing, text, type Read } from '../fields.ts';
import { checked, parameterFields } from '../parameter.ts';
import type { Reader } from '../read.ts';
import { checkScore, strands } from '../score.ts';
import { silenced } from '../silenced.ts';

const MOST_OUTPUTS = 32;
const MOST_INPUTS = 64;

const input = checked(
  object({
    ...parameterFields,
    /** What is read where a user gives nothing, such as `uv`; the default's numbers where there is none. */
    reads: optional(text(500)),
  }),
);
/** What a motif is given: like a parameter, and with an expression that is read where a user gives nothing. */
export type MotifInput = Read<typeof input>;

const output = object({ id, name: identifier, expression: text() });
export type MotifOutput = Read<typeof output>;

const checkOutputs = (r: Reader, outputs: readonly MotifOutput[]): void => {
  const seen = new Set<string>();
  outputs.forEach(({ name }, i) => {
    const problem = nameProblem(name, new Set());
    if (problem) r.problem(`outputs[${i}].name`, problem);
    else if (seen.has(name)) r.problem(`outputs[${i}].name`, `The output “${name}” is there twice.`);
    seen.add(name);
  });
};

export const motif = documentKind({
  name: 'motif',
  version: 1,
  fields: {
    description: standing(text(500), ''),
    parameters: list(input, MOST_INPUTS),
    strands,
    outputs: list(output, MOST_OUTPUTS),
    silenced: optional(silenced),
  },
  check: (r, document) => {
    checkScore(r, document);
    checkOutputs(r, document.outputs);
  },
});
/** A folded group of strands with inputs, used as a step anywhere in the project. Its first input takes what comes from the left. */
export type MotifDocument = DocumentOf<typeof motif>;
