<script lang="ts">
  import Copy from '@lucide/svelte/icons/copy';
  import Trash2 from '@lucide/svelte/icons/trash-2';
  import { LONGEST_CUE, type Cue } from '#core/document/cues.ts';
  import { joinTrack, lengthened, splitTrack } from '#core/edits/cueEdits.ts';
  import type { PartOf } from '#core/document/project.ts';
  import type { RehearsalRemark } from '#core/time/remarksOn.ts';
  import { slotOf } from '#core/time/slots.ts';
  import NumberField from '../../parts/NumberField.svelte';
  import NumberRow from '../../parts/NumberRow.svelte';
  import type { Session } from '../state/session.svelte.ts';
  import type { Cueing } from './cueing.svelte.ts';
  import { deleteCue, doToCue, duplicateCue, parametersIn } from './doToCue.ts';
  import { newId } from '../../parts/newId.ts';
  import KeySettings from './KeySettings.svelte';
  import Starts from './Starts.svelte';

  /** The cue in hand: what starts it, how it plays, and its key in hand. */
  interface Props {
    session: Session;
    cueing: Cueing;
    set: PartOf<'stage'>;
    cue: Cue;
    remarks: readonly RehearsalRemark[];
  }
  let { session, cueing, set, cue, remarks }: Props = $props();
  let stretches = $state(false);
  const { track } = $derived(cueing);
  const slot = $derived.by(() => {
    const found = track && slotOf(track.target, set.body, parametersIn(session));
    return found && !('why' in found) ? found : null;
  });
  const keyInHand = $derived(cueing.keys.size === 1 ? [...cueing.keys][0]! : null);
  const last = $derived(Math.max(1 / 60, ...cue.tracks.flatMap(({ keys }) => keys.map((each) => each.at))));
  const put = (label: string, change: Partial<Cue>, merge?: string) =>
    doToCue(session, cue.id, label, (each) => ({ ...each, ...change }), merge);
  const goesBack = $derived(cue.play === 'there and back' || cue.again === 'turn round');
  const SIDES = { there: 'on the way there', back: 'on the way back' } as const;
  const CHOICES = {
    play: [
      ['once', 'once'],
      ['looped', 'over and over'],
      ['there and back', 'there and back'],
    ],
    again: [
      ['restart', 'begins anew'],
      ['turn round', 'turns round'],
      ['refuse', 'is not started'],
    ],
    after: [
      ['hold', 'holds its values'],
      ['let go', 'lets go of them'],
    ],
  } as const;
</script>

{#snippet choice(word: string, field: keyof typeof CHOICES)}
  <label class="contents"
    ><span class="text-second">{word}</span><select
      class="bg-transparent font-semibold"
      value={cue[field]}
      onchange={(event) => put(`Change ${cue.name}`, { [field]: event.currentTarget.value })}
    >
      {#each CHOICES[field] as [value, name] (value)}<option {value}>{name}</option>{/each}
    </select></label
  >
{/snippet}

<div class="px-3 py-2">
  <div class="flex items-center gap-2">
    <h3 class="min-w-0 flex-1 truncate text-[14px] font-semibold">{cue.name}</h3>
    <button
      class="text-second hover:text-ink"
      aria-label="Duplicate the cue"
      title="Duplicate (D)"
      onclick={() => duplicateCue(session, cueing, cue)}><Copy size={13} /></button
    >
    <button
      class="text-second hover:text-ink"
      aria-label="Delete the cue"
      title="Delete"
      onclick={() => deleteCue(session, cue)}><Trash2 size={13} /></button
    >
  </div>
  {#if track && keyInHand !== null && track.keys[keyInHand]}
    <h4 class="mt-2 mb-1 text-third">Key of {slot?.name ?? 'what is gone'}</h4>
    <KeySettings {session} {cueing} {cue} {track} {slot} at={keyInHand} />
  {/if}
  {#if track && (goesBack || track.side)}
    <p class="mt-1 flex items-center gap-2 text-[12px] text-second">
      This curve counts {track.side ? `${SIDES[track.side]} alone` : 'both ways'}.
      {#if track.side}
        <button
          class="underline hover:text-ink"
          onclick={() => doToCue(session, cue.id, 'One curve both ways', (each) => joinTrack(each, track))}
          >One curve both ways</button
        >
      {:else}
        <button
          class="underline hover:text-ink"
          onclick={() =>
            doToCue(session, cue.id, 'A curve for the way back', (each) => splitTrack(each, track.id, newId))}
          >Give the way back its own</button
        >
      {/if}
    </p>
  {/if}
  <Starts
    of={cue}
    set={set.body}
    {remarks}
    onchange={(label, starts, merge) => put(label, { starts }, merge)}
    onlisten={(label, on) =>
      doToCue(session, cue.id, label, ({ off: _, ...each }) => (on ? each : { ...each, off: true }))}
    onsettle={session.settle}
  />
  <h4 class="mt-2 mb-1 text-third">Plays</h4>
  <div class="grid grid-cols-[5.5rem_1fr] items-center gap-x-2 gap-y-1">
    <span class="text-second">length</span>
    <div class="flex items-center gap-2">
      <NumberField
        value={cue.length}
        label="Length"
        step={0.02}
        min={stretches ? 1 / 60 : last}
        max={LONGEST_CUE}
        hard
        unit=" s"
        onchange={(length) =>
          doToCue(
            session,
            cue.id,
            'Change the length',
            (each) => lengthened(each, Number(length.toFixed(4)), stretches),
            'length',
          )}
        onsettle={session.settle}
      />
      <label class="flex items-center gap-1 text-[12px] whitespace-nowrap text-second"
        ><input type="checkbox" class="accent-ink" bind:checked={stretches} /> keys too</label
      >
    </div>
    {@render choice('how', 'play')}
    {@render choice('again', 'again')}
    {#if goesBack || cue.back !== undefined}
      <NumberRow
        word="back in"
        value={cue.back ?? cue.length}
        label="Back in"
        step={0.02}
        min={1 / 60}
        max={LONGEST_CUE}
        unit=" s"
        onchange={(back) => put('Change the way back', { back: Number(back.toFixed(4)) }, 'back')}
        onsettle={session.settle}
      />
    {/if}
    {@render choice('at its end', 'after')}
    <NumberRow
      word="blends over"
      value={cue.blend}
      label="Blends over"
      step={0.01}
      min={0}
      max={60}
      unit=" s"
      onchange={(blend) => put('Change the blend', { blend }, 'blend')}
      onsettle={session.settle}
    />
    <NumberRow
      word="weight"
      value={cue.weight}
      label="Weight"
      min={0}
      max={1}
      onchange={(weight) => put('Change the weight', { weight }, 'weight')}
      onsettle={session.settle}
    />
    <NumberRow
      word="priority"
      value={cue.priority}
      label="Priority"
      whole
      min={-100}
      max={100}
      onchange={(priority) => put('Change the priority', { priority }, 'priority')}
      onsettle={session.settle}
    />
  </div>
</div>
