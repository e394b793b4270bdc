import { chordText } from './chords.ts';
import type { Command, Place } from './command.ts';
import { EVERYWHERE } from './everywhere.ts';
import { ON_CARD, ON_STRAND } from './onCard.ts';
import { ON_PART } from './onPart.ts';
import { HANDLES, ON_PROP } from './onProp.ts';

type Row = readonly [keys: string, does: string];

/** One row for each thing that keys do; what is told alike stands together. */
const rowsOf = (commands: readonly Pick<Command<never>, 'keys' | 'tells' | 'name'>[]): Row[] => {
  const rows = new Map<string, string[]>();
  for (const { keys, tells, name } of commands) {
    if (!keys?.[0]) continue;
    const does = tells ?? (name as string);
    rows.set(does, [...(rows.get(does) ?? []), chordText(keys[0])]);
  }
  return [...rows].map(([does, keys]) => [keys.join(', '), does]);
};

/** Ways through the cards, which a card hears itself. */
const WALKING: readonly Row[] = [
  ['← →', 'the card before or after'],
  ['↑ ↓', 'the strand above or below'],
  ['Enter', 'into it: its first argument; Escape comes back'],
  ['Tab', 'the next card'],
  ['Shift ← →', 'choose several; Ctrl click too'],
];
const ON_NUMBER: readonly Row[] = [
  ['drag', 'change'],
  ['Shift drag', 'finer'],
  ['Ctrl drag', 'coarser'],
  ['↑ ↓', 'a step up or down'],
  ['type', 'a number, sums such as 3/8, or in the score an expression'],
];

/** What the stage hears itself. */
const ON_STAGE: readonly Row[] = [
  ['click', 'take a prop in hand; with Shift, one more'],
  ['← → ↑ ↓', 'move it by 5 cm along the floor; with Shift by 50 cm'],
  ['Page Up, Page Down', 'move it up and down'],
  ['W A S D', 'while walking: forward, left, back and right; the arrows too, Shift in haste; drag to look'],
];

/** What a pin’s marker hears itself. */
const ON_PIN: readonly Row[] = [
  ['← → ↑ ↓', 'move it over what is seen; with Shift further'],
  ['D', 'duplicate it'],
  ['Delete', 'take it off'],
];

/** What a reference picture hears itself. */
const ON_REFERENCE: readonly Row[] = [
  ['← → ↑ ↓', 'move it; with Shift further'],
  ['+ −', 'size it; the wheel too'],
  ['D', 'duplicate it'],
  ['Delete', 'take it off'],
];

/** What the row of a cue or a flourish hears itself, and its playhead. */
const ON_CUE: readonly Row[] = [
  ['↑ ↓', 'the row above or below'],
  ['Enter', 'play it'],
  ['F2', 'rename it'],
  ['D', 'duplicate it'],
  ['Delete', 'delete it'],
  ['← →', 'on the ruler: the playhead by a frame; with Shift by ten'],
  ['Home, End', 'on the ruler: the playhead to the beginning, to the end'],
];
/** What a layer’s bar hears itself. */
const ON_LAYER: readonly Row[] = [
  ['← →', 'begin a frame earlier or later; with Shift ten, with Alt end so'],
  ['D', 'duplicate it'],
  ['H', 'hide or show it'],
  ['Delete', 'delete it'],
  ['drag', 'another time; its end, another length'],
];
/** What a key of a curve hears itself. */
const ON_KEY: readonly Row[] = [
  ['← →', 'a frame earlier or later, all that are in hand'],
  ['↑ ↓', 'up or down; with Shift further'],
  ['Shift click', 'one more in hand; drag over several'],
  ['Ctrl A', 'all of the curve'],
  ['Ctrl C, Ctrl V', 'copy; paste at the playhead'],
  ['Delete', 'delete'],
  ['double click', 'on the curve: a key there'],
];

/** What the row of a texture hears itself, and the cards of its steps. */
const ON_TEXTURE: readonly Row[] = [
  ['Enter', 'take it in hand'],
  ['F2', 'rename the texture, on its name'],
  ['D', 'duplicate the texture, or the step'],
  ['Delete', 'delete the texture, or the step'],
  ['← →', 'the step before or after'],
  ['Alt ← →', 'move the step earlier or later'],
  ['H', 'leave the step out, or take it in'],
];

/** Every key of the workshop by the place where it is heard, read off the commands. */
export const KEYS: readonly { readonly place: Place; readonly keys: readonly Row[] }[] = [
  { place: 'Anywhere', keys: rowsOf(EVERYWHERE) },
  { place: 'On a step card', keys: [...WALKING, ...rowsOf(ON_CARD)] },
  { place: 'On a card, for its strand', keys: rowsOf(ON_STRAND) },
  { place: 'On a number', keys: ON_NUMBER },
  {
    place: 'On a prop, in its row or on the stage',
    keys: [...rowsOf([...ON_PROP, ...HANDLES]), ...ON_STAGE],
  },
  { place: 'On a pin, on the stage', keys: ON_PIN },
  { place: 'On a reference picture', keys: ON_REFERENCE },
  { place: 'On a cue or a flourish', keys: ON_CUE },
  { place: 'On a layer of a flourish', keys: ON_LAYER },
  { place: 'On a key of a cue', keys: ON_KEY },
  { place: 'On a texture, or a step of one', keys: ON_TEXTURE },
  { place: 'In the project’s list', keys: [['← → ↑ ↓', 'the part before or after'], ...rowsOf(ON_PART)] },
];
