<script lang="ts">
  import { Dialog } from 'bits-ui';
  import type { Session } from './state/session.svelte.ts';

  let { session }: { session: Session } = $props();
  const conflicts = $derived([...session.saver.conflicts]);
  const text = (value: unknown) => JSON.stringify(value, null, 2).split('\n');
  /** Lines that the other side does not have are marked. */
  const marked = (mine: unknown, theirs: unknown) => {
    const others = new Set(text(theirs));
    return text(mine).map((line) => ({ line, own: !others.has(line) }));
  };
</script>

{#if conflicts.length}
  <Dialog.Root open>
    <Dialog.Portal>
      <Dialog.Overlay class="fixed inset-0 z-40 bg-black/40" />
      <Dialog.Content
        class="popup fixed top-1/2 left-1/2 flex max-h-[86vh] w-[64rem] max-w-[94vw] -translate-1/2 flex-col p-5"
        escapeKeydownBehavior="ignore"
        interactOutsideBehavior="ignore"
      >
        <Dialog.Title class="text-[15px] font-semibold">Changed here and elsewhere</Dialog.Title>
        <Dialog.Description class="mt-1 mb-3 text-second">
          Another window or person changed the same places of these parts. Choose which to keep: the other one
          stays in the part’s history.
        </Dialog.Description>
        <div class="min-h-0 overflow-y-auto">
          {#each conflicts as [id, { mine, theirs }] (id)}
            <section class="border-t border-hairline py-3" aria-label={theirs.name}>
              <h3 class="mb-2 font-semibold">
                {theirs.name} <span class="font-normal text-third">{theirs.kind}</span>
              </h3>
              <div class="grid grid-cols-2 gap-4">
                {#each [['mine', 'This window', marked(mine.body, theirs.body)], ['theirs', `Saved elsewhere, revision ${theirs.revision}`, marked(theirs.body, mine.body)]] as const as [which, label, lines] (which)}
                  <div class="min-w-0">
                    <div class="mb-1 flex items-center justify-between">
                      <span class="text-second">{label}</span>
                      <button class="btn h-6" onclick={() => void session.resolve(id, which)}
                        >Keep {which === 'mine' ? 'mine' : 'theirs'}</button
                      >
                    </div>
                    <pre
                      class="mono max-h-52 overflow-auto border border-hairline bg-page p-2">{#each lines as { line, own }, i (i)}<span
                          class={own ? 'block bg-[var(--limelight-wash)]' : 'block text-third'}>{line}</span
                        >{/each}</pre>
                  </div>
                {/each}
              </div>
            </section>
          {/each}
        </div>
      </Dialog.Content>
    </Dialog.Portal>
  </Dialog.Root>
{/if}
