import { commandFor, type Command } from './command.ts';

/** What can be done to a step from its card. */
export type StepDeed =
  | ('tap' | 'left' | 'right' | 'duplicate' | 'mute' | 'delete' | 'before' | 'after' | 'expose')
  | ('note' | 'open' | 'fold' | 'unfold' | 'unfold-motif' | 'copy' | 'cut' | 'paste' | 'definition' | 'uses')
  | StrandDeed;
/** What can be done to a card's strand from it. */
export type StrandDeed =
  | ('strand-new' | 'strand-rename' | 'strand-up' | 'strand-down' | 'strand-delete' | 'strand-collapse')
  | 'strand-fold';

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

/** A strand as its commands see it. */
export interface StrandHere {
  readonly collapsed: boolean;
  readonly isFirst: boolean;
  readonly isLast: boolean;
  readonly inShader: boolean;
  readonly do: (deed: StrandDeed) => void;
}
export interface StrandCommand extends Command<StrandHere> {
  readonly deed: StrandDeed;
  /** Shown, but there is nothing for it to do. */
  readonly isIdle?: (strand: StrandHere) => boolean;
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

const toldOfStrand = (
  deed: StrandDeed,
  name: StrandCommand['name'],
  keys: readonly string[],
  tells: string,
  more: Pick<StrandCommand, 'when' | 'isIdle'> = {},
): StrandCommand => ({ deed, name, keys, tells, run: (strand) => strand.do(deed), ...more });

/** The menu of a strand; its keys are heard on every card of it. */
export const ON_STRAND: readonly StrandCommand[] = [
  toldOfStrand('strand-new', 'New strand below', ['N'], 'new strand below'),
  toldOfStrand('strand-rename', 'Rename', ['F2'], 'rename'),
  toldOfStrand('strand-up', 'Move up', ['Alt+ArrowUp'], 'move up', { isIdle: ({ isFirst }) => isFirst }),
  toldOfStrand('strand-down', 'Move down', ['Alt+ArrowDown'], 'move down', {
    isIdle: ({ isLast }) => isLast,
  }),
  toldOfStrand(
    'strand-collapse',
    ({ collapsed }) => (collapsed ? 'Spread out' : 'Collapse to one line'),
    ['S'],
    'collapse to one line',
  ),
  toldOfStrand('strand-fold', 'Fold into a motif…', [], '', { when: ({ inShader }) => inShader }),
  toldOfStrand('strand-delete', 'Delete', ['Shift+Delete'], 'delete, if nothing uses it'),
];

/** What a chord does to a card that has the focus, or to its strand. */
export const deedOfChord = (chord: string, card: Card): StepDeed | undefined => {
  const found = commandFor(ON_CARD, chord, card);
  if (found) return found.heardBy ? undefined : found.deed;
  return ON_STRAND.find(({ keys }) => keys?.includes(chord))?.deed;
};
