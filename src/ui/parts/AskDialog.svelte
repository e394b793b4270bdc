<script lang="ts">
  import { Dialog } from 'bits-ui';
  import { openQuestion } from './asking.svelte.ts';

  const question = $derived(openQuestion());
</script>

{#if question}
  <Dialog.Root open onOpenChange={(open) => !open && question.answer(null)}>
    <Dialog.Portal>
      <Dialog.Overlay class="fixed inset-0 z-40 bg-black/30" />
      <Dialog.Content
        class="popup fixed top-1/2 left-1/2 w-[30rem] max-w-[94vw] -translate-1/2 p-5"
        onkeydown={(event) => event.key !== 'Escape' && event.stopPropagation()}
      >
        <Dialog.Title class="text-[15px] font-semibold">{question.title}</Dialog.Title>
        <Dialog.Description class="mt-1 mb-4 text-second">{question.sentence}</Dialog.Description>
        <div class="flex justify-end gap-2">
          <button class="btn" onclick={() => question.answer(null)}>Cancel</button>
          {#each question.answers as { value, label }, i (value)}
            <button
              class={['btn', i === question.answers.length - 1 && 'bg-ink! text-sheet!']}
              onclick={() => question.answer(value)}>{label}</button
            >
          {/each}
        </div>
      </Dialog.Content>
    </Dialog.Portal>
  </Dialog.Root>
{/if}
