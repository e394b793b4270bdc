<script lang="ts">
  import { DropdownMenu } from 'bits-ui';
  import Ellipsis from '@lucide/svelte/icons/ellipsis';
  import { chordText } from '../commands/chords.ts';
  import { nameOf } from '../commands/command.ts';
  import { ON_CARD, type Card } from '../commands/onCard.ts';

  /** What can be done to a step, from its card. */
  let { word, card }: { word: string; card: Card } = $props();
  let open = $state(false);
  /** There are a thousand cards, and of few the menu is ever asked for: until then it is a button. */
  let isMade = $state(false);
  const commands = $derived(isMade ? ON_CARD.filter(({ when }) => when?.(card) ?? true) : []);
  const make = () => {
    isMade = true;
    open = true;
  };
</script>

{#if isMade}
  <DropdownMenu.Root bind:open>
    <DropdownMenu.Trigger class="step-menu" aria-label="More for {word}"
      ><Ellipsis size={13} /></DropdownMenu.Trigger
    >
    <DropdownMenu.Portal>
      <DropdownMenu.Content
        class="popup max-h-[70vh] min-w-44 overflow-y-auto py-1"
        sideOffset={4}
        align="start"
      >
        {#each commands as command (command.deed)}
          <DropdownMenu.Item class="menu-item" onSelect={() => setTimeout(() => command.run(card), 30)}>
            <span>{nameOf(command, card)}</span><kbd class="mono text-third"
              >{chordText(command.keys?.[0] ?? '')}</kbd
            >
          </DropdownMenu.Item>
        {/each}
      </DropdownMenu.Content>
    </DropdownMenu.Portal>
  </DropdownMenu.Root>
{:else}
  <button
    class="step-menu"
    aria-label="More for {word}"
    aria-haspopup="menu"
    aria-expanded="false"
    onclick={make}><Ellipsis size={13} /></button
  >
{/if}
