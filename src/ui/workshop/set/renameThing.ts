import type { Edit } from '#core/document/patch.ts';
import type { SetThing } from '#core/document/things.ts';
import { renameInScript } from '#core/edits/partEdits.ts';
import { commitDeed } from '../parts/doToPart.ts';
import type { Session } from '../state/session.svelte.ts';

/** Gives a prop, a cue or a flourish another name; the script that plays in its set follows, in one deed. */
export const renameThing = (
  session: Session,
  word: SetThing,
  [from, to]: readonly [string, string],
  edit: Edit,
): void => {
  const { playing } = session;
  const source = playing?.body.source ?? '';
  const followed = renameInScript(source, from, to, word);
  if (!playing || followed === source) {
    session.apply(edit);
    session.settle();
    return;
  }
  void commitDeed(session, edit.label, [
    { op: 'change', id: edit.part, patches: edit.patches },
    { op: 'change', id: playing.id, patches: [{ op: 'replace', path: ['source'], value: followed }] },
  ]);
};
