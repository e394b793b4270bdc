<script lang="ts">
  import type { Handle } from './handlesOf.ts';

  /** Shares of red, green and blue, and of alpha where it counts, dark to light; and numbers of a step that stand along it, to be dragged. */
  interface Props {
    histogram: readonly (readonly number[])[];
    label: string;
    handles?: readonly Handle[];
    onsettle?: () => void;
  }
  let { histogram, label, handles = [], onsettle }: Props = $props();
  let box = $state<HTMLElement>();
  let dragged = $state<string | null>(null);
  const most = $derived(Math.max(...histogram.flat(), 1e-6));
  /** The outline of bars, their heights by roots, so that few are seen beside many. */
  const outline = (bars: readonly number[]): string => {
    const tops = bars.map((x) => (20 - 19 * Math.sqrt(x / most)).toFixed(2));
    return `M0 20${tops.map((y, i) => `L${i} ${y}L${i + 1} ${y}`).join('')}L${bars.length} 20`;
  };
  /** How each is drawn. */
  const LINES = [
    ['red', ''],
    ['green', '3 2'],
    ['blue', '1 2'],
    ['alpha', '7 2 1 2'],
  ] as const;
  /** What is grey is one line. */
  const isOne = $derived(
    histogram.length === 3 && histogram.every((each) => String(each) === String(histogram[0])),
  );
  const held = (x: number): number => Math.min(Math.max(x, 0), 1);
  const drag = (event: PointerEvent, { name, put }: Handle) => {
    if (dragged !== name || !box) return;
    const { left, width } = box.getBoundingClientRect();
    put(held((event.clientX - left) / width));
  };
  const nudge = (event: KeyboardEvent, { at, put }: Handle) => {
    const way = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[event.key];
    if (way === undefined) return;
    put(held(at + way * (event.shiftKey ? 0.001 : 0.01)));
    event.preventDefault();
    event.stopPropagation();
  };
  const settle = () => {
    dragged = null;
    onsettle?.();
  };
</script>

<div class="relative mb-0.5" class:mb-3={handles.length > 0} bind:this={box}>
  <svg
    class="h-14 w-full border-b border-rule"
    viewBox="0 0 64 20"
    preserveAspectRatio="none"
    role="img"
    aria-label={label}
  >
    {#each isOne ? histogram.slice(0, 1) : histogram as bars, c (c)}
      <path
        d={outline(bars)}
        fill="none"
        stroke="currentColor"
        stroke-width="0.6"
        vector-effect="non-scaling-stroke"
        stroke-dasharray={LINES[c]![1]}
      />
    {/each}
  </svg>
  {#each handles as handle (handle.name)}
    <span
      class="handle"
      style:left="{held(handle.at) * 100}%"
      role="slider"
      tabindex="0"
      aria-label="{handle.name} on the histogram"
      aria-valuemin={0}
      aria-valuemax={1}
      aria-valuenow={Math.round(handle.at * 1000) / 1000}
      title="{handle.name}: drag, or use the arrow keys"
      onpointerdown={(event) => {
        dragged = handle.name;
        event.currentTarget.setPointerCapture(event.pointerId);
      }}
      onpointermove={(event) => drag(event, handle)}
      onpointerup={settle}
      onpointercancel={settle}
      onkeydown={(event) => nudge(event, handle)}
      onkeyup={() => dragged === null && onsettle?.()}
    ></span>
  {/each}
</div>

{#if !isOne}
  <p class="flex flex-wrap gap-x-2 text-[11.5px] text-second" aria-label="Lines of {label}">
    {#each LINES.slice(0, histogram.length) as [name, dashes] (name)}
      <span class="flex items-center gap-1"
        ><svg class="h-1 w-4" viewBox="0 0 16 4" aria-hidden="true"
          ><path d="M0 2H16" stroke="currentColor" stroke-dasharray={dashes} /></svg
        >{name}</span
      >
    {/each}
  </p>
{/if}

<style>
  .handle {
    position: absolute;
    top: 0;
    width: 13px;
    height: calc(100% + 9px);
    margin-left: -6px;
    cursor: ew-resize;
    touch-action: none;
    background: linear-gradient(var(--ink), var(--ink)) center / 1px 100% no-repeat;
  }
  .handle::after {
    content: '';
    position: absolute;
    bottom: 0;
    left: 2px;
    border: 4.5px solid transparent;
    border-top: 0;
    border-bottom: 8px solid var(--ink);
  }
  .handle:focus-visible {
    outline: 2px solid var(--limelight-ink);
  }
</style>
