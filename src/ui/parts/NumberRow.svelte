<script lang="ts">
  import type { ComponentProps } from 'svelte';
  import NumberField from './NumberField.svelte';

  /** A word and its number: two cells of a grid of such rows. */
  let {
    word,
    title,
    ...field
  }: { word: string; title?: string | undefined } & Omit<
    ComponentProps<typeof NumberField>,
    'hard' | 'plain'
  > = $props();
</script>

<span class="text-second" {title}>{word}</span>
<NumberField hard {...field} />
