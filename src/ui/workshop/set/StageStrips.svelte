<script lang="ts">
  import type { Rehearsal } from '../rehearsal.svelte.ts';
  import type { Session } from '../state/session.svelte.ts';

  /** How the set is looked at, and what the handles of what is in hand do. */
  interface Props {
    session: Session;
    rehearsal: Rehearsal;
    /** It was chosen by a press: the stage is to hear keys. */
    onwalk: () => void;
  }
  let { session, rehearsal, onwalk }: Props = $props();
  const WAYS = [
    [false, 'Orbit', 'Turn round the set (`)'],
    ['eyes', 'Walk', 'Walk: W A S D, drag to look, Shift in haste (`)'],
    ['behind', 'Follow', 'Walk, seen from behind'],
  ] as const;
  const HANDLE_WORDS = [
    ['move', 'Move', 'M'],
    ['turn', 'Turn', 'T'],
    ['scale', 'Scale', 'S'],
    ['lay', 'Lay', 'G'],
  ] as const;
</script>

{#if session.props.length && !rehearsal.running}
  <div
    class="absolute right-3 bottom-11 flex overflow-hidden rounded-md bg-[#111d]"
    role="group"
    aria-label="Handles"
  >
    {#each HANDLE_WORDS as [mode, word, key] (mode)}
      <button
        class="h-6 border-r border-[#333] px-2.5 text-[12px] font-semibold text-[#cfcfcf] hover:text-white"
        class:on={session.handles === mode}
        aria-pressed={session.handles === mode}
        title="{word} ({key})"
        onclick={() => session.setHandles(mode)}>{word}</button
      >
    {/each}
    <button
      class="h-6 px-2.5 text-[12px] font-semibold text-[#cfcfcf] hover:text-white"
      class:on={session.snap}
      aria-pressed={session.snap}
      title="Snap to 0.25 m, 15° and tenths (N)"
      onclick={() => session.setSnap(!session.snap)}>Snap</button
    >
  </div>
{/if}
{#if session.stage}
  <div
    class="absolute top-2 right-3 flex overflow-hidden rounded-md bg-[#111d]"
    role="group"
    aria-label="How the set is looked at"
  >
    {#each WAYS as [how, word, tells] (word)}
      <button
        class="h-6 px-2.5 text-[12px] font-semibold text-[#cfcfcf] hover:text-white"
        class:on={session.walking === how}
        aria-pressed={session.walking === how}
        title={tells}
        onclick={() => {
          session.setWalking(how);
          onwalk();
        }}>{word}</button
      >
    {/each}
  </div>
{/if}

<style>
  .on {
    background: #f1ede4;
    color: #24211d;
  }
</style>
