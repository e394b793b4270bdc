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
  import type { Checking } from './checks/checking.svelte.ts';
  import { BUDGET_FIGURES } from '#core/document/budgets.ts';
  import type { Rehearsal } from './rehearsal.svelte.ts';
  import type { Session } from './state/session.svelte.ts';

  interface Props {
    session: Session;
    rehearsal: Rehearsal;
    portraits: Portraits;
    checking: Checking;
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
    checking,
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
  /** What checks find, and guarantees that do not hold. */
  const wrongs = $derived(checking.open.length + checking.broken);
  const wrongTitle = $derived(
    [
      ...checking.open.map(({ message }) => message),
      ...(checking.broken ? [`${checking.broken} of what is guaranteed does not hold.`] : []),
    ].join('\n'),
  );
</script>

<header class="flex h-11 flex-none items-center gap-3 border-b border-rule bg-sheet px-4">
  <a href="/" aria-label="All projects" class="mr-1"><Mark /></a>
  <h1 class="flex min-w-0 items-center">
    <ProjectList {session} {portraits} bind:open={parts} bind:naming ondeed={onpart} />
  </h1>
  <div class="ml-auto flex items-center gap-4">
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
    {#if wrongs && !mistakes}
      <button
        class="font-semibold whitespace-nowrap text-oxblood hover:underline"
        title={wrongTitle}
        onclick={() => session.showTab('checks')}>{wrongs} {wrongs === 1 ? 'check' : 'checks'}</button
      >
    {/if}
    {#if checking.share}
      {@const { share, figure } = checking.share}
      {@const percent = `${Math.round(share * 100)} %`}
      <button
        class="flex items-center gap-1.5 whitespace-nowrap text-second hover:text-ink"
        title="{session.shader?.name ?? ''}: {checking.cost?.[figure]} of {checking.budget[
          figure
        ]} {BUDGET_FIGURES[figure].label} in the {checking.budget.name} budget"
        onclick={() => session.showTab('checks')}
      >
        <span class="max-w-20 truncate">{checking.budget.name}</span>
        <span
          class="relative inline-block h-2.5 w-11 overflow-hidden bg-well"
          role="meter"
          aria-label="Share of the {checking.budget.name} budget"
          aria-valuemin="0"
          aria-valuemax="100"
          aria-valuenow={Math.round(share * 100)}
          ><i
            class="absolute inset-y-0 left-0"
            style="width: {Math.min(share, 1) * 100}%; background: {share > 1
              ? 'var(--oxblood)'
              : 'var(--second)'}"
          ></i></span
        >
        <span class:text-oxblood={share > 1}>{percent}</span>
      </button>
    {/if}
    <!-- What is told grows and shrinks before these: no press finds another button where this one was. -->
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
      class="btn btn-live min-w-[6.3rem] justify-center"
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
