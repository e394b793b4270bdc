<script lang="ts">
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
    type ChartConfiguration,
  } from 'chart.js';

  /** A chart of Chart.js, drawn anew only where what it shows is another. */
  interface Props {
    config: ChartConfiguration;
    label: string;
    /** Told of the chart, for pictures of it. */
    onchart?: (chart: Chart) => void;
  }
  let { config, label, onchart }: Props = $props();

  Chart.register(
    BarController,
    BarElement,
    CategoryScale,
    LinearScale,
    LineController,
    LineElement,
    PointElement,
    Tooltip,
  );
  let canvas: HTMLCanvasElement;
  let chart: Chart | null = null;
  $effect(() => {
    const { data, options, plugins } = config;
    if (chart && !plugins) {
      chart.data = data;
      chart.options = options ?? {};
      chart.update('none');
    } else {
      chart?.destroy();
      chart = new Chart(canvas, config);
    }
    onchart?.(chart);
  });
  $effect(() => () => {
    chart?.destroy();
    chart = null;
  });
</script>

<div class="relative h-full w-full" role="img" aria-label={label}>
  <canvas bind:this={canvas}></canvas>
</div>
