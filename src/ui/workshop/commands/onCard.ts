import { commandFor, type Command } from './command.ts';

/** What can be done to a step from its card. */
export type StepDeed =
  | ('tap' | 'left' | 'right' | 'duplicate' | 'mute' | 'delete' | 'before' | 'after' | 'expose')
  | ('note' | 'open' | 'fold' | 'unfold' | 'unfold-motif' | 'copy' | 'cut' | 'paste' | 'definition' | 'uses')
  | StrandDeed;
/** What can be done to a card's strand from it. */
export type StrandDeed =
  'strand-new' | 'strand-rename' | 'strand-up' | 'strand-down' | 'strand-delete' | 'strand-collapse';

/** A card as its commands see it. */
export interface Card {
  readonly isCode: boolean;
  readonly isMotif: boolean;
  readonly muted: boolean;
  readonly do: (deed: StepDeed) => void;
}
export interface CardCommand extends Command<Card> {
  readonly deed: StepDeed;
  /** Its keys reach the card as another event, which brings what they are about. */
  readonly heardBy?: 'paste';
}

const told = (
  deed: StepDeed,
  name: CardCommand['name'],
  keys: readonly string[],
  tells: string,
  when?: (card: Card) => boolean,
): CardCommand => ({
  ...{ deed, name, keys, tells, run: (card) => card.do(deed) },
  ...(when ? { when } : {}),
});

/** The menu of a card. */
export const ON_CARD: readonly CardCommand[] = [
  told('tap', 'Tap', ['T'], 'tap'),
  told('before', 'Insert before', ['I'], 'insert a step before it'),
  told('after', 'Add after', ['A'], 'add a step after it'),
  told('open', 'Open', ['O'], 'open its code or motif', ({ isCode, isMotif }) => isCode || isMotif),
  told('expose', 'Expose a number', ['E'], 'expose its first number'),
  told('note', 'Note', ['Q'], 'write a note'),
  told('fold', 'Fold into an expression', ['F'], 'fold the steps up to it into an expression'),
  told('unfold', 'Unfold the expression', ['U'], 'unfold an expression'),
  told(
    'unfold-motif',
    'Unfold this use',
    ['Shift+U'],
    'unfold this use of a motif',
    ({ isMotif }) => isMotif,
  ),
  told('definition', 'Go to what it reads', ['G'], 'go to what it reads'),
  told('uses', 'Find uses of its strand', ['W'], 'find uses of its strand'),
  told('copy', 'Copy', ['Ctrl+C'], 'copy as text'),
  told('cut', 'Cut', ['Ctrl+X'], 'cut as text'),
  { ...told('paste', 'Paste after', ['Ctrl+V'], 'paste as text'), heardBy: 'paste' },
  told('left', 'Move left', ['Alt+ArrowLeft'], 'move it along the strand'),
  told('right', 'Move right', ['Alt+ArrowRight'], 'move it along the strand'),
  told('duplicate', 'Duplicate', ['D'], 'duplicate'),
  told('mute', ({ muted }) => (muted ? 'Unmute' : 'Mute'), ['M'], 'mute'),
  told('delete', 'Delete', ['Delete', 'Backspace'], 'delete'),
];

/** What a card's keys do to its strand. */
export const ON_STRAND: readonly CardCommand[] = [
  told('strand-new', 'New strand below', ['N'], 'new strand below'),
  told('strand-rename', 'Rename', ['F2'], 'rename'),
  told('strand-collapse', 'Collapse to one line', ['S'], 'collapse to one line'),
  told('strand-up', 'Move up', ['Alt+ArrowUp'], 'move up'),
  told('strand-down', 'Move down', ['Alt+ArrowDown'], 'move down'),
  told('strand-delete', 'Delete', ['Shift+Delete'], 'delete, if nothing uses it'),
];

/** What a chord does to a card that has the focus. */
export const cardCommandFor = (chord: string, card: Card): CardCommand | undefined => {
  const found = commandFor([...ON_CARD, ...ON_STRAND], chord, card);
  return found?.heardBy ? undefined : found;
};
