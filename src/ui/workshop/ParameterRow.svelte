<script lang="ts">
  import { isStop, parameterStop } from './score/stops.ts';
  import Check from '@lucide/svelte/icons/check';
  import Cable from '@lucide/svelte/icons/cable';
  import RotateCcw from '@lucide/svelte/icons/rotate-ccw';
  import type { Parameter, ParameterValue } from '#core/document/shader.ts';
  import ColourField from '../parts/ColourField.svelte';
  import CurveField from '../parts/CurveField.svelte';
  import GradientField from '../parts/GradientField.svelte';
  import NumberField from '../parts/NumberField.svelte';
  import { spanOf } from '../parts/spanOf.ts';
  import Ruler from '../parts/Ruler.svelte';

  interface Props {
    parameter: Parameter;
    value: ParameterValue;
    /** The vector and its components that a lifetime parameter is packed in. */
    slot?: string | undefined;
    /** Who drives it now, if anyone does. */
    driver: string | null;
    changed: boolean;
    onchange: (value: ParameterValue) => void;
    onsettle: () => void;
    onreset: () => void;
    onedit: () => void;
    /** Takes what it is driven to now into what is authored. */
    onkeep?: (() => void) | undefined;
    /** What feeds it by a standing rule of the set, in words, and what opens that; nothing where none can. */
    fed?: string | null | undefined;
    onfeed?: (() => void) | undefined;
    /** What it stood at lately, the newest last. */
    trace?: readonly number[] | undefined;
    /** A texture's picture, and what happens when another is chosen. */
    picture?: string | undefined;
    onpicture: (file: File) => void;
    /** Textures that are made here, which it may read, and which it does. */
    textures?: readonly { readonly id: string; readonly name: string }[] | undefined;
    made?: string | undefined;
    onmade?: ((id: string) => void) | undefined;
    /** What a motif's input reads where a user gives nothing: then its numbers stand unused. */
    reads?: string | undefined;
  }
  let {
    parameter,
    value,
    slot,
    driver,
    changed,
    onchange,
    onsettle,
    onreset,
    onedit,
    onkeep,
    fed,
    onfeed,
    trace,
    picture,
    onpicture,
    textures = [],
    made,
    onmade,
    reads,
  }: Props = $props();
  const whole = $derived(parameter.kind === 'int' || parameter.kind === 'noise');
  const isTable = $derived(parameter.kind === 'curve' || parameter.kind === 'gradient');
  const names = $derived(parameter.kind === 'noise' ? ['seed', 'period'] : ['x', 'y', 'z', 'w']);
  const live = $derived(driver !== null);
  const step = $derived((parameter.max - parameter.min) / 400 || 0.01);
  const unit = $derived(parameter.unit && parameter.unit !== 'stops' ? parameter.unit : '');
  const set = (i: number, x: number) => onchange(value.map((each, k) => (k === i ? x : each)));
  const tip = $derived(
    [
      parameter.description,
      parameter.ends ? `Driven from 0 to 1, it works between ${parameter.ends.join(' and ')}.` : '',
      driver ? `Driven by ${driver}.` : '',
    ]
      .filter(Boolean)
      .join(' '),
  );
</script>

