import type { Part } from '#core/document/project.ts';

/** What became of a part that was sent. */
export type Sent =
  | { readonly kind: 'saved'; readonly revision: number }
  | { readonly kind: 'conflict'; readonly theirs: Part; readonly message: string }
  | { readonly kind: 'refused' | 'away'; readonly message: string };

/** A change on its way: asked for again under the same deed, it is answered as it was and not done twice. */
interface Pending {
  readonly deed: string;
  readonly part: Part;
}

interface Answer {
  readonly revision?: number;
  readonly message?: string;
  readonly theirs?: Part;
}

const AWAY = 'The server cannot be reached. Changes are kept in this browser and sent when it is back.';

/**
 * Sends parts of a project to the server. One whose reply was lost is first asked for again, so that nothing comes to be
 * in conflict with itself.
 */
export const createSender = (project: string, newDeed: () => string, ask: typeof fetch = fetch) => {
  const pending = new Map<string, Pending>();

  const put = async ({ deed, part }: Pending): Promise<Sent> => {
    const response = await ask(`/api/projects/${project}/parts/${encodeURIComponent(part.id)}`, {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ deed, revision: part.revision, name: part.name, body: part.body }),
    }).catch(() => null);
    // No reply tells nothing of what was done: it stays pending.
    if (!response) return { kind: 'away', message: AWAY };
    const answer = (await response.json().catch(() => null)) as Answer | null;
    if (response.ok && answer?.revision === undefined) return { kind: 'away', message: AWAY };
    if (response.status >= 500) return { kind: 'away', message: answer?.message ?? AWAY };
    pending.delete(part.id);
    if (response.ok) return { kind: 'saved', revision: answer!.revision! };
    const message = answer?.message ?? `The server answered ${response.status}.`;
    if (response.status === 409 && answer?.theirs)
      return { kind: 'conflict', theirs: answer.theirs, message };
    return { kind: response.status === 429 ? 'away' : 'refused', message };
  };

  return {
    /** The document that was sent of a part and not answered, or undefined. */
    unanswered: (id: string): unknown => pending.get(id)?.part.body,
    send: async (part: Part): Promise<Sent> => {
      let from = part;
      const before = pending.get(part.id);
      if (before) {
        const sent = await put(before);
        if (sent.kind !== 'saved') return sent;
        if (before.part.body === part.body && before.part.name === part.name) return sent;
        from = { ...part, revision: sent.revision };
      }
      const now = { deed: newDeed(), part: from };
      pending.set(part.id, now);
      return put(now);
    },
    forget: (id: string): void => void pending.delete(id),
  };
};
