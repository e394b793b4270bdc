<script lang="ts">
  import X from '@lucide/svelte/icons/x';
  import CurveField from '../../parts/CurveField.svelte';

  /** A curve that may be left out: a word that brings it, and takes it away again. */
  interface Props {
    word: string;
    /** What it is of, for who cannot see the line. */
    label: string;
    value: readonly number[] | undefined;
    /** What it begins with. */
    starter: readonly number[];
    title?: string;
    onchange: (value: readonly number[] | undefined) => void;
    onsettle: () => void;
  }
  let { word, label, value, starter, title, onchange, onsettle }: Props = $props();
  const take = (wanted: readonly number[] | undefined) => {
    onchange(wanted);
    onsettle();
  };
</script>

<span class="text-second" {title}>{word}</span>
{#if value}
  <div class="flex items-center gap-1">
    <div class="min-w-0 flex-1"><CurveField {value} {label} {onchange} {onsettle} /></div>
    <button class="text-third hover:text-ink" aria-label="Without {label}" onclick={() => take(undefined)}
      ><X size={12} /></button
    >
  </div>
{:else}
  <button
    class="justify-self-start text-third hover:text-ink"
    aria-label="A curve for {label}"
    onclick={() => take(starter)}>a curve…</button
  >
{/if}
