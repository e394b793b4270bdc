<script lang="ts">
  import Play from '@lucide/svelte/icons/play';
  import { tick, type Snippet } from 'svelte';
  import type { CueStart } from '#core/document/cues.ts';
  import type { StageDocument } from '#core/document/project.ts';
  import { startWords } from './startWords.ts';

  /** A row under the ruler: its name and what is told of it in the margin, and lanes beside it. */
  interface Props {
    kind: 'cue' | 'flourish';
    of: { readonly name: string; readonly starts: readonly CueStart[] };
    /** What it is started by is named as it is there. */
    set: StageDocument;
    /** How it plays, in a few words. */
    how: string;
    /** What it does now, where that is anything. */
    now: string | null;
    /** What is wrong with it. */
    wrong: readonly string[];
    /** Pixels to its playhead; null where it has none. */
    head: number | null;
    isHeld: boolean;
    isNaming: boolean;
    onhold: () => void;
    /** Gives it a name; asks for one where none is told. */
    onname: (name: string | null) => void;
    onplay: () => void;
    onduplicate: () => void;
    ondelete: () => void;
    /** Whether its keys are heard: while it is rehearsed they are the player’s. */
    keys: boolean;
    children: Snippet;
  }
  let {
    kind,
    of,
    set,
    how,
    now,
    wrong,
    head,
    isHeld,
    isNaming,
    onhold,
    onname,
    onplay,
    onduplicate,
    ondelete,
    keys,
    children,
  }: Props = $props();
  const { name, starts } = $derived(of);

  let naming = $state<HTMLInputElement>();
  $effect(() => {
    if (isNaming) void tick().then(() => naming?.select());
  });
  const onkeydown = (event: KeyboardEvent) => {
    if (event.target !== event.currentTarget || !keys) return;
    const rows = [...document.querySelectorAll<HTMLElement>('[data-ruler-row]')];
    const place = rows.indexOf(event.currentTarget as HTMLElement);
    switch (event.key) {
      case 'F2':
        onname(null);
        break;
      case 'd':
        onduplicate();
        break;
      case 'Delete':
        ondelete();
        break;
      case 'Enter':
        onplay();
        break;
      case 'ArrowUp':
      case 'ArrowDown':
        rows[place + (event.key === 'ArrowUp' ? -1 : 1)]?.focus();
        break;
      default:
        return;
    }
    event.preventDefault();
    event.stopPropagation();
  };
  const onField = (event: KeyboardEvent & { readonly currentTarget: HTMLInputElement }) => {
    if (event.key === 'Enter') event.currentTarget.blur();
    else if (event.key === 'Escape') {
      event.currentTarget.value = name;
      event.currentTarget.blur();
    } else return;
    event.stopPropagation();
  };
</script>

<section class="row" class:inhand={isHeld} aria-label="{kind[0]!.toUpperCase()}{kind.slice(1)} {name}">
  <div
    class="margin"
    data-ruler-row
    data-cue={kind === 'cue' ? name : undefined}
    data-flourish={kind === 'flourish' ? name : undefined}
    role="button"
    tabindex="0"
    aria-pressed={isHeld}
    onclick={onhold}
    {onkeydown}
  >
    {#if isNaming}
      <input
        bind:this={naming}
        class="field w-full"
        aria-label="Name of the {kind}"
        value={name}
        onblur={(event) => onname(event.currentTarget.value)}
        onkeydown={onField}
      />
    {:else}
      <div class="flex items-center gap-1">
        <button
          class="truncate text-left text-[15px] font-semibold"
          title="Double-click to rename (F2)"
          tabindex="-1"
          ondblclick={() => onname(null)}>{name}</button
        >
        <button
          class="ml-auto flex-none text-second hover:text-ink"
          aria-label="Play {name}"
          title="Play it, rehearsing (Enter)"
          onclick={(event) => {
            event.stopPropagation();
            onplay();
          }}><Play size={13} /></button
        >
      </div>
    {/if}
    <div class="text-[12px] text-second">
      <div class="truncate" title={starts.map((each) => startWords(each, set)).join(', ')}>
        {kind}{starts[0] ? ` · ${startWords(starts[0], set)}` : ''}{starts.length > 1
          ? ` +${starts.length - 1}`
          : ''}
      </div>
      <div class="truncate">{how}</div>
      {#if now !== null}<div class="truncate text-limelight-ink" data-standing>{now}</div>{/if}
      {#each wrong as message (message)}<p class="text-[11px] text-oxblood">{message}</p>{/each}
    </div>
  </div>
  <div class="relative flex-1">
    {@render children()}
    {#if head !== null}<div class="head" style:left="{head}px" data-head={name}></div>{/if}
  </div>
</section>

<style>
  .row {
    display: flex;
    border-bottom: 1px solid var(--rule);
  }
  .margin {
    position: sticky;
    left: 0;
    z-index: 2;
    flex: none;
    width: 126px;
    padding: 7px 6px 6px 14px;
    border-right: 1px solid var(--rule);
    background: var(--page);
    cursor: default;
  }
  .head {
    position: absolute;
    top: 0;
    bottom: 0;
    width: 3px;
    margin-left: -1.5px;
    border: 1px solid color-mix(in srgb, var(--limelight) 60%, black);
    background: var(--limelight);
    pointer-events: none;
  }
  .inhand .margin {
    box-shadow: inset 3px 0 0 var(--ink);
  }
</style>
