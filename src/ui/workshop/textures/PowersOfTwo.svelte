<script lang="ts">
  import { powersOfTwo } from '#core/images/powersOfTwo.ts';

  /** Sizes near one that are powers of two, each a press away. */
  interface Props {
    size: readonly [number, number];
    /** Of a side. */
    most: number;
    label: string;
    onchoose: (size: readonly [number, number]) => void;
  }
  let { size, most, label, onchoose }: Props = $props();
  const offers = $derived(powersOfTwo(size, most));
</script>

<div class="flex flex-wrap gap-x-2.5" role="group" aria-label="Powers of two for {label}">
  {#each offers as [width, height] (`${width} ${height}`)}
    <button
      class="mono text-[11.5px] text-second underline decoration-dotted underline-offset-2 hover:text-ink"
      title="A power of two: mip maps halve it without a rest"
      onclick={() => onchoose([width, height])}>{width} × {height}</button
    >
  {/each}
</div>
