<script lang="ts">
  import { Dialog } from 'bits-ui';

  /** Something that can be done by name. */
  export interface Command {
    readonly name: string;
    readonly keys?: string;
    readonly run: () => void;
  }
  let { commands, onclose }: { commands: readonly Command[]; onclose: () => void } = $props();
  let wanted = $state('');
  let at = $state(0);
  let list = $state<HTMLElement>();
  const found = $derived.by(() => {
    const words = wanted.toLowerCase().split(/\s+/).filter(Boolean);
    return commands
      .filter(({ name }) => words.every((word) => name.toLowerCase().includes(word)))
      .slice(0, 100);
  });
  const run = (command: Command | undefined) => {
    if (!command) return;
    onclose();
    // The dialog gives the focus back first.
    setTimeout(command.run, 30);
  };
  const onkeydown = (event: KeyboardEvent) => {
    const way = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (way && found.length) {
      event.preventDefault();
      at = (at + way + found.length) % found.length;
      list?.children[at]?.scrollIntoView({ block: 'nearest' });
    } else if (event.key === 'Enter') {
      event.preventDefault();
      run(found[at]);
    }
  };
</script>

<Dialog.Root open onOpenChange={(open) => !open && onclose()}>
  <Dialog.Portal>
    <Dialog.Overlay class="fixed inset-0 z-40 bg-black/20" />
    <Dialog.Content class="popup fixed top-24 left-1/2 w-[32rem] -translate-x-1/2">
      <Dialog.Title class="sr-only">Commands</Dialog.Title>
      <!-- svelte-ignore a11y_autofocus -->
      <input
        class="w-full border-b border-hairline bg-transparent px-3 py-2.5 outline-none"
        placeholder="What should happen?"
        role="combobox"
        aria-expanded="true"
        aria-autocomplete="list"
        aria-activedescendant={found.length ? `command-${at}` : undefined}
        aria-controls="command-list"
        aria-label="Search commands"
        autofocus
        bind:value={wanted}
        oninput={() => (at = 0)}
        {onkeydown}
      />
      <div
        id="command-list"
        class="max-h-80 overflow-y-auto py-1"
        role="listbox"
        aria-label="Commands"
        bind:this={list}
      >
        {#each found as command, i (command.name)}
          <button
            class="flex w-full justify-between px-3 py-1 text-left"
            class:bg-well={i === at}
            role="option"
            id="command-{i}"
            tabindex="-1"
            aria-selected={i === at}
            onpointermove={() => (at = i)}
            onclick={() => run(command)}
          >
            <span>{command.name}</span><kbd class="mono text-third">{command.keys ?? ''}</kbd>
          </button>
        {:else}
          <p class="px-3 py-2 text-second">No command is called that.</p>
        {/each}
      </div>
    </Dialog.Content>
  </Dialog.Portal>
</Dialog.Root>
