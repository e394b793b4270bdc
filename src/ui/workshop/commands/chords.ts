/** What of a key's event tells which keys are held. */
export type KeyHeld = Pick<KeyboardEvent, 'key' | 'code' | 'ctrlKey' | 'metaKey' | 'altKey' | 'shiftKey'>;

/** Letters are told by what they write; where that is no Latin letter, by where they lie. */
const letterOf = ({ key, code }: KeyHeld): string | null => {
  if (/^[a-z]$/i.test(key)) return key.toUpperCase();
  return /^[\x20-\x7e]$/.test(key) || key.length > 1 ? null : (/^Key([A-Z])$/.exec(code)?.[1] ?? null);
};

/**
 * The keys that are held, as commands name them: “Ctrl+Shift+Z”, “Alt+ArrowLeft”, “?”. ⌘ counts as Ctrl. A sign is
 * itself, whatever has to be held to write it.
 */
export const chordOf = (event: KeyHeld): string => {
  const letter = letterOf(event);
  const sign = !letter && event.key.length === 1 && event.key !== ' ';
  const held = [
    ...(event.ctrlKey || event.metaKey ? ['Ctrl'] : []),
    ...(event.altKey ? ['Alt'] : []),
    ...(event.shiftKey && !sign ? ['Shift'] : []),
  ];
  return [...held, letter ?? event.key].join('+');
};

const SIGNS: Readonly<Record<string, string>> = {
  ...{ ArrowLeft: '←', ArrowRight: '→', ArrowUp: '↑', ArrowDown: '↓', Delete: 'Del' },
};

/** As a menu shows it: “Ctrl Shift Z”. */
export const chordText = (chord: string): string =>
  chord
    .split('+')
    .map((each) => SIGNS[each] ?? each)
    .join(' ');
