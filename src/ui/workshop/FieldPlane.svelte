<script lang="ts">
  import type { Cut, Reach } from '#stage/stage.ts';

  /** Where the plane of distances lies, and how far apart its lines are. */
  let {
    cut,
    reach,
    onchange,
  }: { cut: Cut; reach: NonNullable<Reach>; onchange: (wanted: Partial<Cut>) => void } = $props();
  const AXES = ['x', 'y', 'z'] as const;
  const APART = [0.02, 0.05, 0.1, 0.25, 0.5, 1] as const;
  const ends = $derived(reach.map((corner) => corner[cut.axis]) as [number, number]);
</script>

<span class="mt-0.5 flex flex-wrap items-center gap-x-3" role="group" aria-label="Plane of distances">
  <span class="flex items-center gap-1"
    >square to
    {#each AXES as name, axis (name)}
      <button
        class="h-5 w-5 rounded-sm hover:text-white"
        class:on={cut.axis === axis}
        aria-pressed={cut.axis === axis}
        aria-label="Square to {name}"
        onclick={() => onchange({ axis: axis as Cut['axis'], at: (reach[0][axis]! + reach[1][axis]!) / 2 })}
        >{name}</button
      >
    {/each}
  </span>
  <label class="flex items-center gap-1.5"
    >at <input
      type="range"
      class="w-40 accent-[#cfe04a]"
      min={ends[0]}
      max={ends[1]}
      step="0.01"
      aria-label="Where the plane lies"
      value={cut.at}
      oninput={(event) => onchange({ at: Number(event.currentTarget.value) })}
    /><span class="mono w-14 text-right">{cut.at.toFixed(2)} m</span></label
  >
  <label class="flex items-center gap-1.5"
    >a line every <select
      class="mono bg-transparent"
      aria-label="Lines apart"
      value={cut.apart}
      onchange={(event) => onchange({ apart: Number(event.currentTarget.value) })}
    >
      {#each APART as each (each)}<option value={each} class="bg-[#222]">{each}</option>{/each}
    </select>m, every fifth heavier</label
  >
</span>

<style>
  .on {
    background: #f1ede4;
    color: #24211d;
  }
</style>
