import { documentKind, type DocumentOf } from '../documentKind.ts';
import {
  id,
  list,
  mapOf,
  number,
  numbers,
  object,
  oneOf,
  optional,
  standing,
  text,
  told,
  type Read,
} from '../fields.ts';

/** Ticks a take may last: ten minutes. */
export const LONGEST_TAKE = 36_000;
export const MOST_TAKE_INPUTS = 40_000;

const hit = object({
  prop: id,
  point: numbers(3),
  normal: numbers(3),
  uv: numbers(2),
  distance: number,
});
const input = object({
  tick: told(number, 'The tick it was heard in, from 0.'),
  kind: oneOf(['down', 'up', 'pointer', 'click', 'walker', 'play', 'end', 'seek', 'hold', 'release']),
  code: optional(told(text(32), 'Of a key: its place.')),
  hit: optional(told(hit, 'Of the pointer and a click: what it was over; nothing where it is not told.')),
  position: optional(numbers(3)),
  direction: optional(numbers(3)),
  cue: optional(id),
  at: optional(number),
  material: optional(told(id, 'Of what is held by hand: the material part’s id.')),
  parameter: optional(told(text(64), 'Of what is held by hand: the parameter’s name.')),
  value: optional(list(number, 512)),
});
/** Something that came from outside, and when. */
export type TakeInput = Read<typeof input>;

const mark = object({
  tick: told(number, 'Ticks that had been run.'),
  digest: told(text(16), 'Of every number driven up to then, in hexadecimal.'),
  values: told(
    mapOf(list(number, 1024)),
    'What is driven stood at: parameters by the material’s id and the name, what is moved by its kind, its id and what of it.',
  ),
});
/** What a rehearsal stood at. */
export type TakeMark = Read<typeof mark>;

export const take = documentKind({
  name: 'take',
  version: 1,
  fields: {
    set: told(id, 'The set that was rehearsed.'),
    seed: standing(number, 1),
    ticks: told(number, 'How many, sixty a second.'),
    inputs: list(input, MOST_TAKE_INPUTS),
    marks: told(list(mark, LONGEST_TAKE / 60 + 1), 'One a second, and one at the end.'),
  },
  check: (r, { ticks, inputs }) => {
    if (!Number.isInteger(ticks) || ticks < 1 || ticks > LONGEST_TAKE)
      r.problem('ticks', `A take lasts 1 to ${LONGEST_TAKE} whole ticks; this one ${ticks}.`);
    inputs.forEach((each, i) => {
      if (!Number.isInteger(each.tick) || each.tick < (inputs[i - 1]?.tick ?? 0) || each.tick >= ticks)
        r.problem(`inputs[${i}].tick`, 'Inputs stand in the order of their ticks, within the take.');
    });
  },
});
/** One recorded rehearsal: what came in, and what it drove, so that it can be replayed and compared. */
export type TakeDocument = DocumentOf<typeof take>;
