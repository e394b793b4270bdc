<script lang="ts">
  import type { Portraits } from '../parts/portraits.svelte.ts';
  import { focusStop, propStop, stopOf } from '../score/stops.ts';
  import type { Session } from '../state/session.svelte.ts';
  import FrameRow from './FrameRow.svelte';
  import LightRow from './LightRow.svelte';
  import { newProp } from './doToProp.ts';
  import PinRow from './PinRow.svelte';
  import PropRow from './PropRow.svelte';

  let { session, portraits }: { session: Session; portraits: Portraits } = $props();
  const set = $derived(session.stage);
  const standing = $derived(set?.body.props ?? []);
  $effect(() => {
    void session.shaders;
    return portraits.ask([...new Set(standing.map((each) => each.material))]);
  });
  // What is taken in hand on the stage is brought into sight here.
  $effect(() => {
    const last = session.props.at(-1);
    if (last !== undefined) stopOf(propStop(last))?.scrollIntoView({ block: 'nearest' });
  });
  const walk = (from: number, way: -1 | 1) => {
    const next = standing[from + way];
    if (!next) return;
    session.holdProps([next.id]);
    focusStop(propStop(next.id));
  };
</script>

<div class="w-max min-w-full">
  {#if set}
    {#each standing as prop, i (prop.id)}
      <PropRow {session} {prop} portrait={portraits.all.get(prop.material)} onwalk={(way) => walk(i, way)} />
    {:else}
      <p class="p-4 text-second">
        Nothing stands in {set.name} yet. Begin with
        <button class="underline" onclick={() => newProp(session, 'plane')}>a plane</button>, or drop a
        material on the stage once something is there.
      </p>
    {/each}
    <PinRow {session} {set} />
    <LightRow {session} {set} />
    <FrameRow {session} {set} />
  {:else}
    <p class="p-4 text-second">
      There is no set in this project. Begin one from the project’s list, under New.
    </p>
  {/if}
</div>
