import { partOfChange, type PartChange } from '#core/edits/changeParts.ts';
import type { Part } from '#core/document/project.ts';

const TRIES = 4;
const PAUSE_MS = 500;

/**
 * Sends changes to several parts, which the server does whole or not at all. One whose reply was lost is asked for
 * again under the same deed.
 * @param before the parts as they were saved
 * @param after the parts with the changes done
 * @returns each part's revision, in the order of the changes; null of one that was deleted
 * @throws Error with the server's sentence
 */
export const sendChanges = async (
  project: string,
  deed: string,
  changes: readonly PartChange[],
  before: ReadonlyMap<string, Part>,
  after: ReadonlyMap<string, Part>,
  ask: typeof fetch = fetch,
): Promise<readonly (number | null)[]> => {
  const written = changes.map((change) => {
    const { op } = change;
    if (op === 'delete') return { op, id: change.id };
    const { id, kind, name, body } = after.get(partOfChange(change))!;
    return op === 'add'
      ? { op, id, kind, name, body }
      : { op, id, name, revision: before.get(id)!.revision, body };
  });
  for (let tried = 1; ; tried += 1) {
    const response = await ask(`/api/projects/${project}/changes`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ deed, changes: written }),
    }).catch(() => null);
    const answer = (await response?.json().catch(() => null)) as
      { revisions?: readonly (number | null)[]; message?: string } | null | undefined;
    if (response?.ok && answer?.revisions) return answer.revisions;
    if (response && response.status < 500 && response.status !== 429 && !response.ok)
      throw new Error(answer?.message ?? `The server answered ${response.status}.`);
    if (tried === TRIES)
      throw new Error(answer?.message ?? 'The server cannot be reached; try again when it is.');
    await new Promise((resolve) => setTimeout(resolve, PAUSE_MS * tried));
  }
};
