<script lang="ts">
  import {
    MOST_SPRITES,
    type Flourish,
    type FlourishLayer,
    type Sprites,
  } from '#core/document/flourishes.ts';
  import { ramp } from '#core/edits/flourishEdits.ts';
  import type { Triple } from '#core/numbers/vectors.ts';
  import NumberRow from '../../parts/NumberRow.svelte';
  import NumbersLine from '../set/NumbersLine.svelte';
  import MaybeCurve from './MaybeCurve.svelte';

  /** A shower: how its sprites begin, fly and end, or which ribbon they sit on. */
  interface Props {
    flourish: Flourish;
    layer: FlourishLayer;
    sprites: Sprites;
    onchange: (sprites: Sprites, merge: string) => void;
    onsettle: () => void;
  }
  let { flourish, layer, sprites, onchange, onsettle }: Props = $props();
  const ribbons = $derived(flourish.layers.filter(({ kind }) => kind === 'ribbon'));
  const isGone = $derived(sprites.along !== undefined && !ribbons.some(({ id }) => id === sprites.along));
  const put = (wanted: Partial<Sprites>, merge: string) => onchange({ ...sprites, ...wanted }, merge);
  const maybe = <K extends 'sizes' | 'byOrder' | 'along' | 'rate'>(
    field: K,
    wanted: Sprites[K] | undefined,
  ) => {
    const { [field]: _, ...rest } = sprites;
    onchange((wanted === undefined ? rest : { ...rest, [field]: wanted }) as Sprites, field);
  };
  type One = 'lasts' | 'spread' | 'inherits' | 'gravity' | 'drag' | 'rate';
  interface Row {
    readonly field: One;
    readonly word: string;
    readonly min: number;
    readonly max: number;
    readonly unit: string;
    readonly step?: number;
    readonly title?: string;
  }
  const FLIGHT: readonly Row[] = [
    { field: 'lasts', word: 'each lasts', min: 1 / 60, max: 10, unit: ' s' },
    { field: 'spread', word: 'spread', min: 0, max: 180, unit: '°', step: 0.5 },
    { field: 'gravity', word: 'falls', min: -100, max: 100, unit: ' m/s²' },
    { field: 'drag', word: 'drag', min: 0, max: 100, unit: ' /s' },
    {
      ...{ field: 'inherits', word: 'takes along', min: 0, max: 1, unit: '' },
      title: 'How much of the motion of its place each takes with it',
    },
  ];
</script>

{#snippet one({ field, word, min, max, unit, step, title }: Row)}
  <NumberRow
    {word}
    {title}
    value={sprites[field] ?? 0}
    label={word}
    {min}
    {max}
    {unit}
    step={step ?? 0.01}
    onchange={(x) => put({ [field]: x }, field)}
    {onsettle}
  />
{/snippet}

<h4 class="mt-2 mb-1 text-third">Sprites</h4>
<div class="grid grid-cols-[4.5rem_1fr] items-center gap-x-2 gap-y-1">
  <NumberRow
    word="how many"
    value={sprites.count}
    label="How many"
    whole
    min={1}
    max={MOST_SPRITES}
    onchange={(count) => put({ count }, 'count')}
    {onsettle}
  />
  <span class="text-second">begin</span>
  <select
    class="justify-self-start bg-transparent font-semibold"
    aria-label="{layer.name}: how they begin"
    value={sprites.along ?? (sprites.rate === undefined ? 'at once' : 'by rate')}
    onchange={(event) => {
      const wanted = event.currentTarget.value;
      const { along: _, rate: __, ...rest } = sprites;
      if (wanted === 'at once') onchange(rest, 'begin');
      else if (wanted === 'by rate') onchange({ ...rest, rate: 30 }, 'begin');
      else onchange({ ...rest, along: wanted }, 'begin');
      onsettle();
    }}
  >
    <option value="at once">at once</option>
    <option value="by rate">by rate</option>
    {#if isGone}<option value={sprites.along}>on a ribbon that is gone</option>{/if}
    {#each ribbons as each (each.id)}<option value={each.id}>along {each.name}</option>{/each}
  </select>
  {#if sprites.rate !== undefined}
    {@render one({ field: 'rate', word: 'a second', min: 0.01, max: 10_000, unit: '', step: 0.5 })}
  {/if}
  <NumberRow
    word="size"
    value={sprites.size}
    label="Size of a sprite"
    min={0}
    max={100}
    unit=" m"
    onchange={(size) => put({ size }, 'size')}
    {onsettle}
  />
  <MaybeCurve
    word="over life"
    label="size over its own life"
    value={sprites.sizes}
    starter={ramp(1, 0)}
    onchange={(wanted) => maybe('sizes', wanted)}
    {onsettle}
  />
  <MaybeCurve
    word="by order"
    label="size by order"
    value={sprites.byOrder}
    starter={ramp(1, 0.2)}
    onchange={(wanted) => maybe('byOrder', wanted)}
    {onsettle}
  />
  {#if sprites.along === undefined}
    {#each FLIGHT as row (row.field)}{@render one(row)}{/each}
  {/if}
</div>
{#if sprites.along === undefined}
  <div class="mt-1 flex flex-col gap-0.5">
    <NumbersLine
      word="speed"
      label="{layer.name} speed"
      names={['least', 'most']}
      value={sprites.speed}
      min={0}
      max={1000}
      unit=" m/s"
      onchange={(speed) => put({ speed: speed as [number, number] }, 'speed')}
      {onsettle}
    />
    <NumbersLine
      word="way"
      label="{layer.name} way"
      value={sprites.way}
      onchange={(way) => put({ way: way as Triple }, 'way')}
      {onsettle}
    />
  </div>
{/if}
