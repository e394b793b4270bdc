<script lang="ts" generics="Item extends { readonly key: string }">
  import { Command } from 'bits-ui';
  import type { Snippet } from 'svelte';

  interface Props {
    /** What is found by words, the best first. */
    find: (wanted: string) => readonly Item[];
    onpick: (item: Item) => void;
    onescape: () => void;
    /** What the list holds, in a word: “operators”. */
    holds: string;
    placeholder: string;
    row: Snippet<[Item]>;
    /** Said in place of a list in which nothing is. */
    none: Snippet<[string]>;
    /** What is told of the item in hand. */
    more?: Snippet<[Item]>;
    height?: string;
  }
  let { find, onpick, onescape, holds, placeholder, row, none, more, height = 'max-h-80' }: Props = $props();
  const uid = $props.id();
  const idOf = (item: Item) => `${uid}-${item.key.replace(/\W/g, '-')}`;
  let wanted = $state('');
  const found = $derived(find(wanted));
  /** The key of the item in hand. */
  let held = $derived(found[0]?.key ?? '');
  /** So many are drawn at once; the others follow, a frame each time, before anyone has looked that far. */
  const A_FRAME = 24;
  let room = $state(A_FRAME);
  $effect(() => {
    if (room >= found.length) return;
    const next = requestAnimationFrame(() => (room += A_FRAME));
    return () => cancelAnimationFrame(next);
  });
  /** Asked for again before it is gone, it begins anew. */
  const leave = (then: () => void) => {
    wanted = '';
    room = A_FRAME;
    then();
  };
  const pick = (item: Item) => leave(() => onpick(item));
  const inHand = $derived(found.find((each) => each.key === held));
  const label = $derived(holds[0]!.toUpperCase() + holds.slice(1));
</script>

<!-- What is found is put in order by whoever looks for it. Enter must not reach what gets the focus next. -->
<Command.Root
  bind:value={held}
  shouldFilter={false}
  loop
  vimBindings={false}
  {label}
  onkeydown={(event) => {
    event.stopPropagation();
    if (event.key === 'Escape') leave(onescape);
  }}
>
  <Command.Input bind:value={wanted}>
    {#snippet child({ props })}
      <!-- svelte-ignore a11y_autofocus -->
      <input
        {...props}
        class="w-full border-b border-hairline bg-transparent px-3 py-2 outline-none"
        {placeholder}
        aria-label="Search {holds}"
        aria-labelledby={undefined}
        aria-controls="{uid}-list"
        aria-activedescendant={inHand ? idOf(inHand) : undefined}
        autofocus
        bind:value={wanted}
      />
    {/snippet}
  </Command.Input>
  <Command.List id="{uid}-list" aria-label={label}>
    <Command.Viewport class="{height} overflow-y-auto py-1">
      {#each found.slice(0, room) as item (item.key)}
        <Command.Item class="listed" id={idOf(item)} value={item.key} onSelect={() => pick(item)}>
          {@render row(item)}
        </Command.Item>
      {/each}
    </Command.Viewport>
  </Command.List>
  {#if !found.length}<p class="px-3 py-2 text-second">{@render none(wanted)}</p>{/if}
  {#if inHand}{@render more?.(inHand)}{/if}
</Command.Root>
