<script lang="ts">
  import type { Chart as ChartJs, ChartConfiguration } from 'chart.js';
  import X from '@lucide/svelte/icons/x';
  import { untrack } from 'svelte';
  import { formatNumber } from '#core/numbers/format.ts';
  import { currentValue } from '#core/time/values.ts';
  import Chart from '../../parts/Chart.svelte';
  import type { ChartLook } from '../../parts/chartLook.ts';
  import type { PinWatch } from '../pins/watchPins.svelte.ts';
  import type { Rehearsal } from '../rehearsal.svelte.ts';
  import type { Session } from '../state/session.svelte.ts';
  import { dragValue, settleValue } from '../dragValue.ts';
  import type { Plotting } from './plotting.svelte.ts';

  let {
    session,
    rehearsal,
    pins,
    plotting,
  }: {
    session: Session;
    rehearsal: Rehearsal;
    pins: PinWatch;
    plotting: Plotting;
  } = $props();

  /** Lines are told apart by their dashes. */
  const DASHES: readonly (readonly number[])[] = [
    [],
    [7, 4],
    [2, 3],
    [10, 3, 2, 3],
    [14, 5],
    [4, 2],
    [8, 2, 2, 2, 2, 2],
    [1, 5],
  ];
  const LETTERS = 'xyzw';
  const plotted = $derived('plotted' in plotting.made ? plotting.made.plotted : null);
  interface Line {
    readonly key: string;
    readonly name: string;
    readonly c: number;
    /** Why there is nothing to draw. */
    readonly why: string;
    readonly data: readonly (number | null)[] | null;
  }
  /** One line for each number of each step. */
  const lines = $derived(
    plotting.keys.flatMap((key, i): readonly Line[] => {
      const line = plotted?.lines[i];
      const name = plotting.nameOf(key);
      if (!line || line.why !== undefined) return [{ key, name, why: line?.why ?? '', data: null, c: 0 }];
      const size = Math.max(0, ...line.values.map((each) => each.length));
      return Array.from({ length: Math.min(size, 4) }, (_, c) => ({
        ...{ key, c, why: '' },
        name: size === 1 ? name : `${name}.${LETTERS[c]!}`,
        data: line.values.map((each) => (Number.isFinite(each[c]) ? each[c]! : null)),
      }));
    }),
  );
  const parameter = $derived.by(() => {
    const { asked } = plotting;
    return asked.kind === 'parameter'
      ? (plotting.parameters.find(({ name }) => name === asked.name) ?? null)
      : null;
  });
  /** Where it stands now, along what it is drawn against; null where that is nowhere. */
  const now = $derived.by((): number | null => {
    const { asked } = plotting;
    if (parameter && session.material)
      return currentValue(
        parameter,
        session.authored(session.material.body.values),
        session.values.of(session.material.id),
      )[0]!;
    // A running trace ends at now, and moves as often as it is taken.
    if (asked.kind === 'time') return plotting.isTrace ? (plotted?.x.at(-1) ?? 0) : rehearsal.time;
    const there = plotting.pin && pins.seen.get(plotting.pin.id);
    if (asked.kind === 'line') return 0;
    return there && there.why === undefined ? there.place.uv[asked.kind === 'u' ? 0 : 1]! : 0.5;
  });
  /** What a line comes to nearest to now. */
  const atNow = (data: readonly (number | null)[] | null): string => {
    if (!data || now === null || !plotted?.x.length) return '';
    const { x } = plotted;
    let best = 0;
    x.forEach((each, i) => {
      if (Math.abs(each - now) < Math.abs(x[best]! - now)) best = i;
    });
    const found = data[best];
    return found === null || found === undefined ? '—' : formatNumber(found);
  };
  const unit = $derived(
    parameter
      ? parameter.unit
      : plotting.asked.kind === 'time'
        ? 's'
        : plotting.asked.kind === 'line'
          ? 'm'
          : '',
  );

  const low = $derived(plotting.range[0]);
  const high = $derived(plotting.range[1]);
  let chart = $state.raw<ChartJs | null>(null);
  /** Where the plot itself is on the page: Chart.js lays its axes out after it is drawn. */
  let area = $state.raw<{ left: number; right: number; top: number; bottom: number } | null>(null);
  const config = $derived.by((): ((look: ChartLook) => ChartConfiguration) | null => {
    if (!plotted) return null;
    const drawn = lines.filter((each) => each.data !== null);
    return (look) => ({
      type: 'line',
      data: {
        datasets: drawn.map((line, i) => ({
          label: line.name,
          data: plotted.x.map((x, k) => ({ x, y: line.data![k] as number })),
          ...{
            borderColor: look.ink,
            borderWidth: 1.6,
            pointRadius: 0,
            borderDash: [...DASHES[i % DASHES.length]!],
          },
        })),
      },
      options: {
        ...{
          animation: false,
          maintainAspectRatio: false,
          responsive: true,
          parsing: false,
          normalized: true,
        },
        interaction: { mode: 'index', intersect: false },
        plugins: {
          tooltip: {
            displayColors: false,
            callbacks: {
              title: ([first]) => `${formatNumber(first!.parsed.x ?? NaN)} ${unit}`,
              label: ({ dataset, parsed }) => `${dataset.label ?? ''}  ${formatNumber(parsed.y ?? NaN)}`,
            },
          },
        },
        scales: {
          x: {
            type: 'linear',
            min: low,
            max: high,
            grid: { display: false },
            ticks: { color: look.second, font: look.mono, maxTicksLimit: 9, maxRotation: 0 },
          },
          y: {
            grid: { color: look.hairline },
            ticks: { color: look.second, font: look.mono, maxTicksLimit: 6 },
          },
        },
      },
    });
  });
  const laidOut = (made: ChartJs) => {
    const { left, right, top, bottom } = made.chartArea;
    const same =
      area &&
      [area.left - left, area.right - right, area.top - top, area.bottom - bottom].every(
        (x) => Math.abs(x) < 0.5,
      );
    if (!same) area = { left, right, top, bottom };
    if (chart !== made) {
      chart = made;
      plotting.setChart(made);
    }
  };
  $effect(() => () => plotting.setChart(null));
  $effect(() => {
    void pins.seen;
    untrack(() => plotting.follow());
  });

  const share = $derived(
    now === null ? null : (now - plotting.range[0]) / (plotting.range[1] - plotting.range[0]),
  );
  const set = (x: number) => {
    if (!parameter || !session.material) return;
    const held = Math.min(Math.max(x, parameter.min), parameter.max);
    const value = Number((parameter.kind === 'int' ? Math.round(held) : held).toPrecision(6));
    dragValue(session, parameter, [value]);
  };
  let plane = $state<HTMLElement>();
  const drag = (event: PointerEvent) => {
    if (!event.buttons || !plane || !area) return;
    const { left } = plane.getBoundingClientRect();
    const [from, to] = plotting.range;
    set(from + ((event.clientX - left - area.left) / (area.right - area.left)) * (to - from));
  };
  const step = (event: KeyboardEvent) => {
    const way = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (!way || now === null) return;
    event.preventDefault();
    event.stopPropagation();
    const [from, to] = plotting.range;
    set(now + (way * (to - from)) / (event.shiftKey ? 20 : 200));
    settleValue(session);
  };
