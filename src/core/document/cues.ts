import {
  flag,
  id,
  list,
  number,
  object,
  oneOf,
  optional,
  standing,
  text,
  told,
  type Read,
} from './fields.ts';
import { MOST_KEYS } from '../numbers/curve.ts';
import type { Reader } from './read.ts';
import { checkBox, nearBox, placed, target } from './targets.ts';

export const MOST_CUES = 64;
export const MOST_TRACKS = 64;
export const MOST_CUE_KEYS = 256;
/** Seconds a cue may last. */
export const LONGEST_CUE = 600;

const cueKey = object({
  at: told(number, 'Seconds from the beginning of the cue.'),
  value: told(
    list(number, 4 * MOST_KEYS),
    'Of a curve or a gradient its keys; of a picture its place among the set’s choices, from 0.',
  ),
  go: standing(
    told(
      oneOf(['eased', 'straight', 'held']),
      'How it goes on to the next key: by slopes, in a straight line, or not until it is there.',
    ),
    'eased',
  ),
  into: optional(
    told(
      list(number, 4),
      'Slopes before it, a second; where they are not told, such that nothing overshoots.',
    ),
  ),
  out: optional(told(list(number, 4), 'Slopes after it, a second.')),
});
export type CueKey = Read<typeof cueKey>;

const track = object({
  ...{ id, target, keys: list(cueKey, MOST_CUE_KEYS) },
  side: optional(
    told(
      oneOf(['there', 'back']),
      'It counts on the way there alone, or on the way back; both, where not told.',
    ),
  ),
});
export type Track = Read<typeof track>;

export const CUE_STARTS = ['key', 'click', 'near', 'away', 'cue', 'begin'] as const;

export const start = object({
  by: oneOf(CUE_STARTS),
  key: optional(told(text(32), 'The key’s place, as browsers tell it: Space, KeyN, Digit1.')),
  prop: optional(told(id, 'The prop that is clicked; any, where none is told.')),
  of: optional(told(placed, 'What comes near, or goes away. A prop’s id, pointer or walker.')),
  to: optional(told(placed, 'What it comes near to. A prop’s id, pointer or walker.')),
  within: optional(told(number, 'Metres; where it is not told 1, and 0 of a box.')),
  box: optional(nearBox),
  cue: optional(told(id, 'The cue that starts it.')),
  at: optional(told(number, 'Seconds of that cue at which it does; its end, where that is not told.')),
});
/** What starts a cue: a key, a click, nearness or its end, another cue, or the rehearsal’s beginning. */
export type CueStart = Read<typeof start>;

const cue = object({
  id,
  name: text(120),
  length: told(number, `Seconds, above 0 and up to ${LONGEST_CUE}.`),
  back: optional(
    told(
      number,
      'Seconds that the whole way back takes, where it goes back; as long as there, where not told.',
    ),
  ),
  play: standing(oneOf(['once', 'looped', 'there and back']), 'once'),
  again: standing(
    told(oneOf(['restart', 'turn round', 'refuse']), 'What happens where it is started while it runs.'),
    'restart',
  ),
  blend: standing(
    told(number, 'Seconds in which it takes over what stood before, whenever it starts from its beginning.'),
    0,
  ),
  after: standing(told(oneOf(['hold', 'let go']), 'What becomes of its values once it has ended.'), 'hold'),
  weight: standing(told(number, 'How much of it is mixed over what it meets, from 0 to 1.'), 1),
  priority: standing(told(number, 'Where two cues meet, the higher lies over the other.'), 0),
  off: optional(told(flag, 'It is started by nothing but the author and scripts.')),
  starts: standing(list(start, 8), []),
  tracks: list(track, MOST_TRACKS),
});
export type Cue = Read<typeof cue>;
export const cues = told(list(cue, MOST_CUES), 'Timed curves on what the set is made of.');

/** Says what no field can tell alone. */
export const checkCues = (r: Reader, list: readonly Cue[]): void => {
  const seen = new Set<string>();
  const between = (x: number | undefined, least: number, most: number, path: string): void => {
    if (x !== undefined && !(x >= least && x <= most))
      r.problem(path, `This should lie between ${least} and ${most}, and is ${x}.`);
  };
  list.forEach((each, i) => {
    const path = `cues[${i}]`;
    if (seen.has(each.id)) r.problem(`${path}.id`, `Two cues have the id “${each.id}”.`);
    seen.add(each.id);
    if (!(each.length > 0 && each.length <= LONGEST_CUE))
      r.problem(
        `${path}.length`,
        `A cue lasts more than 0 and up to ${LONGEST_CUE} seconds; this one ${each.length}.`,
      );
    if (each.back !== undefined && !(each.back > 0 && each.back <= LONGEST_CUE))
      r.problem(
        `${path}.back`,
        `The way back takes more than 0 and up to ${LONGEST_CUE} seconds; this one ${each.back}.`,
      );
    between(each.weight, 0, 1, `${path}.weight`);
    between(each.blend, 0, 60, `${path}.blend`);
    each.starts.forEach(({ box }, k) => checkBox(r, box, `${path}.starts[${k}].box`));
    each.tracks.forEach(({ keys }, k) => {
      const at = `${path}.tracks[${k}].keys`;
      if (!keys.length) r.problem(at, 'A track has at least one key.');
      keys.forEach((key, n) => {
        between(key.at, 0, each.length, `${at}[${n}].at`);
        if (n && key.at < keys[n - 1]!.at) r.problem(`${at}[${n}].at`, 'The keys are not in order.');
        const [size, first] = [key.value.length, keys[0]!.value.length];
        // A curve or a gradient may have more keys of its own than another.
        const isTable = size % 4 === 0 && first % 4 === 0;
        if (!size || (size !== first && !isTable))
          r.problem(`${at}[${n}].value`, 'Every key of a track has as many numbers as its first.');
        for (const slopes of [key.into, key.out])
          if (slopes && slopes.length !== key.value.length)
            r.problem(`${at}[${n}]`, 'A key has as many slopes as it has numbers.');
      });
    });
  });
};