<div class="row group" class:driven={live} data-parameter={parameter.name} title={tip}>
  <div class="flex min-w-0 items-center gap-1">
    <button
      class="name"
      {@attach isStop(parameterStop(parameter.name))}
      onclick={onedit}
      title="{tip} Click to change the parameter."
    >
      {parameter.name}{#if driver}<small>{driver}</small>{:else if fed}<small class="scope">{fed}</small
        >{:else if parameter.scope === 'shared'}<small class="scope">shared</small>{:else if slot}<small
          class="scope mono">{slot}</small
        >{/if}
    </button>
    {#if onfeed}
      <button
        class="feed group-hover:opacity-100 focus:opacity-100"
        class:fed
        aria-label="What feeds {parameter.name}"
        title={fed ? `Fed by ${fed}. Click to change.` : 'Let something of the set feed it'}
        onclick={onfeed}><Cable size={12} /></button
      >
    {/if}
  </div>
  <div class="ruler relative">
    {#if trace && trace.length > 1}
      {@const { low, high } = spanOf(trace)}
      <svg class="trace" viewBox="0 0 239 20" preserveAspectRatio="none" aria-hidden="true"
        ><path
          d={trace
            .map(
              (y, i) =>
                `${i ? 'L' : 'M'}${239 - (trace.length - 1 - i)} ${19 - (18 * (y - low)) / (high - low)}`,
            )
            .join('')}
        /></svg
      >
    {/if}
    {#if reads}
      <span
        class="mono text-second"
        title="Where a user of the motif gives nothing. Click the name to change it.">{reads}</span
      >
    {:else if parameter.kind === 'color'}
      <ColourField {value} label={parameter.name} {onchange} {onsettle} />
    {:else if parameter.kind === 'curve'}
      <CurveField {value} label={parameter.name} {onchange} {onsettle} />
    {:else if parameter.kind === 'gradient'}
      <GradientField {value} label={parameter.name} {onchange} {onsettle} />
    {:else if parameter.kind === 'texture'}
      <label class="picture" title="Choose a PNG, JPEG or WebP picture">
        {#if picture}<img src={picture} alt="The picture {parameter.name} reads" />{/if}
        <span>{picture ? 'Choose another…' : 'Choose a picture…'}</span>
        <input
          type="file"
          accept="image/png,image/jpeg,image/webp"
          class="sr-only"
          aria-label="{parameter.name}: choose a picture"
          onchange={(event) => {
            const file = event.currentTarget.files?.[0];
            if (file) onpicture(file);
          }}
        />
      </label>
      {#if onmade && (textures.length || made !== undefined)}
        <select
          class="max-w-full bg-transparent text-ellipsis text-second"
          aria-label="{parameter.name}: texture of the project"
          value={made ?? ''}
          onchange={(event) => onmade(event.currentTarget.value)}
        >
          <option value="">no texture</option>
          {#each textures as each (each.id)}<option value={each.id}>{each.name}</option>{/each}
        </select>
      {/if}
    {:else if parameter.kind === 'bool'}
      <input
        type="checkbox"
        class="accent-ink"
        checked={value[0] !== 0}
        aria-label={parameter.name}
        onchange={(event) => {
          onchange([event.currentTarget.checked ? 1 : 0]);
          onsettle();
        }}
      />
    {:else if value.length === 1}
      <Ruler
        value={value[0]!}
        min={parameter.min}
        max={parameter.max}
        label={parameter.name}
        {whole}
        {live}
        onchange={(x) => onchange([x])}
        {onsettle}
      />
    {/if}
  </div>
  <div class="figures">
    {#if reads}
      <span class="text-third">reads</span>
    {:else if parameter.kind === 'color'}
      <NumberField
        value={value[3] ?? 0}
        label="{parameter.name} intensity"
        step={0.02}
        {live}
        unit=" st"
        onchange={(x) => set(3, x)}
        {onsettle}
      />
    {:else if parameter.kind !== 'bool' && parameter.kind !== 'texture' && !isTable}
      {#each value as x, i (i)}
        <NumberField
          value={x}
          label={value.length > 1 ? `${parameter.name} ${names[i]}` : `${parameter.name} figure`}
          {step}
          {whole}
          {unit}
          {live}
          {...parameter.kind === 'noise' && i === 1
            ? { min: 0, max: 64 }
            : { min: parameter.min, max: parameter.max }}
          onchange={(next) => set(i, next)}
          {onsettle}
        />
      {/each}
    {/if}
  </div>
  {#if onkeep}
    <button class="reset" aria-label="Keep {parameter.name}" title="Keep it as it stands now" onclick={onkeep}
      ><Check size={13} /></button
    >
  {:else}
    <button
      class="reset"
      disabled={!changed}
      aria-label="Reset {parameter.name}"
      title="Back to the default"
      onclick={onreset}><RotateCcw size={12} /></button
    >
  {/if}
</div>

<style>
  .row {
    display: grid;
    grid-template-columns: 128px 1fr auto 22px;
    align-items: center;
    gap: 10px;
    min-height: 29px;
    padding: 0 14px;
  }
  .driven {
    background: var(--limelight-wash);
  }
  .name {
    display: flex;
    flex-direction: column;
    overflow: hidden;
    text-align: left;
    text-overflow: ellipsis;
    line-height: 1.15;
  }
  .name small {
    color: var(--limelight-ink);
    font-size: 10.5px;
  }
  .name small.scope {
    color: var(--third);
  }
  .feed {
    flex: none;
    margin-left: auto;
    color: var(--third);
    opacity: 0;
  }
  .feed.fed {
    opacity: 1;
  }
  .feed:hover {
    color: var(--ink);
  }
  .trace {
    position: absolute;
    inset: -4px 0 0;
    width: 100%;
    height: 20px;
    pointer-events: none;
  }
  .trace path {
    fill: none;
    stroke: var(--limelight-ink);
    stroke-width: 1.3;
    vector-effect: non-scaling-stroke;
  }
  .picture {
    display: flex;
    align-items: center;
    gap: 8px;
    color: var(--second);
    cursor: pointer;
  }
  .picture:hover,
  .picture:focus-within {
    color: var(--ink);
    text-decoration: underline;
  }
  .picture img {
    width: 22px;
    height: 22px;
  }
  .figures {
    display: flex;
    gap: 4px;
    min-width: 74px;
  }
  .figures > :global(*) {
    flex: 1;
    min-width: 46px;
    max-width: 74px;
  }
  .reset {
    color: var(--third);
  }
  .reset:disabled {
    opacity: 0;
  }
  .reset:hover {
    color: var(--ink);
  }
</style>