</script>

<div class="flex h-full">
  <ul class="w-[126px] flex-none overflow-y-auto border-r border-rule px-3.5 py-2" aria-label="Lines">
    {#each lines as line, i (`${line.key} ${line.c}`)}
      <li class="group pb-2" title={line.why}>
        <div class="flex items-center gap-1">
          <span class="min-w-0 flex-1 truncate font-semibold" title={line.name}>{line.name}</span>
          <button
            class="text-third opacity-0 group-hover:opacity-100 hover:text-ink focus:opacity-100"
            aria-label="Take {line.name} out of the plot"
            onclick={() => plotting.remove(line.key)}><X size={11} /></button
          >
        </div>
        {#if line.data}
          <div class="flex items-center gap-2">
            <svg width="26" height="4" aria-hidden="true"
              ><line
                x1="0"
                x2="26"
                y1="2"
                y2="2"
                stroke="currentColor"
                stroke-width="1.8"
                stroke-dasharray={DASHES[i % DASHES.length]!.join(' ')}
              /></svg
            >
            <span class="mono text-[12px] text-second" data-now>{atNow(line.data)}</span>
          </div>
        {:else}
          <p class="text-[11px] text-oxblood">{line.why || 'nothing yet'}</p>
        {/if}
      </li>
    {:else}
      <li class="text-second">No line yet.</li>
    {/each}
  </ul>
  <div class="relative min-w-0 flex-1 p-2" role="group" aria-label="Plot">
    {#if 'why' in plotting.made}
      <p class="p-2 text-second">{plotting.made.why}</p>
    {:else if config}
      <div class="relative h-full w-full" bind:this={plane}>
        <Chart
          {config}
          label="{lines.map(({ name }) => name).join(', ')} by {plotting.against.replace(
            /^(parameter|pin) /,
            '',
          )}"
          ondrawn={laidOut}
        />
        {#if area && share !== null && share >= 0 && share <= 1}
          <div
            class="marker"
            class:still={!parameter}
            style:left="{area.left + share * (area.right - area.left)}px"
            style:top="{area.top}px"
            style:height="{area.bottom - area.top}px"
            role="slider"
            tabindex={parameter ? 0 : -1}
            aria-label={parameter ? `${parameter.name} now` : 'Now'}
            aria-valuenow={now}
            aria-valuemin={plotting.range[0]}
            aria-valuemax={plotting.range[1]}
            aria-disabled={!parameter}
            onpointerdown={(event) => parameter && event.currentTarget.setPointerCapture(event.pointerId)}
            onpointermove={drag}
            onpointerup={() => settleValue(session)}
            onkeydown={step}
          >
            <span>{formatNumber(now!)}{unit ? ` ${unit}` : ''}</span>
          </div>
        {/if}
      </div>
    {/if}
  </div>
</div>

<style>
  .marker {
    position: absolute;
    width: 11px;
    margin-left: -5px;
    border: 0 solid transparent;
    background: linear-gradient(var(--limelight-ink), var(--limelight-ink)) center / 1.5px 100% no-repeat;
    cursor: ew-resize;
    touch-action: none;
  }
  .marker.still {
    cursor: default;
    pointer-events: none;
  }
  .marker span {
    position: absolute;
    top: -2px;
    left: 50%;
    padding: 0 4px;
    background: var(--limelight);
    color: #1c1a17;
    font-family: var(--font-mono, monospace);
    font-size: 11px;
    line-height: 15px;
    white-space: nowrap;
    transform: translateX(-50%);
  }
</style>
