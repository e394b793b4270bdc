<script lang="ts">
  import { Popover } from 'bits-ui';
  import Plus from '@lucide/svelte/icons/plus';
  import type { Library } from '#core/document/motif.ts';
  import { findItems, type PaletteItem } from './paletteItems.ts';

  interface Props {
    open: boolean;
    label: string;
    library: Library;
    /** The motif that is worked on, which must not be used in itself. */
    inside: string | null;
    onpick: (item: PaletteItem) => void;
    onclosed: () => void;
    /** What it opens under; the button where null. */
    anchor: HTMLElement | null;
    /** Where the focus goes when the palette closes. */
    refocus: () => void;
  }
  let { open = $bindable(), label, library, inside, onpick, onclosed, anchor, refocus }: Props = $props();
  let wanted = $state('');
  let at = $state(0);
  let list = $state<HTMLElement>();
  const found = $derived(open ? findItems(wanted, library, inside) : []);

  // Opened by a button or by a key of a card, it begins anew.
  $effect(() => {
    if (open) {
      wanted = '';
      at = 0;
    } else onclosed();
  });

  const pick = (item: PaletteItem | undefined) => {
    if (!item) return;
    onpick(item);
    open = false;
  };
  /** A card is one stop, backwards too. */
  const backToCard = (event: KeyboardEvent & { currentTarget: HTMLElement }) => {
    const cards = event.currentTarget.closest('[data-strand]')?.querySelectorAll<HTMLElement>('[data-step]');
    if (event.key !== 'Tab' || !event.shiftKey || !cards?.length) return;
    event.preventDefault();
    cards[cards.length - 1]!.focus();
  };
  const onkeydown = (event: KeyboardEvent) => {
    event.stopPropagation();
    const way = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (way && found.length) {
      event.preventDefault();
      at = (at + way + found.length) % found.length;
      list?.children[at]?.scrollIntoView({ block: 'nearest' });
    } else if (event.key === 'Enter') {
      // Closing gives the focus back to the button, which must not be pressed by the same key.
      event.preventDefault();
      pick(found[at]);
    } else if (event.key === 'Escape') open = false;
  };
</script>

<Popover.Root bind:open>
  <Popover.Trigger class="add-step" aria-label={label} title={label} onkeydown={backToCard}
    ><Plus size={13} /></Popover.Trigger
  >
  <Popover.Portal>
    <Popover.Content
      class="popup w-[30rem]"
      customAnchor={anchor}
      sideOffset={6}
      align="start"
      collisionPadding={8}
      aria-label="Operators"
      onCloseAutoFocus={(event) => {
        event.preventDefault();
        refocus();
      }}
    >
      <!-- svelte-ignore a11y_autofocus -->
      <input
        class="w-full border-b border-hairline bg-transparent px-3 py-2 outline-none"
        placeholder="What should it do? noise, threshold, fade…"
        role="combobox"
        aria-expanded="true"
        aria-autocomplete="list"
        aria-activedescendant={found.length ? `operator-${at}` : undefined}
        aria-controls="palette-list"
        aria-label="Search operators"
        autofocus
        bind:value={wanted}
        oninput={() => (at = 0)}
        {onkeydown}
      />
      <div
        id="palette-list"
        class="max-h-64 overflow-y-auto py-1"
        role="listbox"
        aria-label="Operators"
        bind:this={list}
      >
        {#each found as item, i (item.key)}
          <button
            class="flex w-full items-baseline gap-3 px-3 py-1 text-left"
            class:bg-well={i === at}
            role="option"
            id="operator-{i}"
            tabindex="-1"
            aria-selected={i === at}
            onpointermove={() => (at = i)}
            onclick={() => pick(item)}
          >
            <span class="w-28 flex-none truncate font-semibold" title={item.name}>{item.name}</span>
            <span class="min-w-0 flex-1 text-[12px] text-second">{item.summary}</span>
            <span class="flex-none text-[11px] text-third">{item.family}</span>
          </button>
        {:else}
          <p class="px-3 py-2 text-second">
            Nothing does “{wanted}”. Begin with <b>value</b> and write an expression.
          </p>
        {/each}
      </div>
      {#if found[at]?.signature}
        {@const item = found[at]!}
        <div class="border-t border-hairline px-3 py-1.5 text-[11.5px] text-second">
          <p class="mono">{item.signature}</p>
          {#if item.formula}<p class="mono text-third">{item.formula}</p>{/if}
          <p class="text-third">{[item.cost, item.source].filter(Boolean).join(' · ')}</p>
        </div>
      {/if}
    </Popover.Content>
  </Popover.Portal>
</Popover.Root>
