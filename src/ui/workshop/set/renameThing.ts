import { toast } from 'svelte-sonner';
import type { Edit } from '#core/document/patch.ts';
import type { SetThing } from '#core/document/things.ts';
import { renameThing as changesOf, scriptsSharedBy, type SharedChoice } from '#core/edits/renameThing.ts';
import { ask } from '../../parts/asking.svelte.ts';
import { newId } from '../../parts/newId.ts';
import { commitDeed } from '../parts/doToPart.ts';
import type { Session } from '../state/session.svelte.ts';

/**
 * Gives a prop, a cue or a flourish another name; the scripts that play in its set follow, in one undoable change. Where a
 * script plays in another set that has a thing of the old name, the author chooses what becomes of it.
 */
export const renameThing = async (
  session: Session,
  word: SetThing,
  [from, to]: readonly [string, string],
  edit: Edit,
): Promise<void> => {
  const rename = { set: edit.part, word, from, to, edit };
  const [shared] = scriptsSharedBy(session.parts, rename);
  const choice = shared
    ? await ask({
        title: `Rename ${from} to ${to}?`,
        sentence: `The script ${shared.script} calls it by name and plays in ${shared.sets.join(', ')} too, where a ${word} is called ${from}.`,
        answers: [
          { value: 'rename', label: 'Rename there too' },
          { value: 'copy', label: 'Copy the script for this set' },
        ],
      })
    : 'rename';
  if (choice === null) return;
  const changes = changesOf(session.parts, rename, choice as SharedChoice, newId);
  if (typeof changes === 'string') return void toast.error(changes);
  if (changes.length > 1) return void commitDeed(session, edit.label, changes);
  session.apply(edit);
  session.settle();
};
