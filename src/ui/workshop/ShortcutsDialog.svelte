<script lang="ts">
  import { Dialog } from 'bits-ui';
  import { KEYS } from './commands/keysPage.ts';

  let { onclose }: { onclose: () => void } = $props();
</script>

<Dialog.Root open onOpenChange={(open) => !open && onclose()}>
  <Dialog.Portal>
    <Dialog.Overlay class="fixed inset-0 z-40 bg-black/30" />
    <Dialog.Content class="popup fixed top-1/2 left-1/2 w-[46rem] -translate-1/2 p-5">
      <Dialog.Title class="text-[15px] font-semibold">Keys</Dialog.Title>
      <Dialog.Description class="mt-1 mb-4 text-second"
        >Everything in the score can be reached without a pointer. ⌘ stands for Ctrl where there is one.</Dialog.Description
      >
      <div class="columns-2 gap-8">
        {#each KEYS as group (group.place)}
          <section class="mb-4 break-inside-avoid">
            <h3 class="mb-1 font-semibold">{group.place}</h3>
            <dl class="grid grid-cols-[7rem_1fr] gap-y-0.5">
              {#each group.keys as [keys, does] (keys)}<dt class="mono">{keys}</dt>
                <dd class="text-second">{does}</dd>{/each}
            </dl>
          </section>
        {/each}
      </div>
    </Dialog.Content>
  </Dialog.Portal>
</Dialog.Root>
