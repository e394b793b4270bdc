<script lang="ts">
  import Copy from '@lucide/svelte/icons/copy';
  import Trash2 from '@lucide/svelte/icons/trash-2';
  import type { Flourish } from '#core/document/flourishes.ts';
  import type { PartOf } from '#core/document/project.ts';
  import type { Triple } from '#core/numbers/vectors.ts';
  import type { RehearsalRemark } from '#core/time/remarksOn.ts';
  import NumberRow from '../../parts/NumberRow.svelte';
  import type { Cueing } from '../cues/cueing.svelte.ts';
  import PlaceChoice from '../cues/PlaceChoice.svelte';
  import Starts from '../cues/Starts.svelte';
  import NumbersLine from '../set/NumbersLine.svelte';
  import type { Session } from '../state/session.svelte.ts';
  import { deleteFlourish, doToFlourish, duplicateFlourish } from './doToFlourish.ts';
  import LayerSettings from './LayerSettings.svelte';

  /** The flourish in hand: its layer in hand, what starts it, and where it plays. */
  interface Props {
    session: Session;
    cueing: Cueing;
    set: PartOf<'stage'>;
    flourish: Flourish;
    remarks: readonly RehearsalRemark[];
  }
  let { session, cueing, set, flourish, remarks }: Props = $props();
  const put = (label: string, change: Partial<Flourish>, merge?: string) =>
    doToFlourish(session, flourish.id, label, (each) => ({ ...each, ...change }), merge);
  const without = (label: string, field: 'off' | 'of' | 'follows') =>
    doToFlourish(session, flourish.id, label, ({ [field]: _, ...each }) => each);
</script>

<div class="px-3 py-2">
  <div class="flex items-center gap-2">
    <h3 class="min-w-0 flex-1 truncate text-[14px] font-semibold">{flourish.name}</h3>
    <button
      class="text-second hover:text-ink"
      aria-label="Duplicate the flourish"
      title="Duplicate (D)"
      onclick={() => duplicateFlourish(session, cueing, flourish)}><Copy size={13} /></button
    >
    <button
      class="text-second hover:text-ink"
      aria-label="Delete the flourish"
      title="Delete"
      onclick={() => deleteFlourish(session, flourish)}><Trash2 size={13} /></button
    >
  </div>
  {#if cueing.layer}
    <LayerSettings {session} {cueing} {set} {flourish} layer={cueing.layer} />
  {/if}
  <Starts
    of={flourish}
    set={set.body}
    {remarks}
    onchange={(label, starts, merge) => put(label, { starts }, merge)}
    onlisten={(label, on) => (on ? without(label, 'off') : put(label, { off: true }))}
    onsettle={session.settle}
  />
  <h4 class="mt-2 mb-1 text-third">Plays</h4>
  <div class="grid grid-cols-[4.5rem_1fr] items-center gap-x-2 gap-y-1">
    <span class="text-second">on</span>
    <PlaceChoice
      props={set.body.props}
      label="What it is on"
      nothing="the world"
      value={flourish.of}
      onchange={(of) => (of ? put('Put it on another', { of }) : without('Put it in the world', 'of'))}
    />
    <span class="text-second">how</span>
    <select
      class="bg-transparent font-semibold"
      aria-label="How it plays"
      value={flourish.play}
      onchange={(event) =>
        put('Change how it plays', { play: event.currentTarget.value as Flourish['play'] })}
    >
      <option value="once">once</option>
      <option value="looped">over and over</option>
    </select>
    <NumberRow
      word="seed"
      value={flourish.seed}
      label="Seed"
      whole
      min={0}
      max={65535}
      onchange={(seed) => put('Change the seed', { seed }, 'seed')}
      onsettle={session.settle}
    />
  </div>
  <div class="mt-1 flex flex-col gap-0.5">
    <NumbersLine
      word="place"
      label="{flourish.name} place"
      value={flourish.at}
      unit=" m"
      onchange={(at) => put('Move the flourish', { at: at as Triple }, 'at')}
      onsettle={session.settle}
    />
    <NumbersLine
      word="turned"
      label="{flourish.name} turned"
      value={flourish.rotation}
      step={0.5}
      unit="°"
      onchange={(rotation) => put('Turn the flourish', { rotation: rotation as Triple }, 'rotation')}
      onsettle={session.settle}
    />
  </div>
  {#if flourish.of !== undefined}
    <label class="mt-1 flex items-center gap-1.5 text-[12px] text-second"
      ><input
        type="checkbox"
        class="accent-ink"
        checked={flourish.follows ?? false}
        onchange={(event) =>
          event.currentTarget.checked
            ? put('Follow what it is on', { follows: true })
            : without('Stay where it began', 'follows')}
      /> follows while it plays</label
    >
  {/if}
</div>
