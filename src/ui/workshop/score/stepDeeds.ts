/** What can be done to a step from its card. */
export type StepDeed =
  | ('tap' | 'left' | 'right' | 'duplicate' | 'mute' | 'delete' | 'before' | 'after' | 'expose')
  | ('note' | 'open' | 'fold' | 'unfold' | 'unfold-motif' | 'copy' | 'cut' | 'paste' | 'definition' | 'uses')
  | ('strand-new' | 'strand-rename' | 'strand-up' | 'strand-down' | 'strand-delete' | 'strand-collapse');

/** The menu of a card, with each deed's keys. */
export const DEEDS: readonly (readonly [deed: StepDeed, label: string, keys: string])[] = [
  ['tap', 'Tap', 'T'],
  ['before', 'Insert before', 'I'],
  ['after', 'Add after', 'A'],
  ['open', 'Open', 'O'],
  ['expose', 'Expose a number', 'E'],
  ['note', 'Note', 'Q'],
  ['fold', 'Fold into an expression', 'F'],
  ['unfold', 'Unfold the expression', 'U'],
  ['unfold-motif', 'Unfold this use', 'Shift U'],
  ['definition', 'Go to what it reads', 'G'],
  ['uses', 'Find uses of its strand', 'W'],
  ['copy', 'Copy', 'Ctrl C'],
  ['cut', 'Cut', 'Ctrl X'],
  ['paste', 'Paste after', 'Ctrl V'],
  ['left', 'Move left', 'Alt ←'],
  ['right', 'Move right', 'Alt →'],
  ['duplicate', 'Duplicate', 'D'],
  ['mute', 'Mute', 'M'],
  ['delete', 'Delete', 'Del'],
];

const KEYS: Readonly<Record<string, StepDeed>> = {
  ...{ Delete: 'delete', Backspace: 'delete', 'Shift+Delete': 'strand-delete' },
  ...{ 'Alt+ArrowLeft': 'left', 'Alt+ArrowRight': 'right' },
  ...{ 'Alt+ArrowUp': 'strand-up', 'Alt+ArrowDown': 'strand-down', F2: 'strand-rename' },
  ...{ t: 'tap', m: 'mute', d: 'duplicate', a: 'after', i: 'before', e: 'expose', n: 'strand-new' },
  ...{ q: 'note', o: 'open', f: 'fold', u: 'unfold', 'Shift+U': 'unfold-motif', g: 'definition', w: 'uses' },
  ...{ s: 'strand-collapse', 'Ctrl+c': 'copy', 'Ctrl+x': 'cut' },
};

export const deedOfKeys = (event: KeyboardEvent): StepDeed | undefined => {
  const command = event.ctrlKey || event.metaKey;
  const held = `${command ? 'Ctrl+' : ''}${event.altKey ? 'Alt+' : ''}${event.shiftKey ? 'Shift+' : ''}${event.key}`;
  return KEYS[held];
};
