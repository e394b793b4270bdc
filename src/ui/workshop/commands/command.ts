/** Where keys are heard, as the keys page groups them. */
export type Place =
  | 'Anywhere'
  | 'On a step card'
  | 'On a card, for its strand'
  | 'On a number'
  | 'In the project’s list'
  | 'On a prop, in its row or on the stage'
  | 'On a pin, on the stage'
  | 'On a reference picture'
  | 'On a cue or a flourish'
  | 'On a layer of a flourish'
  | 'On a key of a cue'
  | 'On a texture, or a step of one';

/**
 * One thing an author can do, told once: the command list, the page of keys, menus and the handling of keys are all
 * read from here.
 */
export interface Command<Around> {
  readonly name: string | ((around: Around) => string);
  /** Chords that do it, the one that is shown first. */
  readonly keys?: readonly string[];
  /** What the page of keys says of them, where the name does not. */
  readonly tells?: string;
  /** Where it can be done; always, unless it says. */
  readonly when?: (around: Around) => boolean;
  readonly run: (around: Around) => void;
}

export const nameOf = <Around>({ name }: Command<Around>, around: Around): string =>
  typeof name === 'string' ? name : name(around);

/** The command that a chord means now. */
export const commandFor = <Around, C extends Command<Around>>(
  commands: readonly C[],
  chord: string,
  around: Around,
): C | undefined => commands.find((each) => each.keys?.includes(chord) && (each.when?.(around) ?? true));
