<script lang="ts">
  import { changeKey, freeSlopes, onFrame, removeKeys } from '#core/edits/cueEdits.ts';
  import type { Cue, Track } from '#core/document/cues.ts';
  import type { Slot } from '#core/time/slots.ts';
  import { slopesAt } from '#core/time/trackAt.ts';
  import CurveField from '../../parts/CurveField.svelte';
  import GradientField from '../../parts/GradientField.svelte';
  import PictureChoice from './PictureChoice.svelte';
  import ColourField from '../../parts/ColourField.svelte';
  import NumberField from '../../parts/NumberField.svelte';
  import type { Session } from '../state/session.svelte.ts';
  import type { Cueing } from './cueing.svelte.ts';
  import { doToTrack } from './doToCue.ts';

  /** The key in hand, its numbers to type. */
  interface Props {
    session: Session;
    cueing: Cueing;
    cue: Cue;
    track: Track;
    slot: Slot | null;
    /** Its number in the track. */
    at: number;
  }
  let { session, cueing, cue, track, slot, at }: Props = $props();
  const key = $derived(track.keys[at]!);
  /** Whether it is numbers that rise and fall. */
  const isLine = $derived(!slot?.table && !slot?.pictures);
  const slopes = $derived(isLine ? slopesAt(track.keys, at) : { into: [], out: [] });
  const choose = (place: number) => {
    put('Choose a picture', (each) => changeKey(each, at, { value: [place] }));
    session.settle();
  };
  const isOwn = $derived(key.into !== undefined || key.out !== undefined);
  const put = (label: string, change: (track: Track) => Track, merge?: string) =>
    doToTrack(session, cue.id, track.id, label, change, merge);
  const GOES = [
    ['eased', 'eased'],
    ['straight', 'straight'],
    ['held', 'held'],
  ] as const;
  const step = $derived(slot?.parameter ? (slot.parameter.max - slot.parameter.min) / 400 || 0.01 : 0.01);
</script>

<div class="grid grid-cols-[5.5rem_1fr] items-center gap-x-2 gap-y-1" role="group" aria-label="Key in hand">
  <span class="text-second">at</span>
  <NumberField
    value={key.at}
    label="Key at"
    step={1 / (cueing.frames || 200)}
    min={track.keys[at - 1]?.at ?? 0}
    max={track.keys[at + 1]?.at ?? cue.length}
    hard
    unit=" s"
    onchange={(seconds) =>
      put('Move key', (each) => changeKey(each, at, { at: onFrame(seconds, 0) }), 'time')}
    onsettle={session.settle}
  />
  <span class="text-second">value</span>
  <div class="flex items-center gap-1">
    {#if slot?.parameter?.kind === 'color'}
      <span class="w-12 flex-none"
        ><ColourField
          value={key.value}
          label="Key colour"
          onchange={(value) => put('Change key', (each) => changeKey(each, at, { value }), 'value')}
          onsettle={session.settle}
        /></span
      >
      <NumberField
        value={key.value[3] ?? 0}
        label="Key stops"
        step={0.02}
        unit=" st"
        onchange={(x) =>
          put('Change key', (each) => changeKey(each, at, { value: key.value.with(3, x) }), 'value')}
        onsettle={session.settle}
      />
    {:else if slot?.table}
      {@const Field = slot.table === 'curve' ? CurveField : GradientField}
      <Field
        value={key.value}
        label="Key {slot.table}"
        onchange={(value) => put('Change key', (each) => changeKey(each, at, { value }), 'value')}
        onsettle={session.settle}
      />
    {:else if slot?.pictures}
      <PictureChoice {session} {slot} chosen={key.value[0] ?? 0} onchoose={choose} />
    {:else}
      {#each key.value as x, c (c)}
        <NumberField
          value={x}
          label={key.value.length > 1 ? `Key ${'xyzw'[c]}` : 'Key value'}
          {step}
          onchange={(next) =>
            put('Change key', (each) => changeKey(each, at, { value: key.value.with(c, next) }), 'value')}
          onsettle={session.settle}
        />
      {/each}
    {/if}
  </div>
  <span class="text-second">goes on</span>
  <div class="flex" role="group" aria-label="How it goes on">
    {#each GOES as [go, word] (go)}
      <button
        class="h-6 border border-rule px-2 [&+&]:border-l-0"
        class:bg-ink={key.go === go}
        class:text-page={key.go === go}
        aria-pressed={key.go === go}
        onclick={() => put(`Go on ${word}`, (each) => changeKey(each, at, { go }))}>{word}</button
      >
    {/each}
  </div>
  {#if isLine}<label class="contents"
      ><span class="text-second">own slopes</span>
      <input
        type="checkbox"
        class="w-4 accent-ink"
        checked={isOwn}
        onchange={(event) => {
          const own = event.currentTarget.checked;
          put(own ? 'Give slopes' : 'Take slopes away', (each) => freeSlopes(each, at, own));
        }}
      /></label
    >{/if}
  {#if isLine && isOwn && key.value.length === 1}
    {#each ['into', 'out'] as const as side (side)}
      <span class="text-second">{side === 'into' ? 'before' : 'behind'}</span>
      <NumberField
        value={slopes[side][0]!}
        label="Slope {side === 'into' ? 'before' : 'behind'}"
        step={0.05}
        unit=" /s"
        onchange={(x) =>
          put('Bend the curve', (each) => changeKey(each, at, { ...slopes, [side]: [x] }), 'slope')}
        onsettle={session.settle}
      />
    {/each}
  {/if}
  <span></span>
  <button
    class="btn h-6 justify-self-start"
    disabled={track.keys.length < 2}
    onclick={() => {
      put('Delete key', (each) => removeKeys(each, new Set([at])));
      cueing.hold(cue, track);
    }}>Delete key</button
  >
</div>
