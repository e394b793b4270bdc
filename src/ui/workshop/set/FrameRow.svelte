<script lang="ts">
  import ArrowLeft from '@lucide/svelte/icons/arrow-left';
  import ArrowRight from '@lucide/svelte/icons/arrow-right';
  import Plus from '@lucide/svelte/icons/plus';
  import X from '@lucide/svelte/icons/x';
  import type { FrameLayer, PartOf } from '#core/document/project.ts';
  import { setFrame } from '#core/edits/stageEdits.ts';
  import { newId } from '../../parts/newId.ts';
  import type { Session } from '../state/session.svelte.ts';
  import SetCard from './SetCard.svelte';
  import SetRow from './SetRow.svelte';

  let { session, set }: { session: Session; set: PartOf<'stage'> } = $props();
  const layers = $derived(set.body.frame ?? []);
  const MOST = 16;
  const change = (label: string, now: readonly FrameLayer[]) => session.apply(setFrame(set, now, label));
  const nameOf = (id: string): string =>
    session.materials.find((each) => each.id === id)?.name ?? 'a material that is gone';
  const add = () => {
    const { material } = session;
    if (material)
      change('Lay over the frame', [...layers, { id: `layer-${newId()}`, material: material.id }]);
  };
  const swap = (at: number, way: -1 | 1) =>
    change(
      'Order what is laid over the frame',
      layers.map((each, i) => (i === at ? layers[at + way]! : i === at + way ? layers[at]! : each)),
    );
  const put = (at: number, layer: FrameLayer, label: string) =>
    change(
      label,
      layers.map((each, i) => (i === at ? layer : each)),
    );
</script>

<SetRow aria-label="Frame">
  {#snippet margin()}
    <div class="text-[15px] font-semibold">frame</div>
    <div class="text-[12px] text-second">over all that is seen</div>
  {/snippet}
  {#each layers as layer, at (layer.id)}
    {@const name = nameOf(layer.material)}
    <SetCard label="Over the frame: {name}">
      {#snippet heading()}
        <select
          aria-label="Material over the frame, {at + 1}"
          value={layer.material}
          onchange={(event) =>
            put(at, { ...layer, material: event.currentTarget.value }, 'Change what is laid over the frame')}
        >
          {#if !session.materials.some((each) => each.id === layer.material)}
            <option value={layer.material}>({name})</option>
          {/if}
          {#each session.materials as each (each.id)}<option value={each.id}>{each.name}</option>{/each}
        </select>
        <button
          class="ml-auto text-third hover:text-ink"
          aria-label="Take {name} off the frame"
          title="Take it off the frame"
          onclick={() =>
            change(
              `Take ${name} off the frame`,
              layers.filter((each) => each !== layer),
            )}><X size={12} /></button
        >
      {/snippet}
      <label class="flex h-[17px] items-center gap-1 text-[12px] text-third">
        <input
          type="checkbox"
          checked={!layer.off}
          aria-label="{name} is laid over the frame"
          onchange={() => {
            const { off, ...rest } = layer;
            put(at, off ? rest : { ...rest, off: true }, `${off ? 'Show' : 'Hide'} ${name} over the frame`);
          }}
        />{layer.off ? 'off' : 'on'}
      </label>
      <div class="flex gap-2 text-third">
        <button
          disabled={at === 0}
          aria-label="{name} earlier"
          title="Earlier: beneath what follows"
          onclick={() => swap(at, -1)}><ArrowLeft size={13} /></button
        >
        <button
          disabled={at === layers.length - 1}
          aria-label="{name} later"
          title="Later: over what comes before"
          onclick={() => swap(at, 1)}><ArrowRight size={13} /></button
        >
      </div>
    </SetCard>
  {/each}
  {#if layers.length < MOST}
    <button
      class="staff-add"
      disabled={!session.material}
      aria-label="Lay the material in hand over the frame"
      title="Lay the material in hand over the frame: its shader’s uv is the picture’s"
      onclick={add}><Plus size={13} /></button
    >
  {/if}
</SetRow>
