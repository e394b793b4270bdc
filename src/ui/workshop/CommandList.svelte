<script lang="ts">
  import { Dialog } from 'bits-ui';
  import { chordText } from './commands/chords.ts';
  import { nameOf } from './commands/command.ts';
  import { commandsNow, type Desk, type DeskCommand } from './commands/everywhere.ts';
  import SearchList from '../parts/SearchList.svelte';

  let { desk, onclose }: { desk: Desk; onclose: () => void } = $props();
  const all = $derived(
    commandsNow(desk).map((command, at) => ({
      ...{ command, key: `command-${at}`, name: nameOf(command, desk) },
      keys: command.keys?.[0] ? chordText(command.keys[0]) : '',
    })),
  );
  const find = (wanted: string) => {
    const words = wanted.toLowerCase().split(/\s+/).filter(Boolean);
    return all.filter(({ name }) => words.every((word) => name.toLowerCase().includes(word))).slice(0, 100);
  };
  const run = ({ command }: { command: DeskCommand }) => {
    onclose();
    // The dialog gives the focus back first.
    setTimeout(() => command.run(desk), 30);
  };
</script>

<Dialog.Root open onOpenChange={(open) => !open && onclose()}>
  <Dialog.Portal>
    <Dialog.Overlay class="fixed inset-0 z-40 bg-black/20" />
    <Dialog.Content class="popup fixed top-24 left-1/2 w-[32rem] -translate-x-1/2">
      <Dialog.Title class="sr-only">Commands</Dialog.Title>
      <SearchList {find} onpick={run} onescape={onclose} holds="commands" placeholder="What should happen?">
        {#snippet row({ name, keys })}
          <span class="flex-1">{name}</span><kbd class="mono text-third">{keys}</kbd>
        {/snippet}
        {#snippet none()}No command is called that.{/snippet}
      </SearchList>
    </Dialog.Content>
  </Dialog.Portal>
</Dialog.Root>
