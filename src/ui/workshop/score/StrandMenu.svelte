<script lang="ts">
  import { DropdownMenu } from 'bits-ui';
  import { chordText } from '../commands/chords.ts';
  import { nameOf } from '../commands/command.ts';
  import { ON_STRAND, type StrandHere } from '../commands/onCard.ts';

  let { name, strand }: { name: string; strand: StrandHere } = $props();
</script>

<DropdownMenu.Root>
  <DropdownMenu.Trigger class="strand-name" title="What to do with {name}">{name}</DropdownMenu.Trigger>
  <DropdownMenu.Portal>
    <DropdownMenu.Content class="popup min-w-48 py-1" align="start" sideOffset={4}>
      {#each ON_STRAND.filter(({ when }) => when?.(strand) ?? true) as command (command.deed)}
        <!-- The menu gives the focus back first. -->
        <DropdownMenu.Item
          class="menu-item"
          disabled={command.isIdle?.(strand) ?? false}
          onSelect={() => setTimeout(() => command.run(strand), 30)}
          ><span>{nameOf(command, strand)}</span><kbd class="mono text-third"
            >{chordText(command.keys?.[0] ?? '')}</kbd
          ></DropdownMenu.Item
        >
      {/each}
    </DropdownMenu.Content>
  </DropdownMenu.Portal>
</DropdownMenu.Root>
