<script lang="ts">
  import ChevronLeft from '@lucide/svelte/icons/chevron-left';
  import ChevronRight from '@lucide/svelte/icons/chevron-right';
  import { MOST_SCRIPTS } from '#core/document/kinds/stage.ts';
  import { playScripts } from '#core/edits/stageEdits.ts';
  import { newPartOf } from '../parts/doToPart.ts';
  import type { Session } from '../state/session.svelte.ts';

  let { session }: { session: Session } = $props();
  const ids = $derived(session.played.map(({ id }) => id));
  const place = $derived(session.script ? ids.indexOf(session.script.id) : -1);
  const plays = $derived(place >= 0);
  const why = $derived(
    plays && ids.length === 1
      ? 'A set plays at least one script'
      : !plays && ids.length >= MOST_SCRIPTS
        ? `At most ${MOST_SCRIPTS} scripts play in a set`
        : '',
  );

  const say = (next: readonly string[]) => {
    if (!session.stage) return;
    session.apply(playScripts(session.stage, next));
    session.settle();
  };
  const shift = (way: -1 | 1) => {
    const next = [...ids];
    const [moved] = next.splice(place, 1);
    next.splice(place + way, 0, moved!);
    say(next);
  };
</script>

<div class="ml-auto flex items-center gap-3">
  {#if session.scripts.length > 1}
    <select
      class="bg-transparent font-semibold"
      aria-label="Script shown"
      value={session.script?.id}
      onchange={(event) => session.showScript(event.currentTarget.value)}
    >
      {#each session.scripts as each (each.id)}<option value={each.id}>{each.name}</option>{/each}
    </select>
  {:else if session.script}
    <span class="font-semibold">{session.script.name}</span>
  {/if}
  {#if session.script && session.stage}
    {@const { id } = session.script}
    <label class="flex items-center gap-1.5 text-second" title={why || undefined}>
      <input
        type="checkbox"
        checked={plays}
        disabled={why !== ''}
        onchange={() => say(plays ? ids.filter((each) => each !== id) : [...ids, id])}
      />
      plays in {session.stage.name}
    </label>
    {#if plays && ids.length > 1}
      <span class="flex items-center text-third" role="group" aria-label="Its turn in a tick">
        <button
          class="px-1 hover:text-ink disabled:opacity-40"
          aria-label="Let it play earlier"
          disabled={place === 0}
          onclick={() => shift(-1)}><ChevronLeft size={14} /></button
        >
        <span class="mono">{place + 1} of {ids.length}</span>
        <button
          class="px-1 hover:text-ink disabled:opacity-40"
          aria-label="Let it play later"
          disabled={place === ids.length - 1}
          onclick={() => shift(1)}><ChevronRight size={14} /></button
        >
      </span>
    {/if}
  {/if}
  <button class="text-second hover:text-ink" onclick={() => void newPartOf(session, 'script')}
    >New script</button
  >
</div>
