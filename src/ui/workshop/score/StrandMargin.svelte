<script lang="ts">
  import ChevronDown from '@lucide/svelte/icons/chevron-down';
  import { noteStrand, renameStrand } from '#core/edits/shaderEdits.ts';
  import type { Strand } from '#core/document/shader.ts';
  import { nameProblem } from '#core/language/names/reserved.ts';
  import { OPERATOR_NAMES } from '#core/operators/catalogue.ts';
  import type { StrandHere } from '../commands/onCard.ts';
  import type { ScorePart, Session } from '../state/session.svelte.ts';
  import type { ScoreNames } from './scoreNames.ts';
  import StrandMenu from './StrandMenu.svelte';
  import { focusStep } from './stops.ts';

  interface Props {
    session: Session;
    score: ScorePart;
    strand: Strand;
    index: number;
    collapsed: boolean;
    /** As many as its value has numbers. */
    dots: string;
    names: ScoreNames;
    here: StrandHere;
    /** Why the strand cannot go. */
    refusal: string | null;
    /** The name as it is being written, or null. */
    renaming: string | null;
    ontoggle: () => void;
    ondrop: (event: DragEvent) => void;
  }
  let {
    session,
    score,
    strand,
    index,
    collapsed,
    dots,
    names,
    here,
    refusal,
    renaming = $bindable(),
    ontoggle,
    ondrop,
  }: Props = $props();
  let problem = $state<string | null>(null);

  const commitName = () => {
    if (renaming === null) return;
    const name = renaming.trim();
    const taken = (names.strands.has(name) || names.parameters.has(name)) && name !== strand.name;
    problem =
      name === strand.name
        ? null
        : (nameProblem(name, OPERATOR_NAMES) ?? (taken ? `“${name}” is used already.` : null));
    if (problem) return;
    if (name !== strand.name) session.apply(renameStrand(score.id, score.body, index, name));
    renaming = null;
  };
  const selectAll = (field: HTMLInputElement) => {
    field.focus();
    field.select();
  };
</script>

<div
  class="margin staff-margin"
  class:collapsed
  role="presentation"
  draggable="true"
  ondragstart={(event) => event.dataTransfer?.setData('application/x-veil-strand', strand.id)}
  ondragover={(event) =>
    event.dataTransfer?.types.includes('application/x-veil-strand') && event.preventDefault()}
  {ondrop}
>
  <div class="flex items-baseline gap-1.5">
    {#if renaming !== null}
      <input
        class="field h-6 w-24 font-semibold"
        bind:value={renaming}
        aria-label="Name of the strand"
        aria-invalid={problem !== null}
        {@attach selectAll}
        onblur={() => {
          commitName();
          renaming = null;
          problem = null;
        }}
        onkeydown={(event) => {
          event.stopPropagation();
          if (event.key === 'Enter') {
            commitName();
            if (renaming === null && strand.steps[0]) focusStep(strand.steps[0].id);
          }
          if (event.key === 'Escape') renaming = null;
        }}
      />
    {:else}
      <StrandMenu name={strand.name} strand={here} />
      <span class="dots" title="numbers in each value">{dots}</span>
      <button
        class="fold"
        aria-expanded={!collapsed}
        aria-label="{strand.collapsed ? 'Spread out' : 'Collapse'} {strand.name}"
        title={strand.collapsed ? 'Spread out' : 'Collapse to one line'}
        onclick={ontoggle}><ChevronDown size={12} /></button
      >
    {/if}
  </div>
  {#if !collapsed}
    <input
      class="note"
      value={strand.note}
      placeholder="what it is for"
      aria-label="What {strand.name} is for"
      maxlength="200"
      oninput={(event) => session.apply(noteStrand(score.id, index, event.currentTarget.value))}
      onblur={() => session.settle()}
      onkeydown={(event) => event.stopPropagation()}
    />
  {/if}
  {#if problem || refusal}
    <p class="text-[11px] text-oxblood" role="alert">{problem ?? refusal}</p>
  {/if}
</div>

<style>
  .margin {
    padding-top: 11px;
  }
  .margin.collapsed {
    padding-block: 6px;
  }
  .fold {
    align-self: center;
    margin-left: auto;
    color: var(--third);
    opacity: 0;
  }
  .collapsed .fold {
    opacity: 1;
    transform: rotate(-90deg);
  }
  @media (hover: none) {
    .fold {
      opacity: 1;
    }
  }
  .margin:hover .fold,
  .fold:focus-visible {
    opacity: 1;
  }
  .margin :global(.strand-name) {
    font-size: 15px;
    font-weight: 640;
    line-height: 20px;
    max-width: 88px;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .dots {
    color: var(--second);
    font-weight: 700;
    letter-spacing: 1px;
  }
  .note {
    width: 100%;
    background: transparent;
    color: var(--third);
    font-size: 12px;
    text-overflow: ellipsis;
    outline-offset: 0;
  }
</style>
