<script lang="ts">
  import type { TapRange } from '#core/taps/measureTap.ts';
  import type { StepReading } from '../pins/watchPins.svelte.ts';
  import RangeBar from './RangeBar.svelte';

  /** What a step’s values reach over its prop, what it comes to at the pin that is read, and what it costs. */
  let {
    range,
    reading,
    cost,
  }: { range: TapRange | undefined; reading: StepReading | null; cost: string | null } = $props();
</script>

<div class="range">
  <RangeBar {range} />
  {#if reading}
    <span
      class="reading mono"
      title={reading.told}
      data-reading
      data-compared={reading.isCompared ? 'yes' : 'no'}
      >{reading.text}{#if reading.drawn !== null}<b> ≠ {reading.drawn}</b>{/if}</span
    >
  {/if}
  {#if cost !== null}
    <span class="cost mono" title="Its share of a pixel’s operations, and its texture reads" data-cost
      >{cost}</span
    >
  {/if}
</div>

<style>
  .cost {
    color: var(--third);
    font-size: 10.5px;
    line-height: 7px;
    white-space: nowrap;
  }
  .reading {
    color: var(--limelight-ink);
    font-size: 11px;
    line-height: 7px;
    transform: translateY(-3px);
    white-space: nowrap;
  }
  .reading b {
    color: var(--oxblood);
  }
  .range {
    display: flex;
    gap: 12px;
    align-items: center;
    margin-top: auto;
    padding-bottom: 3px;
  }
</style>
