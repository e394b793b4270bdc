<script lang="ts">
  import Play from '@lucide/svelte/icons/play';
  import Square from '@lucide/svelte/icons/square';
  import HistoryIcon from '@lucide/svelte/icons/history';
  import CommandIcon from '@lucide/svelte/icons/command';
  import Undo from '@lucide/svelte/icons/undo-2';
  import Redo from '@lucide/svelte/icons/redo-2';
  import Mark from '../parts/Mark.svelte';
  import ThemeButton from '../parts/ThemeButton.svelte';
  import type { Part } from '#core/document/project.ts';
  import type { PartDeed } from './commands/onPart.ts';
  import type { Portraits } from './parts/portraits.svelte.ts';
  import ProjectList from './parts/ProjectList.svelte';
  import type { Rehearsal } from './rehearsal.svelte.ts';
  import type { Session } from './state/session.svelte.ts';

  interface Props {
    session: Session;
    rehearsal: Rehearsal;
    portraits: Portraits;
    onopen: (what: 'commands' | 'history') => void;
    /** Whether the project's list is open, and the part in it whose name is being written. */
    parts: boolean;
    naming: string | null;
    onpart: (part: Part, deed: PartDeed) => void;
  }
  let {
    session,
    rehearsal,
    portraits,
    onopen,
    parts = $bindable(),
    naming = $bindable(),
    onpart,
  }: Props = $props();
  const words = {
    saved: 'Saved',
    waiting: 'Not saved yet',
    saving: 'Saving…',
    away: 'Not saved: server away',
    refused: 'Not saved',
    conflict: 'Changed elsewhere',
  } as const;
  const wrong = $derived(['away', 'refused', 'conflict'].includes(session.saver.state));
  const mistakes = $derived(session.shaderState?.diagnostics.filter((each) => !each.follows).length ?? 0);
</script>

<header class="flex h-11 flex-none items-center gap-3 border-b border-rule bg-sheet px-4">
  <a href="/" aria-label="All projects" class="mr-1"><Mark /></a>
  <h1 class="flex min-w-0 items-center">
    <ProjectList {session} {portraits} bind:open={parts} bind:naming ondeed={onpart} />
  </h1>
  <div class="ml-auto flex items-center gap-4">
    <span class="flex">
      <button
        class="px-1.5 text-second hover:text-ink"
        disabled={!session.canUndo}
        title={session.canUndo ? `Undo: ${session.canUndo}` : 'Nothing to undo'}
        aria-label="Undo"
        onclick={session.undo}><Undo size={15} /></button
      >
      <button
        class="px-1.5 text-second hover:text-ink"
        disabled={!session.canRedo}
        title={session.canRedo ? `Redo: ${session.canRedo}` : 'Nothing to redo'}
        aria-label="Redo"
        onclick={session.redo}><Redo size={15} /></button
      >
    </span>
    <span
      class="flex items-center gap-1.5"
      class:text-oxblood={wrong}
      class:text-second={!wrong}
      role="status"
      title={session.saver.message}
    >
      <i
        class="h-2 w-2 rounded-full"
        style="background: {wrong
          ? 'var(--oxblood)'
          : session.saver.state === 'saved'
            ? 'var(--limelight-ink)'
            : 'var(--third)'}"
      ></i>
      {words[session.saver.state]}
    </span>
    {#if mistakes}<span class="text-oxblood">{mistakes} {mistakes === 1 ? 'mistake' : 'mistakes'}</span>{/if}
    <span class="flex">
      <button
        class="px-1.5 text-second hover:text-ink"
        title="History of parts"
        aria-label="History of parts"
        onclick={() => onopen('history')}><HistoryIcon size={15} /></button
      >
      <button
        class="px-1.5 text-second hover:text-ink"
        title="Every command (Ctrl K)"
        aria-label="Commands"
        onclick={() => onopen('commands')}><CommandIcon size={15} /></button
      >
    </span>
    <ThemeButton />
    <a
      class="btn"
      href="/projects/{session.id}/handover{session.shader ? `?shader=${session.shader.id}` : ''}">Handover</a
    >
    <button
      class="btn btn-live"
      data-rehearse
      onclick={(event) => {
        // From here on keys are the player's; whoever comes back to this button stops with it.
        if (!rehearsal.running) event.currentTarget.blur();
        rehearsal.toggle();
      }}
      aria-pressed={rehearsal.running}
    >
      {#if rehearsal.running}<Square size={12} fill="currentColor" /> Stop{:else}<Play
          size={12}
          fill="currentColor"
        /> Rehearse{/if}
    </button>
  </div>
</header>
