<script lang="ts">
  import type { Rehearsal } from '../rehearsal.svelte.ts';
  import type { Session } from '../state/session.svelte.ts';
  import type { Taking } from '../takes/taking.svelte.ts';
  import { FRAMES, type Cueing } from './cueing.svelte.ts';
  import { addFlourish } from '../flourishes/doToFlourish.ts';
  import { addCue, doToTrack } from './doToCue.ts';
  import { addKeyAt } from '#core/edits/cueEdits.ts';

  let {
    session,
    rehearsal,
    cueing,
    taking,
  }: { session: Session; rehearsal: Rehearsal; cueing: Cueing; taking: Taking } = $props();
  const { cue, track } = $derived(cueing);
  /** The part that goes round: between the keys in hand, else from the playhead on, else all of it. */
  const loop = () => {
    if (!cue) return;
    if (cueing.part) {
      cueing.setPart(null);
      return;
    }
    const times = track ? track.keys.flatMap((key, i) => (cueing.keys.has(i) ? [key.at] : [])) : [];
    const [from, to] = times.length > 1 ? [Math.min(...times), Math.max(...times)] : [cueing.at, cue.length];
    cueing.setPart(to - from > 1 / 60 ? [from, to] : [0, cue.length]);
    cueing.play(cueing.part![0]);
  };
  const key = () => {
    if (!cue || !track) return;
    const { at } = cueing;
    doToTrack(session, cue.id, track.id, 'Add a key', (each) => addKeyAt(each, at));
    const now = cueing.track?.keys.findIndex((each) => each.at === at) ?? -1;
    cueing.hold(cue, cueing.track, now < 0 ? [] : [now]);
  };
</script>

<div class="ml-auto flex items-center gap-4">
  {#if cue || cueing.flourish}
    {#if cueing.isScrubbed && !rehearsal.running}
      <button
        class="text-second hover:text-ink"
        title="The stage shows the set as it is authored again"
        onclick={cueing.letGo}>Let go</button
      >
    {/if}
    <label class="flex items-center gap-1.5 text-second"
      >Snap <select
        class="bg-transparent font-semibold text-ink"
        aria-label="Frames a second that keys are set on"
        value={cueing.frames}
        onchange={(event) => cueing.setFrames(Number(event.currentTarget.value))}
      >
        {#each FRAMES as each (each)}<option value={each}>{each ? `${each} a second` : 'off'}</option>{/each}
      </select></label
    >
  {/if}
  {#if cue && !cueing.flourish}
    <button
      class="text-second hover:text-ink"
      disabled={!track}
      title={track ? 'A key on the curve in hand, at the playhead' : 'Take a curve in hand for a key on it'}
      onclick={key}>Add key</button
    >
    <button class="text-second hover:text-ink" onclick={() => cueing.play(cueing.at)}>Play from here</button>
    <button
      class="text-second hover:text-ink"
      class:is-on={cueing.part !== null}
      aria-pressed={cueing.part !== null}
      title="Play the part between the keys in hand, or from the playhead on, over and over"
      onclick={loop}>Loop</button
    >
  {/if}
  <button
    class="text-second hover:text-ink"
    disabled={!session.stage}
    title={rehearsal.running
      ? 'What was rehearsed from its beginning is kept as a take'
      : 'Rehearse from the beginning, and keep what comes in and what it drives'}
    onclick={taking.record}>{rehearsal.running ? 'Keep as a take' : 'Record a take'}</button
  >
  <button
    class="text-second hover:text-ink"
    disabled={!session.stage}
    title="A layered, short-lived effect: meshes, ribbons and sprites with a lifetime"
    onclick={() => addFlourish(session, cueing)}>Add flourish</button
  >
  <button class="text-second hover:text-ink" disabled={!session.stage} onclick={() => addCue(session, cueing)}
    >Add cue</button
  >
</div>

<style>
  .is-on {
    color: var(--ink);
    font-weight: 600;
    text-decoration: underline;
  }
</style>
