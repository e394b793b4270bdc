<script lang="ts">
  import type { ChartConfiguration } from 'chart.js';
  import X from '@lucide/svelte/icons/x';
  import { toast } from 'svelte-sonner';
  import { driveRange } from '#core/edits/driveRange.ts';
  import { drivenRange, sweptCsv, sweptSentences } from '#core/taps/sweep.ts';
  import { mapCsv } from '#core/taps/sweepMap.ts';
  import Chart from '../../parts/Chart.svelte';
  import type { ChartLook } from '../../parts/chartLook.ts';
  import { download } from '../../parts/download.ts';
  import NumberField from '../../parts/NumberField.svelte';
  import { addGuarantee } from '#core/edits/checkEdits.ts';
  import type { Checking } from '../checks/checking.svelte.ts';
  import { newId } from '../../parts/newId.ts';
  import { commitDeed } from '../parts/doToPart.ts';
  import type { Session } from '../state/session.svelte.ts';
  import SweepMap from './SweepMap.svelte';
  import { ALONG, SAMPLES, type Sweeping } from './sweeping.svelte.ts';

  let { session, sweeping, checking }: { session: Session; sweeping: Sweeping; checking: Checking } =
    $props();

  const parameter = $derived(sweeping.parameter);
  const total = $derived(sweeping.second ? ALONG * ALONG : SAMPLES);
  /** What else can be gone over beside it. */
  const others = $derived(
    session.document?.parameters.filter(
      ({ id, kind }) => (kind === 'float' || kind === 'int') && id !== parameter?.id,
    ) ?? [],
  );
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
  /** What the sweep found at its ends, as guarantees: at where nothing shows, and at where all of it does. */
  const ends = $derived.by(() => {
    if (!swept || !parameter) return [];
    const { nothing, whole } = swept;
    const at = (x: number, inwards: number): number => Number((x + inwards).toFixed(3));
    /** The span's own end that lies inside the range, a thousandth within it, else its other. */
    const inner = (span: { readonly from: number; readonly to: number }): number =>
      span.from <= sweeping.from ? at(span.to, -1e-3) : at(span.from, 1e-3);
    return [
      ...(nothing[0] ? [{ shows: 'nothing' as const, at: inner(nothing[0]) }] : []),
      ...(whole[0] ? [{ shows: 'all' as const, at: inner(whole[0]) }] : []),
    ];
  });
  const promise = () => {
    const { shader } = session;
    if (!shader || !parameter) return;
    const { id: of } = parameter;
    for (const end of ends) {
      const { shader: now } = session;
      session.apply(
        addGuarantee(now!, {
          ...{ id: `guarantee-${newId()}`, kind: 'shows', parameter: of, ...end },
          ...(sweeping.strand === null ? {} : { strand: sweeping.strand }),
        }),
      );
    }
    session.settle();
    toast(
      `${ends.length === 1 ? 'A guarantee is' : `${ends.length} guarantees are`} kept with ${shader.name}.`,
    );
  };
</script>

<section class="flex h-full flex-col border-l border-rule bg-page" aria-label="Sweep">
  <header class="flex h-[35px] flex-none items-center gap-3 border-b border-hairline px-3.5">
    <h2 class="text-[14px] font-semibold">Sweep</h2>
    <span class="mono truncate text-second">{parameter?.name ?? ''}</span>
    <span class="ml-auto text-second"
      >{sweeping.share === null
        ? swept
          ? `${total} of ${total}`
          : ''
        : `${Math.round(sweeping.share * total)} of ${total}`}</span
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
    {#if others.length}
      <label class="flex items-center gap-1.5 pt-1 text-[12px] text-third"
        >over two, with <select
          class="max-w-40 bg-transparent text-ink"
          value={sweeping.second?.id ?? ''}
          onchange={(event) => sweeping.setSecond(event.currentTarget.value || null)}
        >
          <option value="">none other</option>
          {#each others as each (each.id)}<option value={each.id}>{each.name}</option>{/each}
        </select></label
      >
    {/if}
    {#if sweeping.refusal}
      <p class="py-3 text-oxblood" role="alert">{sweeping.refusal}</p>
      <button class="btn" onclick={sweeping.run}>Sweep again</button>
    {:else if sweeping.map && sweeping.second && parameter}
      {@const second = sweeping.second}
      {@const map = sweeping.map}
      <div class="pt-2"><SweepMap {map} first={parameter.name} second={second.name} /></div>
      <p class="py-1 text-[12px] text-third">
        {parameter.name} to the right, {second.name} upwards; darker shows more, hatched is nothing, limelight all
        of it.
      </p>
      {#if sweeping.isPast}
        <p class="text-second">
          The shader is another since. <button class="underline" onclick={sweeping.run}>Sweep again</button>
        </p>
      {/if}
      <button
        class="btn"
        onclick={() =>
          download(
            `${parameter.name}-${second.name}.csv`,
            'text/csv',
            mapCsv(map, parameter.name, second.name),
          )}>CSV</button
      >
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
          disabled={!ends.length}
          title={ends.length
            ? ends
                .map((end) => `At ${told(end.at)} ${end.shows === 'nothing' ? 'nothing' : 'all of it'} shows`)
                .join('; ')
            : 'It has no end here to keep to'}
          onclick={promise}>Make a guarantee</button
        >
        <button
          class="btn"
          onclick={() =>
            parameter && download(`${parameter.name}-sweep.csv`, 'text/csv', sweptCsv(swept, parameter.name))}
          >CSV</button
        >
      </div>
      {#if checking.kept.length}
        <h3 class="pt-1 text-second">Guarantees</h3>
        <ul class="pb-2">
          {#each checking.kept as { id, sentence, holds, figure } (id)}
            <li class="flex items-baseline gap-2" class:text-oxblood={holds === false}>
              <span class="w-3 flex-none">{holds === null ? '–' : holds ? '✓' : '✕'}</span>
              <span class="min-w-0 flex-1">{sentence}</span>
              <span class="mono text-second">{figure}</span>
            </li>
          {/each}
        </ul>
      {/if}
    {:else}
      <p class="py-3 text-second">Looking at {total} values…</p>
    {/if}
  </div>
</section>
