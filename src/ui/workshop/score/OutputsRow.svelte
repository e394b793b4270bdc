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

<section class="surface staff-row" aria-label={label} {@attach (row) => pictures.watch(row, SURFACE)}>
  <div class="margin staff-margin">{@render margin()}</div>
  {@render children()}
</section>

<style>
  .surface,
  .margin {
    background: var(--sheet);
  }
</style>
