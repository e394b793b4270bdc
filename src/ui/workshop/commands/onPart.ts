import type { Part } from '#core/document/project.ts';
import type { Command } from './command.ts';

/** A part in the project’s list, as its commands see it. */
export interface PartHere {
  readonly part: Part;
  readonly do: (deed: PartDeed) => void;
}
export type PartDeed = 'open' | 'rename' | 'duplicate' | 'earlier' | 'later' | 'delete';

export interface PartCommand extends Command<PartHere> {
  readonly deed: PartDeed;
}

const told = (deed: PartDeed, name: string, keys: readonly string[], tells: string): PartCommand => ({
  ...{ deed, name, keys, tells, run: (here) => here.do(deed) },
  // A project has one list of shared values, made by itself.
  ...(deed === 'open' || deed === 'rename' ? {} : { when: ({ part }) => part.kind !== 'shared' }),
});

/** The menu of a part; its keys are heard on its row. */
export const ON_PART: readonly PartCommand[] = [
  told('open', 'Open', ['Enter'], 'open it'),
  told('rename', 'Rename', ['F2'], 'rename it'),
  told('duplicate', 'Duplicate', ['D'], 'duplicate it'),
  ...(['earlier', 'later'] as const).map((deed): PartCommand => ({
    ...told(
      deed,
      `Move ${deed}`,
      [deed === 'earlier' ? 'Alt+ArrowUp' : 'Alt+ArrowDown'],
      'move a set among the sets',
    ),
    when: ({ part }) => part.kind === 'stage',
  })),
  told('delete', 'Delete', ['Delete', 'Backspace'], 'delete it'),
];
