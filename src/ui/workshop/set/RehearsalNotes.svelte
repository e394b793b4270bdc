<script lang="ts">
  import { TICKS_PER_SECOND } from '#core/time/tick.ts';
  import type { Rehearsal } from '../rehearsal.svelte.ts';
  import type { Session } from '../state/session.svelte.ts';
  import { keysHeard } from './keysHeard.ts';

  /** While it is rehearsed: how long, and what the set listens to. */
  let { session, rehearsal, recording }: { session: Session; rehearsal: Rehearsal; recording: boolean } =
    $props();
  const clock = $derived.by(() => {
    const { time } = rehearsal;
    const [minutes, seconds] = [Math.floor(time / 60), time % 60];
    return `${String(minutes).padStart(2, '0')}:${seconds.toFixed(1).padStart(4, '0')}`;
  });
  const heard = $derived(
    session.stage
      ? [
          ...(session.walking ? ['W A S D walk', 'drag to look'] : []),
          ...keysHeard(session.stage.body, session.played.map(({ body }) => body.source).join('\n')),
        ]
      : [],
  );
</script>

<div class="note top-2 left-[11.5rem]" data-testid="rehearsal-notes">
  {recording ? '● recording' : 'rehearsing'} <span class="mono">{clock}</span><span class="text-[#9a9a9a]"
    >&nbsp;· {TICKS_PER_SECOND} ticks a second</span
  >
</div>
{#if heard.length}
  <div class="note right-3 bottom-12 max-w-[60%]" data-testid="keys-heard">{heard.join(' · ')}</div>
{/if}

<style>
  .note {
    position: absolute;
    padding: 3px 10px;
    border-radius: 2px;
    background: #000c;
    color: #d8d8d8;
    font-size: 12px;
    pointer-events: none;
  }
</style>
