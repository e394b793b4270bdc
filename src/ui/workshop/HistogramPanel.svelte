<script lang="ts">
  import type { ChartConfiguration } from 'chart.js';
  import { untrack } from 'svelte';
  import { formatNumber } from '#core/numbers/format.ts';
  import { histogramOf, type Histogram } from '#core/taps/histogram.ts';
  import type { DrawnTap } from '#stage/stage.ts';
  import Chart from '../parts/Chart.svelte';

  /** How the numbers of the step that is shown are spread over what is on screen. */
  let {
    read,
    frames,
  }: {
    read: () => Promise<DrawnTap | null>;
    /** Counts the stage’s frames: another picture has other numbers. */
    frames: number;
  } = $props();

  /** A picture that moves is looked at now and then. */
  const PAUSE_MS = 200;
  let found = $state.raw<Histogram | null>(null);
  let isRead = $state(false);
  let due: ReturnType<typeof setTimeout> | undefined;
  $effect(() => {
    void frames;
    untrack(() => {
      clearTimeout(due);
      due = setTimeout(() => {
        void read().then((drawn) => {
          found = drawn && histogramOf(drawn.rgba, drawn.components);
          isRead = true;
        });
      }, PAUSE_MS);
    });
    return () => clearTimeout(due);
  });

  const percent = (share: number): string =>
    share > 0 && share < 0.0005 ? '<0.1 %' : `${(100 * share).toFixed(1)} %`;
  const light = '#d8d8d8';
  const config = $derived.by((): (() => ChartConfiguration) | null => {
    if (!found) return null;
    const { bins, from, to } = found;
    const middle = (i: number): number => from + ((i + 0.5) / bins.length) * (to - from);
    return () => ({
      type: 'bar',
      data: {
        labels: bins.map((_, i) => formatNumber(middle(i))),
        datasets: [
          {
            data: [...bins],
            // What lies outside 0 to 1 is another grey.
            backgroundColor: bins.map((_, i) => (middle(i) < 0 || middle(i) > 1 ? '#e0796f' : light)),
            ...{ barPercentage: 1, categoryPercentage: 0.95 },
          },
        ],
      },
      options: {
        ...{ animation: false, maintainAspectRatio: false, responsive: true },
        plugins: { tooltip: { displayColors: false } },
        scales: {
          x: {
            grid: { display: false },
            ticks: { color: light, font: { size: 10 }, maxTicksLimit: 5, maxRotation: 0 },
          },
          y: { display: false, beginAtZero: true },
        },
      },
    });
  });
</script>

<section
  class="absolute right-3 bottom-12 w-64 rounded-md bg-[#000c] px-2.5 py-2 text-[12px] text-[#d8d8d8]"
  aria-label="Numbers on screen"
>
  {#if found && config}
    <div class="h-20"><Chart {config} label="How the step’s numbers are spread" /></div>
    <dl class="grid grid-cols-[auto_1fr_auto_1fr] gap-x-2 pt-1">
      <dt class="text-[#9a9a9a]">least</dt>
      <dd class="mono" data-testid="least">{formatNumber(found.least)}</dd>
      <dt class="text-[#9a9a9a]">below 0</dt>
      <dd class="mono" data-testid="below">{percent(found.below)}</dd>
      <dt class="text-[#9a9a9a]">greatest</dt>
      <dd class="mono" data-testid="greatest">{formatNumber(found.greatest)}</dd>
      <dt class="text-[#9a9a9a]">above 1</dt>
      <dd class="mono" data-testid="above">{percent(found.above)}</dd>
      <dt class="text-[#9a9a9a]">mean</dt>
      <dd class="mono" data-testid="mean">{formatNumber(found.mean)}</dd>
      <dt class="text-[#9a9a9a]">not a number</dt>
      <dd class="mono" data-testid="not-numbers">{found.notNumbers}</dd>
    </dl>
    <p class="text-[#9a9a9a]">Over {found.covered} pixels, all its components together.</p>
  {:else}
    <p>{isRead ? 'Nothing of this step is on screen.' : 'Counting…'}</p>
  {/if}
</section>
