<script lang="ts">
  import { whenOf } from '../parts/when.ts';
  import { Dialog } from 'bits-ui';
  import { parsePart } from '#core/document/parsePart.ts';
  import type { Session } from './state/session.svelte.ts';

  let { session, onclose }: { session: Session; onclose: () => void } = $props();
  interface Revision {
    readonly revision: number;
    readonly name: string;
    readonly savedAt: string;
  }
  // svelte-ignore state_referenced_locally
  let id = $state(session.shader?.id ?? session.parts[0]?.id ?? '');
  let chosen = $state.raw<{ revision: number; body: unknown } | null>(null);
  let refusal = $state<string | null>(null);
  const part = $derived(session.part(id));
  const path = $derived(`/api/projects/${session.id}/parts/${encodeURIComponent(id)}/revisions`);

  const ask = async <T,>(address: string): Promise<T> => {
    const response = await fetch(address);
    const answer = (await response.json()) as T & { message?: string };
    if (!response.ok) throw new Error(answer.message ?? 'The server refused this.');
    return answer;
  };
  const revisions = $derived(ask<Revision[]>(path));
  const look = async (revision: number) => {
    refusal = null;
    try {
      const { body } = await ask<{ body: unknown }>(`${path}/${revision}`);
      chosen = { revision, body };
    } catch (error) {
      refusal = (error as Error).message;
    }
  };
  const restore = () => {
    if (!chosen || !part) return;
    const { document, problems } = parsePart(part.kind, chosen.body);
    if (!document) {
      refusal = `This revision cannot be read any more: ${problems[0]!.message}`;
      return;
    }
    session.apply({
      label: `Restore revision ${chosen.revision}`,
      part: id,
      patches: [{ op: 'replace', path: [], value: document }],
    });
    onclose();
  };
  const when = (iso: string) => whenOf(iso, true);
</script>

<Dialog.Root open onOpenChange={(open) => !open && onclose()}>
  <Dialog.Portal>
    <Dialog.Overlay class="fixed inset-0 z-40 bg-black/30" />
    <Dialog.Content
      class="popup fixed top-1/2 left-1/2 flex h-[34rem] w-[52rem] max-w-[94vw] -translate-1/2 flex-col p-5"
    >
      <Dialog.Title class="text-[15px] font-semibold">History</Dialog.Title>
      <Dialog.Description class="mt-1 mb-3 text-second"
        >Every saved revision of a part. Restoring one is an edit, and can be undone.</Dialog.Description
      >
      <div class="flex min-h-0 flex-1 gap-4">
        <div class="flex w-60 flex-none flex-col">
          <select class="field mb-2" aria-label="Part" bind:value={id} onchange={() => (chosen = null)}>
            {#each session.parts as each (each.id)}<option value={each.id}>{each.name} ({each.kind})</option
              >{/each}
          </select>
          <div class="min-h-0 flex-1 overflow-y-auto border border-hairline">
            {#await revisions}
              <p class="p-2 text-third">Reading…</p>
            {:then list}
              {#each list as each (each.revision)}
                <button
                  class="flex w-full justify-between px-2 py-1 hover:bg-well"
                  class:bg-well={chosen?.revision === each.revision}
                  onclick={() => void look(each.revision)}
                >
                  <span>Revision {each.revision}</span><span class="mono text-third"
                    >{when(each.savedAt)}</span
                  >
                </button>
              {/each}
            {:catch error}
              <p class="p-2 text-oxblood" role="alert">{(error as Error).message}</p>
            {/await}
          </div>
        </div>
        <pre
          class="mono min-w-0 flex-1 overflow-auto border border-hairline bg-page p-3"
          data-testid="revision">{chosen
            ? JSON.stringify(chosen.body, null, 2)
            : 'Choose a revision to see it.'}</pre>
      </div>
      <div class="mt-3 flex items-center gap-2">
        <span class="text-oxblood" role="alert">{refusal ?? ''}</span>
        <button class="btn ml-auto" onclick={onclose}>Close</button>
        <button class="btn bg-ink! text-sheet!" disabled={!chosen} onclick={restore}
          >Restore{chosen ? ` revision ${chosen.revision}` : ''}</button
        >
      </div>
    </Dialog.Content>
  </Dialog.Portal>
</Dialog.Root>
