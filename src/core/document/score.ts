import { nameProblem } from '../language/names/reserved.ts';
import { OPERATOR_NAMES } from '../operators/catalogue.ts';
import {
  flag,
  id,
  identifier,
  list,
  mapOf,
  number,
  object,
  optional,
  standing,
  text,
  told,
  type Field,
  type Read,
} from './fields.ts';
import { type Parameter } from './parameter.ts';
import type { Reader } from './read.ts';

export const MOST_STRANDS = 1000;
export const MOST_STEPS = 20_000;
export const MOST_PARAMETERS = 512;
/** Characters of GLSL in one code step. */
export const LONGEST_CODE = 262_144;

/** An authored argument: a number (or a few, for a vector) that can be dragged, or an expression as text. */
export type Argument = number | readonly number[] | string;
const argument: Field<Argument> = {
  schema: {
    description: 'A number, a vector’s numbers, or an expression (for a choice, its word).',
    oneOf: [number.schema, { type: 'array', items: number.schema, minItems: 2, maxItems: 4 }, text().schema],
  },
  read: (r, value, path) => {
    if (typeof value === 'string') return r.text(value, path);
    if (!Array.isArray(value)) return r.number(value, path);
    if (value.length < 2 || value.length > 4) r.problem(path, 'A vector has 2 to 4 numbers.');
    return value.map((each, i) => r.number(each, `${path}[${i}]`));
  },
};

const step = object({
  id,
  operator: told(id, 'An operator’s name, or code, or motif.'),
  arguments: standing(mapOf(argument), {}),
  /** A muted step passes on what comes from its left. */
  muted: optional(flag),
  note: optional(text(500)),
  code: optional(told(text(LONGEST_CODE), 'For code: GLSL ES 3.00 functions; the last one is called.')),
  motif: optional(told(id, 'For motif: its part id.')),
  output: optional(told(id, 'For motif: which of its outputs; the first unless said.')),
});
/** One operator applied to what comes from its left. */
export type Step = Read<typeof step>;

export const strand = object({
  id,
  name: identifier,
  /** What it is for, in a few words. */
  note: standing(text(500), ''),
  steps: list(step, MOST_STEPS),
  /** Shown as one line. */
  collapsed: optional(flag),
});
/** A named value, built left to right by steps. May use only strands above it. */
export type Strand = Read<typeof strand>;
export const strands = list(strand, MOST_STRANDS);

/** What steps are written in: a shader's strands and parameters, or a motif's strands and inputs. */
export interface Score {
  readonly parameters: readonly Parameter[];
  readonly strands: readonly Strand[];
}

/** Says what no field can tell alone: names and ids that are there twice, and too many steps. */
export const checkScore = (r: Reader, score: Score): void => {
  const steps = score.strands.reduce((sum, each) => sum + each.steps.length, 0);
  if (steps > MOST_STEPS)
    r.problem('strands', `There are ${steps} steps; at most ${MOST_STEPS} are allowed.`);
  checkNames(r, score);
};

const checkUnique = (r: Reader, seen: Map<string, string>, key: string, path: string, what: string) => {
  const before = seen.get(key);
  if (before) r.problem(path, `The ${what} “${key}” is used already at ${before}.`);
  else seen.set(key, path);
};

const checkNames = (r: Reader, document: Score): void => {
  const names = new Map<string, string>();
  const ids = new Map<string, string>();
  const check = (list: readonly { id: string; name: string }[], path: string) =>
    list.forEach((each, i) => {
      const problem = nameProblem(each.name, OPERATOR_NAMES);
      if (problem) r.problem(`${path}[${i}].name`, problem);
      else checkUnique(r, names, each.name, `${path}[${i}].name`, 'name');
      checkUnique(r, ids, each.id, `${path}[${i}].id`, 'id');
    });
  check(document.parameters, 'parameters');
  check(document.strands, 'strands');
  document.strands.forEach((strand, s) =>
    strand.steps.forEach((step, i) => checkUnique(r, ids, step.id, `strands[${s}].steps[${i}].id`, 'id')),
  );
};
