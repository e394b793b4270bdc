<script lang="ts" generics="Item extends { readonly key: string }">
  import { Command } from 'bits-ui';
  import type { Snippet } from 'svelte';

  interface Props {
    /** What is found by words, the best first. */
    find: (wanted: string) => readonly Item[];
    onpick: (item: Item) => void;
    onescape: () => void;
    /** Whether it is shown: it may be kept while it is not, and begins anew when it is again. */
    open?: boolean;
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
  let {
    find,
    onpick,
    onescape,
    open = true,
    holds,
    placeholder,
    row,
    none,
    more,
    height = 'max-h-80',
  }: Props = $props();
  const uid = $props.id();
  const idOf = (item: Item) => `${uid}-${item.key.replace(/\W/g, '-')}`;
  let wanted = $state('');
  const found = $derived(find(wanted));
  /** The key of the item in hand. */
  let held = $derived(found[0]?.key ?? '');
  /** So many more are drawn in each frame, before anyone has looked that far; while it is closed, those seen first. */
  const A_FRAME = 4;
  const SEEN_FIRST = 8;
  let room = $state(0);
  const most = $derived(open ? found.length : Math.min(found.length, SEEN_FIRST));
  $effect(() => {
    if (room >= most) return;
    const next = requestAnimationFrame(() => (room += A_FRAME));
    return () => cancelAnimationFrame(next);
  });
  $effect.pre(() => {
    if (open) return;
    wanted = '';
    room = 0;
  });
  // While another list is being drawn, what was in hand may be of the last.
  const inHand = $derived(found.find((each) => each.key === held) ?? found[0]);
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
    if (event.key === 'Escape') onescape();
    // What is in hand may not be drawn yet.
    if (event.key === 'Enter' && !event.isComposing) {
      event.preventDefault();
      if (inHand) onpick(inHand);
    }
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
        <Command.Item class="listed" id={idOf(item)} value={item.key} onSelect={() => onpick(item)}>
          {@render row(item)}
        </Command.Item>
      {/each}
    </Command.Viewport>
  </Command.List>
  {#if !found.length}<p class="px-3 py-2 text-second">{@render none(wanted)}</p>{/if}
  {#if inHand}{@render more?.(inHand)}{/if}
</Command.Root>
