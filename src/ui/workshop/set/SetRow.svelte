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

<section class="row staff-row" class:inhand={inHand} class:dim {...rest}>
  <div class="margin staff-margin">{@render margin()}</div>
  <div class="staff gap-3">{@render children()}</div>
</section>

<style>
  .row {
    outline: none;
  }
  .row:focus-visible {
    box-shadow: inset 0 0 0 2px var(--ink);
  }
  .margin {
    display: flex;
    flex-direction: column;
  }
  .inhand .margin {
    box-shadow: inset 3px 0 0 var(--ink);
  }
  .dim .staff {
    opacity: 0.55;
  }
</style>
