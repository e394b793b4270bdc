<script lang="ts">
  import type { Snippet } from 'svelte';
  import { SURFACE } from '#core/lower/lowerShader.ts';
  import type { Pictures } from '../pictures.svelte.ts';

  /** The score's last row, for what leaves a shader or a motif: a margin that stays in sight, and the outputs. */
  interface Props {
    label: string;
    pictures: Pictures;
    margin: Snippet;
    children: Snippet;
  }
  let { label, pictures, margin, children }: Props = $props();
</script>

<section class="surface" aria-label={label} {@attach (row) => pictures.watch(row, SURFACE)}>
  <div class="margin">{@render margin()}</div>
  {@render children()}
</section>

<style>
  .surface {
    display: flex;
    min-height: 83px;
    background: var(--sheet);
    border-bottom: 1px solid var(--hairline);
  }
  .margin {
    position: sticky;
    left: 0;
    z-index: 2;
    flex: none;
    width: 126px;
    padding: 9px 6px 6px 14px;
    border-right: 1px solid var(--rule);
    background: var(--sheet);
  }
</style>
