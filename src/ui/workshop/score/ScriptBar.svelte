<script lang="ts">
  import { setScript } from '#core/edits/stageEdits.ts';
  import { newPartOf } from '../parts/doToPart.ts';
  import type { Session } from '../state/session.svelte.ts';

  let { session }: { session: Session } = $props();
  const plays = $derived(session.script !== null && session.playing?.id === session.script.id);
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
    {#if plays}
      <span class="text-third">plays in {session.stage.name}</span>
    {:else}
      <button
        class="text-second hover:text-ink"
        onclick={() => session.apply(setScript(session.stage!.id, session.script!.id))}
        >Let it play in {session.stage.name}</button
      >
    {/if}
  {/if}
  <button class="text-second hover:text-ink" onclick={() => void newPartOf(session, 'script')}
    >New script</button
  >
</div>
