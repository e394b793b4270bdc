<script lang="ts">
  import { Dialog } from 'bits-ui';
  import SearchList from '../parts/SearchList.svelte';

  /** Something that can be done by name. */
  export interface Command {
    readonly name: string;
    readonly keys?: string;
    readonly run: () => void;
  }
  let { commands, onclose }: { commands: readonly Command[]; onclose: () => void } = $props();
  const all = $derived(commands.map((command, at) => ({ ...command, key: `command-${at}` })));
  const find = (wanted: string) => {
    const words = wanted.toLowerCase().split(/\s+/).filter(Boolean);
    return all.filter(({ name }) => words.every((word) => name.toLowerCase().includes(word))).slice(0, 100);
  };
  const run = (command: Command) => {
    onclose();
    // The dialog gives the focus back first.
    setTimeout(command.run, 30);
  };
</script>

<Dialog.Root open onOpenChange={(open) => !open && onclose()}>
  <Dialog.Portal>
    <Dialog.Overlay class="fixed inset-0 z-40 bg-black/20" />
    <Dialog.Content class="popup fixed top-24 left-1/2 w-[32rem] -translate-x-1/2">
      <Dialog.Title class="sr-only">Commands</Dialog.Title>
      <SearchList {find} onpick={run} onescape={onclose} holds="commands" placeholder="What should happen?">
        {#snippet row({ name, keys })}
          <span class="flex-1">{name}</span><kbd class="mono text-third">{keys ?? ''}</kbd>
        {/snippet}
        {#snippet none()}No command is called that.{/snippet}
      </SearchList>
    </Dialog.Content>
  </Dialog.Portal>
</Dialog.Root>
