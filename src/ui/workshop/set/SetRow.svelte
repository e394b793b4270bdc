<script lang="ts">
  import type { Snippet } from 'svelte';
  import type { HTMLAttributes } from 'svelte/elements';

  /** A ruled row of the set: its name and kind in the margin, cards on a staff line. */
  interface Props extends HTMLAttributes<HTMLElement> {
    margin: Snippet;
    children: Snippet;
    inHand?: boolean;
    dim?: boolean;
  }
  let { margin, children, inHand = false, dim = false, ...rest }: Props = $props();
</script>

<section class="row" class:inhand={inHand} class:dim {...rest}>
  <div class="margin">{@render margin()}</div>
  <div class="staff">{@render children()}</div>
</section>

<style>
  .row {
    display: flex;
    min-height: 83px;
    border-bottom: 1px solid var(--hairline);
    outline: none;
  }
  .row:focus-visible {
    box-shadow: inset 0 0 0 2px var(--ink);
  }
  .margin {
    position: sticky;
    left: 0;
    z-index: 2;
    display: flex;
    flex: none;
    flex-direction: column;
    width: 126px;
    padding: 9px 6px 6px 14px;
    border-right: 1px solid var(--rule);
    background: var(--page);
  }
  .inhand .margin {
    box-shadow: inset 3px 0 0 var(--ink);
  }
  .dim .staff {
    opacity: 0.55;
  }
  .staff {
    display: flex;
    flex: 1;
    align-items: flex-start;
    gap: 12px;
    padding: 9px 24px 8px 12px;
    background: linear-gradient(var(--rule), var(--rule)) 0 41px / 100% 1px no-repeat;
  }
</style>
