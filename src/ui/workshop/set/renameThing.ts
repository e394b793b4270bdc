import type { Edit } from '#core/document/patch.ts';
import type { SetThing } from '#core/document/things.ts';
import type { PartChange } from '#core/edits/changeParts.ts';
import { renameInScript } from '#core/edits/partEdits.ts';
import { commitDeed } from '../parts/doToPart.ts';
import type { Session } from '../state/session.svelte.ts';

/** Gives a prop, a cue or a flourish another name; the scripts that play in its set follow, in one deed. */
export const renameThing = (
  session: Session,
  word: SetThing,
  [from, to]: readonly [string, string],
  edit: Edit,
): void => {
  const followed = session.played.flatMap(({ id, body: { source } }): PartChange[] => {
    const value = renameInScript(source, from, to, word);
    return value === source
      ? []
      : [{ op: 'change', id, patches: [{ op: 'replace', path: ['source'], value }] }];
  });
  if (!followed.length) {
    session.apply(edit);
    session.settle();
    return;
  }
  void commitDeed(session, edit.label, [{ op: 'change', id: edit.part, patches: edit.patches }, ...followed]);
};
