<script lang="ts">
  import type { Snippet } from 'svelte';

  /** A card of the set’s rows: a picture where it has one, a heading, and what it stands at. */
  interface Props {
    label: string;
    heading?: Snippet;
    children: Snippet;
    picture?: Snippet;
    inHand?: boolean;
  }
  let { label, heading, children, picture, inHand = false }: Props = $props();
</script>

<div class="card staff-card" class:inhand={inHand} role="group" aria-label={label}>
  {#if picture}<div class="picture">{@render picture()}</div>{/if}
  <div class="words">
    {#if heading}<div class="heading">{@render heading()}</div>{/if}
    {@render children()}
  </div>
</div>

<style>
  .card.inhand {
    outline: 2px solid var(--ink);
    outline-offset: -1px;
  }
  .picture {
    flex: none;
    width: 52px;
    height: 52px;
    overflow: hidden;
    background: var(--well);
  }
  .words {
    min-width: 64px;
  }
  .card:not(:has(.picture)) .words {
    padding-left: 5px;
  }
  .heading {
    display: flex;
    align-items: baseline;
    gap: 6px;
    line-height: 16px;
    font-weight: 640;
    white-space: nowrap;
  }
  .heading :global(select) {
    margin-left: -4px;
    max-width: 13rem;
    background: transparent;
    font-weight: 640;
  }
</style>
