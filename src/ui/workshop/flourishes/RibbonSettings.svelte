<script lang="ts">
  import { MOST_SEGMENTS, type Ribbon, type RibbonEnd } from '#core/document/flourishes.ts';
  import type { PartOf } from '#core/document/project.ts';
  import { ramp } from '#core/edits/flourishEdits.ts';
  import type { Triple } from '#core/numbers/vectors.ts';
  import GradientField from '../../parts/GradientField.svelte';
  import NumberField from '../../parts/NumberField.svelte';
  import NumberRow from '../../parts/NumberRow.svelte';
  import NumbersLine from '../set/NumbersLine.svelte';
  import type { Session } from '../state/session.svelte.ts';
  import MaybeCurve from './MaybeCurve.svelte';
  import PlaceChoice from '../cues/PlaceChoice.svelte';

  /** A ribbon: its ends or its moving point, how wide and bright it is along it, and how fine. */
  interface Props {
    session: Session;
    set: PartOf<'stage'>;
    ribbon: Ribbon;
    name: string;
    onchange: (ribbon: Ribbon, merge: string) => void;
    onsettle: () => void;
  }
  let { session, set, ribbon, name, onchange, onsettle }: Props = $props();
  const put = (wanted: Partial<Ribbon>, merge: string) => onchange({ ...ribbon, ...wanted }, merge);
  const done = (ribbon: Ribbon, merge: string) => {
    onchange(ribbon, merge);
    onsettle();
  };
  const putMaybe = (field: 'widths' | 'fade', wanted: readonly number[] | undefined) => {
    const { [field]: _, ...rest } = ribbon;
    onchange((wanted ? { ...rest, [field]: wanted } : rest) as Ribbon, field);
  };
  const toggle = <K extends 'to' | 'reach' | 'color' | 'raw'>(field: K, start: Ribbon[K] | undefined) => {
    const { [field]: _, ...rest } = ribbon;
    done((start === undefined ? rest : { ...rest, [field]: start }) as Ribbon, field);
  };
  const putEnd = (which: 'from' | 'to', change: Partial<RibbonEnd>, merge: string) =>
    put({ [which]: { ...ribbon[which]!, ...change } }, `${which} ${merge}`);
  const onWhat = (which: 'from' | 'to', of: string) => {
    const { of: _, ...rest } = ribbon[which]!;
    done({ ...ribbon, [which]: of ? { ...rest, of } : rest }, `${which} of`);
  };
</script>

