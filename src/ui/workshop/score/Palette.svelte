<script lang="ts">
  import { Popover } from 'bits-ui';
  import Plus from '@lucide/svelte/icons/plus';
  import SearchList from '../../parts/SearchList.svelte';
  import type { Library } from '#core/document/motif.ts';
  import { focusStop, isStop } from './stops.ts';
  import { findItems, type PaletteItem } from './paletteItems.ts';

  interface Props {
    open: boolean;
    label: string;
    /** The key of its button among the score’s stops, and of the card before it. */
    stop: string;
    before: string | null;
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
  let {
    open = $bindable(),
    label,
    stop,
    before,
    library,
    inside,
    onpick,
    onclosed,
    anchor,
    refocus,
  }: Props = $props();
  // It may be opened from outside, by a key of a card.
  $effect(() => {
    if (!open) onclosed();
  });

  const pick = (item: PaletteItem) => {
    // It is still there for a moment when it has been closed.
    if (!open) return;
    onpick(item);
    open = false;
  };
  /** A card is one stop, backwards too. */
  const backToCard = (event: KeyboardEvent) => {
    if (event.key !== 'Tab' || !event.shiftKey || before === null) return;
    event.preventDefault();
    focusStop(before);
  };
</script>

<Popover.Root bind:open>
  <Popover.Trigger
    class="add-step"
    aria-label={label}
    title={label}
    onkeydown={backToCard}
    {@attach isStop(stop)}><Plus size={13} /></Popover.Trigger
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
      <SearchList
        find={(wanted) => findItems(wanted, library, inside)}
        onpick={pick}
        onescape={() => (open = false)}
        holds="operators"
        placeholder="What should it do? noise, threshold, fade…"
        height="max-h-64"
      >
        {#snippet row({ name, summary, family })}
          <span class="w-28 flex-none truncate font-semibold" title={name}>{name}</span>
          <span class="min-w-0 flex-1 text-[12px] text-second">{summary}</span>
          <span class="flex-none text-[11px] text-third">{family}</span>
        {/snippet}
        {#snippet none(wanted)}Nothing does “{wanted}”. Begin with <b>value</b> and write an expression.{/snippet}
        {#snippet more({ signature, formula, cost, source })}
          {#if signature}
            <div class="border-t border-hairline px-3 py-1.5 text-[11.5px] text-second">
              <p class="mono">{signature}</p>
              {#if formula}<p class="mono text-third">{formula}</p>{/if}
              <p class="text-third">{[cost, source].filter(Boolean).join(' · ')}</p>
            </div>
          {/if}
        {/snippet}
      </SearchList>
    </Popover.Content>
  </Popover.Portal>
</Popover.Root>
