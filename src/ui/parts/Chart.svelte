<script lang="ts" module>
  import {
    BarController,
    BarElement,
    CategoryScale,
    Chart,
    LinearScale,
    LineController,
    LineElement,
    PointElement,
    Tooltip,
  } from 'chart.js';

  Chart.register(BarController, BarElement, CategoryScale, LinearScale);
  Chart.register(LineController, LineElement, PointElement, Tooltip);
</script>

<script lang="ts">
  import type { ChartConfiguration } from 'chart.js';
  import { onMount, untrack } from 'svelte';
  import { chartLook, type ChartLook } from './chartLook.ts';

  /** A chart of Chart.js, drawn anew only where what it shows, or the theme, is another. */
  interface Props {
    /** What it shows, in the page’s colours. */
    config: (look: ChartLook) => ChartConfiguration;
    label: string;
    /** Told of the chart each time it was drawn. */
    ondrawn?: (chart: Chart) => void;
  }
  let { config, label, ondrawn }: Props = $props();

  let canvas: HTMLCanvasElement;
  let chart: Chart | null = null;
  let look = $state.raw(chartLook());
  onMount(() => {
    const themed = new MutationObserver(() => (look = chartLook()));
    themed.observe(document.documentElement, { attributeFilter: ['data-theme'] });
    return () => {
      themed.disconnect();
      chart?.destroy();
    };
  });
  $effect(() => {
    const wanted = config(look);
    if (chart) {
      chart.data = wanted.data;
      chart.options = wanted.options ?? {};
      chart.update('none');
    } else {
      // Lines are quickly drawn by the processor, which leaves the graphics card to the stage.
      canvas.getContext('2d', { willReadFrequently: true });
      chart = new Chart(canvas, wanted);
    }
    const drawn = chart;
    untrack(() => ondrawn?.(drawn));
  });
</script>

<div class="relative h-full w-full" role="img" aria-label={label}>
  <canvas bind:this={canvas}></canvas>
</div>
