import { newId as freshId } from '../parts/newId.ts';
import { goto } from '$app/navigation';
import { addStep, placeOfStep } from '#core/edits/shaderEdits.ts';
import type { Step } from '#core/document/shader.ts';
import type { Command } from './CommandList.svelte';
import { findItems } from './score/paletteItems.ts';
import type { Rehearsal } from './rehearsal.svelte.ts';
import type { Session } from './session.svelte.ts';

export const focusStep = (id: string): void =>
  document.querySelector<HTMLElement>(`[data-step="${id}"]`)?.focus();

const addToHand = (session: Session, step: Omit<Step, 'id'>): void => {
  const shader = session.score;
  if (!shader?.body.strands.length) return;
  const last = { strand: shader.body.strands.length - 1, step: shader.body.strands.at(-1)!.steps.length };
  const held = session.selected ? placeOfStep(shader.body, session.selected) : null;
  const id = `step-${freshId()}`;
  session.apply(addStep(shader.id, held ? { ...held, step: held.step + 1 } : last, { id, ...step }));
  session.select(id);
  setTimeout(() => focusStep(id));
};

/** Every command of the workshop, as the command list finds them by name. */
export const commandsOf = (
  session: Session,
  rehearsal: Rehearsal,
  open: (what: 'history' | 'shortcuts' | 'parameter' | 'import') => void,
): Command[] => [
  { name: rehearsal.running ? 'Stop the rehearsal' : 'Rehearse', keys: 'Ctrl Enter', run: rehearsal.toggle },
  ...(rehearsal.driven.size ? [{ name: 'Keep the driven values', run: () => rehearsal.keep() }] : []),
  ...(session.canUndo ? [{ name: `Undo: ${session.canUndo}`, keys: 'Ctrl Z', run: session.undo }] : []),
  ...(session.canRedo ? [{ name: `Redo: ${session.canRedo}`, keys: 'Ctrl Shift Z', run: session.redo }] : []),
  { name: 'Show the finished picture', keys: 'Escape', run: () => session.show({ kind: 'finished' }) },
  { name: 'Show normals', run: () => session.show({ kind: 'normals' }) },
  { name: 'Show UV', run: () => session.show({ kind: 'uv' }) },
  {
    name: 'Add strand',
    run: () => document.querySelector<HTMLElement>('[data-command=add-strand]')?.click(),
  },
  {
    name: session.wraps ? 'Keep strands in one line' : 'Wrap long strands',
    run: () => session.setWraps(!session.wraps),
  },
  { name: 'Add parameter', run: () => open('parameter') },
  { name: 'Import GLSL', run: () => open('import') },
  { name: 'History of parts', run: () => open('history') },
  { name: 'Keys', keys: '?', run: () => open('shortcuts') },
  { name: 'Handover', run: () => void goto(`/projects/${session.id}/handover`) },
  { name: 'All projects', run: () => void goto('/') },
  ...session.materials.map((each) => ({
    name: `Show material ${each.name}`,
    run: () => session.showMaterial(each.id),
  })),
  ...(session.document?.strands ?? []).map((each) => ({
    name: `Go to strand ${each.name}`,
    run: () => {
      const first = each.steps[0];
      if (first) focusStep(first.id);
    },
  })),
  ...[...session.library.values()].map((each) => ({
    name: `Open motif ${each.name}`,
    run: () => session.showMotif(each.id),
  })),
  ...(session.openMotif ? [{ name: 'Back to the shader', run: () => session.showMotif(null) }] : []),
  ...findItems('', session.library, session.openMotif?.id ?? null).map((each) => ({
    name: `Add step ${each.name}`,
    run: () => addToHand(session, each.step),
  })),
];