{#snippet end(which: 'from' | 'to', word: string)}
  {@const own = ribbon[which]!}
  <div class="mt-1 flex items-center gap-1.5">
    <span class="text-second">{word}</span>
    <PlaceChoice
      props={set.body.props}
      label="{name} {word}, on"
      nothing="the flourish"
      value={own.of}
      onchange={(of) => onWhat(which, of)}
    />
  </div>
  <div class="ml-3 flex flex-col gap-0.5">
    <NumbersLine
      word="at"
      label="{name} {word} at"
      value={own.at}
      unit=" m"
      onchange={(at) => putEnd(which, { at: at as Triple }, 'at')}
      {onsettle}
    />
    <NumbersLine
      word="way"
      label="{name} {word} way"
      value={own.way}
      unit=" m"
      onchange={(way) => putEnd(which, { way: way as Triple }, 'way')}
      {onsettle}
    />
    <NumbersLine
      word="sways"
      label="{name} {word} sways"
      value={own.sway ?? [0, 0, 0]}
      unit=" m"
      onchange={(sway) => putEnd(which, { sway: sway as Triple }, 'sway')}
      {onsettle}
    />
    {#if own.sway}
      <NumbersLine
        word="every"
        label="{name} {word} every"
        value={[own.every ?? 1]}
        min={0.01}
        max={3600}
        unit=" s"
        onchange={([every]) => putEnd(which, { every: every! }, 'every')}
        {onsettle}
      />
    {/if}
  </div>
{/snippet}

<h4 class="mt-2 mb-1 text-third">Ribbon</h4>
<select
  class="bg-transparent font-semibold"
  aria-label="{name}: what it is"
  value={ribbon.to ? 'between' : 'trail'}
  onchange={(event) =>
    toggle(
      'to',
      event.currentTarget.value === 'between' ? { at: [0.5, 0, 0], way: [0.4, -0.6, 0] } : undefined,
    )}
>
  <option value="between">between two ends</option>
  <option value="trail">left behind by a point</option>
</select>
{@render end('from', ribbon.to ? 'from' : 'point')}
{#if ribbon.to}{@render end('to', 'to')}{/if}
<div class="mt-1 grid grid-cols-[4.5rem_1fr] items-center gap-x-2 gap-y-1">
  <NumberRow
    word="segments"
    value={ribbon.segments}
    label="Segments"
    whole
    min={1}
    max={MOST_SEGMENTS}
    onchange={(segments) => put({ segments }, 'segments')}
    {onsettle}
  />
  <NumberRow
    word="width"
    value={ribbon.width}
    label="Width of the ribbon"
    min={0}
    max={100}
    unit=" m"
    onchange={(width) => put({ width }, 'width')}
    {onsettle}
  />
  <MaybeCurve
    word="along it"
    label="width along it"
    value={ribbon.widths}
    starter={[...ramp(1, 1)]}
    onchange={(wanted) => putMaybe('widths', wanted)}
    {onsettle}
  />
  <MaybeCurve
    word="by age"
    label="brightness by age"
    value={ribbon.fade}
    starter={ramp(1, 0)}
    title="Its brightness, by the age of what is seen: alpha of the vertex colour"
    onchange={(wanted) => putMaybe('fade', wanted)}
    {onsettle}
  />
  <span class="text-second" title="The vertex colour, along it">colour</span>
  {#if ribbon.color}
    <div class="flex items-center gap-1">
      <div class="min-w-0 flex-1">
        <GradientField
          value={ribbon.color}
          label="colour along it"
          onchange={(color) => put({ color }, 'color')}
          {onsettle}
        />
      </div>
      <button
        class="text-third hover:text-ink"
        aria-label="Without colour along it"
        onclick={() => toggle('color', undefined)}>×</button
      >
    </div>
  {:else}
    <button
      class="justify-self-start text-third hover:text-ink"
      aria-label="A gradient along it"
      onclick={() => toggle('color', [0, 1, 1, 1, 1, 0.2, 0.4, 1])}>a gradient…</button
    >
  {/if}
  {#if ribbon.to}
    <span class="text-second" title="Metres between its ends beyond which it breaks">breaks at</span>
    {#if ribbon.reach === undefined}
      <button
        class="justify-self-start text-third hover:text-ink"
        aria-label="A reach for {name}"
        onclick={() => toggle('reach', 2)}>no length…</button
      >
    {:else}
      <NumberField
        value={ribbon.reach}
        label="Breaks at"
        min={0}
        max={1000}
        hard
        unit=" m"
        onchange={(reach) => put({ reach }, 'reach')}
        {onsettle}
      />
    {/if}
  {:else}
    <NumberRow
      word="lasts"
      value={ribbon.lasts ?? 0.5}
      label="Lasts"
      min={1 / 60}
      max={10}
      unit=" s"
      onchange={(lasts) => put({ lasts }, 'lasts')}
      {onsettle}
    />
    <span class="text-second" title="Smoothed and even along it, or as the point went, tick by tick"
      >line</span
    >
    <select
      class="justify-self-start bg-transparent font-semibold"
      aria-label="{name}: its line"
      value={ribbon.raw ? 'raw' : 'smooth'}
      onchange={(event) => toggle('raw', event.currentTarget.value === 'raw' ? true : undefined)}
    >
      <option value="smooth">smoothed</option>
      <option value="raw">raw</option>
    </select>
    {#if !ribbon.raw}
      <label class="col-span-2 flex items-center gap-1.5 text-second">
        <input
          type="checkbox"
          class="accent-ink"
          checked={session.showsRaw}
          onchange={(event) => session.setShowsRaw(event.currentTarget.checked)}
        />
        show the raw way beside it, on the stage
      </label>
    {/if}
  {/if}
</div>
