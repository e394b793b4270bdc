<script lang="ts">
  import { formatNumber } from '#core/numbers/format.ts';
  import type { SweptMap } from '#core/taps/sweepMap.ts';

  /** How much shows over two parameters: lighter is more; corners that are cut mark nothing, frames all of it. */
  let { map, first, second }: { map: SweptMap; first: string; second: string } = $props();
  let at = $state.raw<readonly [number, number] | null>(null);
  const percent = (share: number): string => `${(100 * share).toFixed(1)} %`;
  const told = $derived.by((): string => {
    if (!at) return 'Point at a field, or walk over them with the arrow keys.';
    const [i, k] = at;
    const state = map.nothing[k]![i] ? ': nothing' : map.whole[k]![i] ? ': all of it' : '';
    return `${first} ${formatNumber(map.xs[i]!)}, ${second} ${formatNumber(map.ys[k]!)}: ${percent(map.share[k]![i]!)} shows${state}`;
  });
  const WAYS: Readonly<Record<string, readonly [number, number]>> = {
    ...{ ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] },
  };
  const onkeydown = (event: KeyboardEvent): void => {
    const way = WAYS[event.key];
    if (!way) return;
    event.preventDefault();
    const [i, k] = at ?? [0, 0];
    const held = (x: number, most: number): number => Math.min(Math.max(x, 0), most);
    at = [held(i + way[0], map.xs.length - 1), held(k + way[1], map.ys.length - 1)];
  };
  /** Rows from the greatest of the second, so that it grows upwards. */
  const rows = $derived(map.ys.map((_, k) => map.ys.length - 1 - k));
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
<div
  class="map"
  style="grid-template-columns: repeat({map.xs.length}, 1fr)"
  role="img"
  aria-label="How much shows over {first}, to the right, and {second}, upwards"
  tabindex="0"
  {onkeydown}
  onpointerleave={() => (at = null)}
>
  {#each rows as k (k)}
    {#each map.xs as _, i (i)}
      <i
        role="presentation"
        class:nothing={map.nothing[k]![i]}
        class:whole={map.whole[k]![i]}
        class:here={at?.[0] === i && at[1] === k}
        style="--share: {map.share[k]![i]! * 100}%"
        onpointerenter={() => (at = [i, k])}
      ></i>
    {/each}
  {/each}
</div>
<p class="mono pt-1 text-second" role="status">{told}</p>

<style>
  .map {
    display: grid;
    height: 168px;
    border: 1px solid var(--rule);
  }
  i {
    background: color-mix(in srgb, var(--ink) var(--share), var(--sheet));
  }
  .nothing {
    background: repeating-linear-gradient(135deg, var(--sheet) 0 3px, var(--hairline) 3px 4px);
  }
  .whole {
    background: var(--limelight);
  }
  .here {
    outline: 2px solid var(--oxblood);
    z-index: 1;
  }
</style>
