<script lang="ts">
  import type { ChartConfiguration } from 'chart.js';
  import X from '@lucide/svelte/icons/x';
  import { toast } from 'svelte-sonner';
  import { driveRange } from '#core/edits/driveRange.ts';
  import { drivenRange, sweptCsv, sweptSentences } from '#core/taps/sweep.ts';
  import Chart from '../../parts/Chart.svelte';
  import type { ChartLook } from '../../parts/chartLook.ts';
  import { download } from '../../parts/download.ts';
  import NumberField from '../../parts/NumberField.svelte';
  import { commitDeed } from '../parts/doToPart.ts';
  import type { Session } from '../state/session.svelte.ts';
  import { SAMPLES, type Sweeping } from './sweeping.svelte.ts';

  let { session, sweeping }: { session: Session; sweeping: Sweeping } = $props();

  const parameter = $derived(sweeping.parameter);
  const swept = $derived(sweeping.swept);
  const unit = $derived(parameter?.unit ?? '');
  let measure = $state<'share' | 'brightest' | 'change'>('share');
  const MEASURES = {
    share: 'how much of the prop shows',
    brightest: 'the brightest of what shows',
    change: 'how much becomes another a step',
  } as const;
  const strands = $derived(sweeping.strands);
  const hasOpacity = $derived(session.shader?.body.surface.alphaMode !== 'opaque');
  const range = $derived(swept ? drivenRange(swept, sweeping.from, sweeping.to) : null);
  const told = (x: number): string =>
    x
      .toFixed(3)
      .replace(/0{1,2}$/, '')
      .replace('-', '−');
  const isDriven = $derived(parameter?.kind === 'float' && range !== null && range.to !== range.from);

  const config = $derived.by((): ((look: ChartLook) => ChartConfiguration) | null => {
    if (!swept) return null;
    const { samples } = swept;
    const values = samples.map((each) => each[measure]);
    return (look) => ({
      type: 'bar',
      data: {
        labels: samples.map(({ at }) => told(at)),
        datasets: [{ data: values, backgroundColor: look.ink, barPercentage: 0.9, categoryPercentage: 0.9 }],
      },
      options: {
        ...{ animation: false, maintainAspectRatio: false, responsive: true },
        plugins: { tooltip: { displayColors: false } },
        scales: {
          x: {
            grid: { display: false },
            ticks: { color: look.second, font: look.mono, maxTicksLimit: 7, maxRotation: 0 },
          },
          y: {
            beginAtZero: true,
            ...(measure === 'share' ? { max: 1 } : {}),
            grid: { color: look.hairline },
            ticks: { color: look.second, font: look.mono, maxTicksLimit: 5 },
          },
        },
      },
    });
  });

  const drive = () => {
    const { shader } = session;
    if (!parameter || !range || !shader) return;
    const driven = parameter.name;
    const ends = [Number(range.from.toFixed(3)), Number(range.to.toFixed(3))] as const;
    const changes = driveRange(session.parts, shader, parameter, ends);
    if (typeof changes === 'string') return void toast.error(changes);
    void commitDeed(session, `Drive ${parameter.name} from 0 to 1`, changes).then((done) => {
      if (!done) return;
      sweeping.close();
      toast(`${driven} goes from 0 to 1 now; a script that drives it has to as well.`);
    });
  };
</script>

<section class="flex h-full flex-col border-l border-rule bg-page" aria-label="Sweep">
  <header class="flex h-[35px] flex-none items-center gap-3 border-b border-hairline px-3.5">
    <h2 class="text-[14px] font-semibold">Sweep</h2>
    <span class="mono truncate text-second">{parameter?.name ?? ''}</span>
    <span class="ml-auto text-second"
      >{sweeping.share === null
        ? swept
          ? `${SAMPLES} of ${SAMPLES}`
          : ''
        : `${Math.round(sweeping.share * SAMPLES)} of ${SAMPLES}`}</span
    >
    {#if sweeping.share !== null}
      <button class="text-second underline hover:text-ink" onclick={sweeping.cancel}>Cancel</button>
    {/if}
    <button
      class="text-third hover:text-ink"
      aria-label="Close the sweep"
      title="Close"
      onclick={sweeping.close}><X size={14} /></button
    >
  </header>
  <div class="min-h-0 flex-1 overflow-y-auto px-3.5 py-2">
    <div class="flex flex-wrap items-baseline gap-x-4 gap-y-1 text-[12px] text-third">
      <span class="flex items-baseline gap-1.5"
        >from <NumberField
          plain
          value={sweeping.from}
          label="From"
          step={0.01}
          {unit}
          onchange={(x) => sweeping.setRange(x, sweeping.to)}
          onsettle={() => undefined}
        /> to <NumberField
          plain
          value={sweeping.to}
          label="To"
          step={0.01}
          {unit}
          onchange={(x) => sweeping.setRange(sweeping.from, x)}
          onsettle={() => undefined}
        /></span
      >
      <label class="flex items-center gap-1.5"
        >what shows <select
          class="max-w-32 bg-transparent text-ink"
          value={sweeping.strand ?? ''}
          onchange={(event) => sweeping.setStrand(event.currentTarget.value || null)}
        >
          {#if hasOpacity}<option value="">opacity</option>{/if}
          {#each strands as each (each.id)}<option value={each.id}>{each.name}</option>{/each}
        </select></label
      >
    </div>
    {#if sweeping.refusal}
      <p class="py-3 text-oxblood" role="alert">{sweeping.refusal}</p>
      <button class="btn" onclick={sweeping.run}>Sweep again</button>
    {:else if swept && config}
      <select
        class="mt-2 bg-transparent text-[12px] text-third"
        aria-label="What the chart shows"
        bind:value={measure}
      >
        {#each Object.entries(MEASURES) as [key, words] (key)}<option value={key}>{words}</option>{/each}
      </select>
      <div class="h-32"><Chart {config} label="{MEASURES[measure]}, by {parameter?.name}" /></div>
      {#if sweeping.isPast}
        <p class="pt-1 text-second">
          The shader is another since. <button class="underline" onclick={sweeping.run}>Sweep again</button>
        </p>
      {/if}
      <div class="py-2" data-testid="swept">
        {#each sweptSentences(swept, unit) as sentence (sentence)}<p>{sentence}</p>{/each}
        <p class="text-[12px] text-third">Measured at {swept.spots} points spread over its area.</p>
      </div>
      <div class="flex flex-wrap gap-2 pb-2">
        <button
          class="btn"
          disabled={!isDriven}
          title={isDriven
            ? '0 to 1 goes from one of these ends to the other; what it stands at is carried over'
            : 'It has no two ends here'}
          onclick={drive}
          >Drive 0–1 between {range ? `${told(range.from)} and ${told(range.to)}` : 'these ends'}</button
        >
        <button
          class="btn"
          onclick={() =>
            parameter && download(`${parameter.name}-sweep.csv`, 'text/csv', sweptCsv(swept, parameter.name))}
          >CSV</button
        >
      </div>
    {:else}
      <p class="py-3 text-second">Looking at {SAMPLES} values…</p>
    {/if}
  </div>
</section>
