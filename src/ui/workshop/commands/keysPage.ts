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
];

/** What a pin’s marker hears itself. */
const ON_PIN: readonly Row[] = [
  ['← → ↑ ↓', 'move it over what is seen; with Shift further'],
  ['D', 'duplicate it'],
  ['Delete', 'take it off'],
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
  { place: 'In the project’s list', keys: [['← → ↑ ↓', 'the part before or after'], ...rowsOf(ON_PART)] },
];
