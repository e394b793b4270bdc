/** Every key of the workshop, as the shortcuts page shows it. */
export const SHORTCUTS: readonly {
  readonly place: string;
  readonly keys: readonly (readonly [keys: string, does: string])[];
}[] = [
  {
    place: 'Anywhere',
    keys: [
      ['Ctrl K', 'every command by name'],
      ['Ctrl Z', 'undo'],
      ['Ctrl Shift Z', 'redo'],
      ['Ctrl Enter', 'rehearse, or stop'],
      ['/', 'add a step: every operator by name'],
      ['Escape', 'stop rehearsing; else back to the finished picture'],
      ['?', 'this page'],
    ],
  },
  {
    place: 'On a step card',
    keys: [
      ['← →', 'the card before or after'],
      ['↑ ↓', 'the strand above or below'],
      ['Enter', 'into it: its first argument; Escape comes back'],
      ['Tab', 'the next card'],
      ['A', 'add a step after it'],
      ['I', 'insert a step before it'],
      ['D', 'duplicate'],
      ['M', 'mute'],
      ['T', 'tap'],
      ['E', 'expose its first number'],
      ['O', 'open its code or motif'],
      ['Q', 'write a note'],
      ['F', 'fold the steps up to it into an expression'],
      ['U', 'unfold an expression'],
      ['Shift U', 'unfold this use of a motif'],
      ['G', 'go to what it reads'],
      ['W', 'find uses of its strand'],
      ['Ctrl C X V', 'copy, cut, paste as text'],
      ['Shift ← →', 'choose several; Ctrl click too'],
      ['Alt ← →', 'move it along the strand'],
      ['Delete', 'delete'],
    ],
  },
  {
    place: 'On a card, for its strand',
    keys: [
      ['N', 'new strand below'],
      ['F2', 'rename'],
      ['S', 'collapse to one line'],
      ['Alt ↑ ↓', 'move up or down'],
      ['Shift Delete', 'delete, if nothing uses it'],
    ],
  },
  {
    place: 'On a number',
    keys: [
      ['drag', 'change'],
      ['Shift drag', 'finer'],
      ['Ctrl drag', 'coarser'],
      ['↑ ↓', 'a step up or down'],
      ['type', 'a number, sums such as 3/8, or in the score an expression'],
    ],
  },
];
