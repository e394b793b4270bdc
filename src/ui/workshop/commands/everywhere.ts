import type { Step } from '#core/document/shader.ts';
import { addStep, placeOfStep } from '#core/edits/shaderEdits.ts';
import { newId } from '../../parts/newId.ts';
import type { Rehearsal } from '../rehearsal.svelte.ts';
import { newStrand } from '../score/newStrand.ts';
import { findItems } from '../score/paletteItems.ts';
import { focusNow, focusStep } from '../score/stops.ts';
import { VIEWS } from '../state/views.ts';
import type { Session } from '../state/session.svelte.ts';
import type { Command } from './command.ts';

/** What opens over the workshop. */
export type Sheet = 'commands' | 'history' | 'keys' | 'parameter' | 'import';

/** The workshop as its commands see it. */
export interface Desk {
  readonly session: Session;
  readonly rehearsal: Rehearsal;
  readonly open: (sheet: Sheet) => void;
  /** Leaves for another page. */
  readonly go: (path: string) => void;
}
export interface DeskCommand extends Command<Desk> {
  /** Its keys are heard in a field that is typed in, too. */
  readonly whileTyping?: true;
  /** Its keys are heard while rehearsing, when all others are the player's. */
  readonly whileRehearsing?: true;
  /** Its keys are heard over a dialog, too. */
  readonly overDialogs?: true;
}

/** The place behind the step in hand, else at the end of the last strand. */
const placeInHand = ({ session }: Desk): { readonly strand: number; readonly step: number } | null => {
  const { score, selected } = session;
  if (!score?.body.strands.length) return null;
  const held = score.body.strands.some((each) => each.steps.some((step) => step.id === selected));
  if (held) {
    const at = placeOfStep(score.body, selected!);
    return { ...at, step: at.step + 1 };
  }
  return { strand: score.body.strands.length - 1, step: score.body.strands.at(-1)!.steps.length };
};

const askForStep = (desk: Desk): void => {
  const at = placeInHand(desk);
  const strand = at && desk.session.score!.body.strands[at.strand];
  if (strand) desk.session.askFor({ strand: strand.id, at: at.step });
};

const addToHand = (desk: Desk, step: Omit<Step, 'id'>): void => {
  const at = placeInHand(desk);
  if (!at) return;
  const { session } = desk;
  const id = `step-${newId()}`;
  session.apply(addStep(session.score!.id, at, { id, ...step }));
  session.select(id);
  focusNow(id);
};

/** What can be done wherever one is. */
export const EVERYWHERE: readonly DeskCommand[] = [
  {
    ...{ name: 'Every command', keys: ['Ctrl+K'], tells: 'every command by name' },
    ...{ whileTyping: true, whileRehearsing: true, overDialogs: true },
    run: ({ open }) => open('commands'),
  },
  {
    name: ({ rehearsal }) => (rehearsal.running ? 'Stop the rehearsal' : 'Rehearse'),
    ...{ keys: ['Ctrl+Enter'], tells: 'rehearse, or stop', whileTyping: true, whileRehearsing: true },
    run: ({ rehearsal }) => rehearsal.toggle(),
  },
  {
    name: 'Keep the driven values',
    when: ({ session }) => session.values.driven.size > 0,
    run: ({ rehearsal }) => rehearsal.keep(),
  },
  {
    name: ({ session }) => `Undo: ${session.canUndo}`,
    ...{ keys: ['Ctrl+Z'], tells: 'undo', whileRehearsing: true },
    when: ({ session }) => session.canUndo !== null,
    run: ({ session }) => session.undo(),
  },
  {
    name: ({ session }) => `Redo: ${session.canRedo}`,
    ...{ keys: ['Ctrl+Shift+Z'], tells: 'redo', whileRehearsing: true },
    when: ({ session }) => session.canRedo !== null,
    run: ({ session }) => session.redo(),
  },
  {
    ...{ name: 'Add a step', keys: ['/'], tells: 'add a step: every operator by name' },
    when: (desk) => placeInHand(desk) !== null,
    run: askForStep,
  },
  {
    ...{ name: 'Show the finished picture', keys: ['Escape'], whileRehearsing: true },
    tells: 'stop rehearsing; else back to the finished picture',
    run: ({ session, rehearsal }) =>
      rehearsal.running ? rehearsal.stop() : session.show({ kind: 'finished' }),
  },
  ...VIEWS.filter(({ kind }) => kind !== 'finished').map(({ kind, name }) => ({
    name: `Show ${name}`,
    run: ({ session }: Desk) => session.show({ kind }),
  })),
  {
    name: 'Add strand',
    when: ({ session }) => session.score !== null,
    run: ({ session }) => newStrand(session),
  },
  {
    name: ({ session }) => (session.wraps ? 'Keep strands in one line' : 'Wrap long strands'),
    run: ({ session }) => session.setWraps(!session.wraps),
  },
  { name: 'Add parameter', run: ({ open }) => open('parameter') },
  { name: 'Import GLSL', run: ({ open }) => open('import') },
  { name: 'History of parts', run: ({ open }) => open('history') },
  { name: 'Keys', keys: ['?'], tells: 'this page', run: ({ open }) => open('keys') },
  { name: 'Handover', run: ({ session, go }) => go(`/projects/${session.id}/handover`) },
  { name: 'All projects', run: ({ go }) => go('/') },
  {
    name: 'Back to the shader',
    when: ({ session }) => session.openMotif !== null,
    run: ({ session }) => session.showMotif(null),
  },
];

/** What can be done to what the project holds: materials, strands, motifs, and every step there is to add. */
const offered = ({ session }: Desk): DeskCommand[] => [
  ...session.materials.map((each) => ({
    name: `Show material ${each.name}`,
    run: () => session.showMaterial(each.id),
  })),
  ...(session.score?.body.strands ?? []).map((each) => ({
    name: `Go to strand ${each.name}`,
    run: () => {
      const [first] = each.steps;
      if (first) focusStep(first.id);
    },
  })),
  ...[...session.library.values()].map((each) => ({
    name: `Open motif ${each.name}`,
    run: () => session.showMotif(each.id),
  })),
  ...findItems('', session.library, session.openMotif?.id ?? null).map((each) => ({
    name: `Add step ${each.name}`,
    run: (desk: Desk) => addToHand(desk, each.step),
  })),
];

/** Every command there is now, as the command list finds them by name. */
export const commandsNow = (desk: Desk): DeskCommand[] => [
  ...EVERYWHERE.filter(({ when }) => when?.(desk) ?? true),
  ...offered(desk),
];
