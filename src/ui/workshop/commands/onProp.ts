import type { Prop } from '#core/document/project.ts';
import type { Command } from './command.ts';

/** The props in hand, as their commands see them; the last is the one that was taken last. */
export interface PropsHere {
  readonly props: readonly Prop[];
  readonly do: (deed: PropDeed) => void;
}
export type PropDeed =
  | 'frame'
  | 'rename'
  | 'duplicate'
  | 'hide'
  | 'lock'
  | 'stand'
  | 'leave'
  | 'delete'
  | 'move'
  | 'turn'
  | 'scale'
  | 'lay'
  | 'snap';

export interface PropCommand extends Command<PropsHere> {
  readonly deed: PropDeed;
  /** Its name says already what it is done to. */
  readonly isTold?: true;
}

const told = (
  deed: PropDeed,
  name: PropCommand['name'],
  keys: readonly string[],
  tells: string,
): PropCommand => ({
  ...{ deed, name, keys, tells, run: (here) => here.do(deed) },
  when: ({ props }) => props.length > 0,
});
const all = (props: readonly Prop[], is: (prop: Prop) => boolean | undefined): boolean =>
  props.every((each) => is(each) ?? false);

/** The menu of a prop; its keys are heard on its row and on the stage. */
export const ON_PROP: readonly PropCommand[] = [
  told('frame', 'Frame', ['F'], 'frame it'),
  told('rename', 'Rename', ['F2'], 'rename it'),
  told('duplicate', 'Duplicate', ['D'], 'duplicate it'),
  told(
    'hide',
    ({ props }) => (all(props, (each) => each.hidden) ? 'Show' : 'Hide'),
    ['H'],
    'hide it, or show it',
  ),
  told(
    'lock',
    ({ props }) => (all(props, (each) => each.locked) ? 'Unlock' : 'Lock'),
    ['L'],
    'lock it, or unlock it',
  ),
  {
    ...told(
      'stand',
      ({ props }) => `Stand the others on ${props.at(-1)?.name ?? 'the last'}`,
      ['P'],
      'stand the others in hand on the last',
    ),
    isTold: true,
    when: ({ props }) => props.length > 1,
  },
  {
    ...told('leave', 'Put into the world', ['Shift+P'], 'put it into the world, off what it stands on'),
    when: ({ props }) => props.some((each) => each.parent !== undefined),
  },
  told('delete', 'Delete', ['Delete', 'Backspace'], 'delete it'),
];
/** What the handles do. */
export const HANDLES: readonly PropCommand[] = [
  told('move', 'Handles that move', ['M'], 'handles that move'),
  told('turn', 'Handles that turn', ['T'], 'handles that turn'),
  told('scale', 'Handles that scale', ['S'], 'handles that scale'),
  told('lay', 'Lay it on what is there', ['G'], 'drag it over what stands there, to lie on it'),
  told('snap', 'Snap, or not', ['N'], 'snap to 0.25 m, 15° and tenths, or not'),
];
