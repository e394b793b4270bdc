import { id, list, number, numbers, object, oneOf, optional, told, type Read } from './fields.ts';
import { checkBox, nearBox, placed } from './targets.ts';
import type { Reader } from './read.ts';

export const DRIVE_KINDS = ['place', 'distance', 'wave', 'spring', 'near'] as const;
export const WAVES = ['sine', 'triangle', 'square', 'saw'] as const;

const drive = object({
  id,
  material: told(id, 'The material part’s id.'),
  parameter: told(id, 'The parameter’s id.'),
  by: oneOf(DRIVE_KINDS),
  of: optional(told(placed, 'What is followed: a prop’s id, pointer or walker.')),
  to: optional(told(placed, 'Of a distance or nearness, the other end.')),
  from: optional(told(numbers(2), 'Of a distance: metres at which it begins and ends.')),
  within: optional(told(number, 'Of nearness: metres; where it is not told 1, and 0 of a box.')),
  box: optional(nearBox),
  range: optional(
    told(
      numbers(2),
      'What it gives at the one end and at the other: at the distances of `from`, far and near, a wave’s least and greatest; 0 and 1 where it is not told.',
    ),
  ),
  shape: optional(told(oneOf(WAVES), 'Of a wave.')),
  period: optional(told(number, 'Of a wave, seconds.')),
  phase: optional(
    told(
      number,
      'Of a wave, the share of its period added to its start: the wave is read at time ÷ period + phase. At 0 a sine and a triangle begin at their least value, a square at its greatest, a saw at its least.',
    ),
  ),
  stiffness: optional(told(number, 'Of a spring, a second squared, above 0.')),
  damping: optional(told(number, 'Of a spring, a second, from 0.')),
  limit: optional(told(number, 'Of a spring: how far it gives way at most.')),
  strength: optional(
    told(number, 'Of a spring: what the pull on it is multiplied by; 1 where it is not told.'),
  ),
  axis: optional(told(numbers(3), 'Of a spring, the way in the world along which motion pulls it.')),
  turning: optional(
    told(
      number,
      'Of a spring: metres above the prop’s origin at which its turning pulls; 0 where it is not told.',
    ),
  ),
  offset: optional(told(numbers(3), 'Metres added to a place.')),
});
/** A standing rule that feeds a parameter from the set. */
export type SetDrive = Read<typeof drive>;
export const MOST_DRIVES = 128;
export const drives = list(drive, MOST_DRIVES);

/** Says what no field can tell alone. */
export const checkDrives = (r: Reader, list: readonly SetDrive[]): void =>
  list.forEach((each, i) => {
    const path = `drives[${i}]`;
    const bound = (
      field: 'stiffness' | 'damping' | 'period' | 'limit' | 'within',
      least: number,
      most: number,
    ) => {
      const x = each[field];
      if (x !== undefined && !(x >= least && x <= most))
        r.problem(`${path}.${field}`, `This should lie between ${least} and ${most}, and is ${x}.`);
    };
    bound('stiffness', 0.01, 10_000);
    bound('damping', 0, 1000);
    bound('period', 0.01, 3600);
    bound('limit', 0, 1e6);
    bound('within', 0, 1000);
    checkBox(r, each.box, `${path}.box`);
    if (list.findIndex((other) => other.id === each.id) !== i)
      r.problem(`${path}.id`, `Two rules have the id “${each.id}”.`);
    else if (
      list.findIndex((other) => other.material === each.material && other.parameter === each.parameter) !== i
    )
      r.problem(path, 'Another rule feeds this parameter already.');
  });
