<script lang="ts" module>
  import { getContext, setContext } from 'svelte';
  import type { Session } from './state/session.svelte.ts';

  const KEY = Symbol('session');
  /** The open project: one for all of its pages. */
  export const sessionHere = (): Session => getContext<Session>(KEY);
</script>

<script lang="ts">
  import { onDestroy, onMount, type Snippet } from 'svelte';
  import { toast } from 'svelte-sonner';
  import type { OpenProject } from './state/openProject.ts';
  import { watchElsewhere } from './state/watchElsewhere.ts';
  import { createSession } from './state/session.svelte.ts';

  let { open, children }: { open: OpenProject; children: Snippet } = $props();
  // svelte-ignore state_referenced_locally
  const session = createSession(open.project);
  setContext(KEY, session);
  onMount(async () => {
    for (const { name, kind, why } of open.unreadable)
      toast.error(`The ${kind} “${name}” cannot be read and is left as it is: ${why}`, {
        duration: Infinity,
      });
    for (const draft of await session.recover())
      toast(`“${draft.name}” was deleted meanwhile; this browser has changes to it that were not saved.`, {
        duration: Infinity,
        action: { label: 'Bring it back', onClick: () => void bringBack(draft.id) },
        cancel: { label: 'Let it go', onClick: () => session.letGo(draft.id) },
      });
  });
  const bringBack = (id: string) =>
    session.bringBack(id).catch((error: unknown) => toast.error((error as Error).message));
  onMount(() => {
    const watch = watchElsewhere(session.id, async () => {
      const names = await session.catchUp();
      const [first, ...others] = names;
      if (first === undefined) return;
      const more = others.length ? ` and ${others.length} more` : '';
      toast(`${first}${more} changed in another window.`, { id: 'elsewhere' });
    });
    session.whenSaved(watch.tell);
    return watch.stop;
  });
  onDestroy(() => session.close());

  const onbeforeunload = (event: BeforeUnloadEvent) => {
    // What is unsaved is kept in this browser; leave it to the next visit, but try once more now.
    if (session.saver.state === 'waiting') void session.saver.flush();
    if (session.saver.state === 'conflict' || session.saver.wouldLose) event.preventDefault();
  };
</script>

<svelte:window {onbeforeunload} />
{@render children()}
