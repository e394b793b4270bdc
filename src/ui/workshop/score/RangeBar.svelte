<script lang="ts">
  import type { TapRange } from '#core/taps/measureTap.ts';
  import { formatNumber } from '#core/numbers/format.ts';

  let { range, width = 64 }: { range: TapRange | undefined; width?: number } = $props();

  /** The ruler runs from −0.5 to 1.5, so that its middle half is 0–1. */
  const place = (x: number) => Math.min(Math.max((x + 0.5) / 2, 0), 1) * 100;
  const parts = $derived.by(() => {
    if (!range || range.covered === 0 || range.least > range.greatest) return null;
    const [low, high] = [place(range.least), place(range.greatest)];
    const clip = (from: number, to: number) => ({
      left: Math.max(low, from),
      width: Math.max(Math.min(high, to) - Math.max(low, from), 0),
    });
    return {
      below: clip(0, 25),
      inside: { ...clip(25, 75), width: Math.max(clip(25, 75).width, high >= 25 && low <= 75 ? 2 : 0) },
      above: clip(75, 100),
    };
  });
  const words = $derived(
    !range || range.covered === 0
      ? 'not drawn yet'
      : range.least > range.greatest
        ? 'not a number anywhere'
        : `from ${formatNumber(range.least)} to ${formatNumber(range.greatest)}${range.notNumbers ? `, and not a number at ${range.notNumbers} points` : ''}`,
  );
</script>

<div class="bar" style="width: {width}px" title={words} role="img" aria-label="Values {words}">
  <i class="track"></i>
  {#if parts}
    {#each [parts.below, parts.above] as part, i (i)}
      {#if part.width > 0.3}<i class="outside" style="left: {part.left}%; width: {part.width}%"></i>{/if}
    {/each}
    <i class="inside" style="left: {Math.min(parts.inside.left, 98)}%; width: {parts.inside.width}%"></i>
  {/if}
  {#if range?.notNumbers}<b>!</b>{/if}
</div>

<style>
  .bar {
    position: relative;
    height: 5px;
  }
  i {
    position: absolute;
    top: 1px;
    height: 3px;
  }
  .track {
    left: 25%;
    width: 50%;
    background: var(--hairline);
    border-inline: 1px solid var(--third);
  }
  .inside {
    background: var(--ink);
  }
  .outside {
    top: 0;
    height: 5px;
    background: repeating-linear-gradient(115deg, var(--oxblood) 0 2px, transparent 2px 4px);
  }
  b {
    position: absolute;
    right: -7px;
    top: -6px;
    color: var(--oxblood);
    font-size: 11px;
  }
</style>
