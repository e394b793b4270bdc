<script lang="ts">
  import Plus from '@lucide/svelte/icons/plus';
  import { untrack } from 'svelte';
  import { tapKey } from '#core/compileShader.ts';
  import {
    moveStep,
    moveStrand,
    placeOfStep,
    removeStrand,
    replaceStep,
    setArgument,
    usesOf,
  } from '#core/edits/shaderEdits.ts';
  import type { Step, Strand } from '#core/document/shader.ts';
  import type { Diagnostic } from '#core/lower/lowerShader.ts';
  import { operatorOf } from '#core/lower/stepOperator.ts';
  import { componentsOf, type Type } from '#core/program/types.ts';
  import type { PinWatch } from '../pins/watchPins.svelte.ts';
  import type { Pictures } from '../pictures.svelte.ts';
  import type { ScorePart, Session } from '../state/session.svelte.ts';
  import { addStop, focusNow, focusStep, focusStop, isStop, rowStop, stopOf } from './stops.ts';
  import { walkCards } from './walkCards.ts';
  import { doToStep, pasteAfter } from './doToStep.ts';
  import type { Checking } from '../checks/checking.svelte.ts';
  import type { ScoreView } from './scoreView.svelte.ts';
  import StepCard from './StepCard.svelte';
  import { ON_STRAND, type StepDeed, type StrandDeed, type StrandHere } from '../commands/onCard.ts';
  import { doToStrand } from './doToStrand.ts';
  import StrandMargin from './StrandMargin.svelte';
  import StepPicture from './StepPicture.svelte';

  interface Props {
    session: Session;
    score: ScorePart;
    view: ScoreView;
    pictures: Pictures;
    pins: PinWatch;
    checking: Checking;
    strand: Strand;
    index: number;
    onexpose: (step: Step, argument: string) => void;
    /** Asks for a new strand below this one. */
    onnew: () => void;
    /** Asks to edit a step's code. */
    oncode: (step: string) => void;
    /** Asks to fold this strand, or those chosen, into a motif. */
    onfold: () => void;
  }
  let {
    session,
    score,
    view,
    pictures,
    pins,
    checking,
    strand,
    index,
    onexpose,
    onnew,
    oncode,
    onfold,
  }: Props = $props();

  const shader = $derived(score);
  const typeOf = (step: string | undefined): Type | null => {
    const tap = step === undefined ? undefined : view.good?.taps.get(tapKey(strand.id, step));
    return tap === undefined ? null : (view.good!.program.taps[tap - 1]?.value.type ?? null);
  };
  /** A step's share of a pixel's operations, as words; what is shared with a step before is that one's. */
  const shareOfStep = (step: string): string | null => {
    const { cost } = checking;
    if (!cost || score.kind !== 'shader') return null;
    const own = cost.steps.get(step);
    const share = own ? (100 * own.arithmetic) / Math.max(cost.operations, 1) : 0;
    const reads = own?.textures ? ` + ${own.textures}` : '';
    return `${share > 0 && share < 1 ? '<1' : Math.round(share)} %${reads}`;
  };
  const NONE: readonly Diagnostic[] = [];
  /** What is said of one step; the same nothing for every step that nothing is said of. */
  const ofStep = (list: readonly Diagnostic[], step: string): readonly Diagnostic[] => {
    const found = list.filter((each) => each.strand === strand.id && each.step === step);
    return found.length ? found : NONE;
  };
  const mistakesOf = (step: string) => ofStep(view.diagnostics, step);
  const ownMistakes = $derived(mistakesOf(''));
  const collapsed = $derived(view.isCollapsed(strand));
  const pictureOf = (step: string) => pictures.all.get(tapKey(strand.id, step));
  /** How many numbers a step spreads one over, or null: `1 → 3`. */
  const spreadOf = (i: number): string | null => {
    const sizeOf = (step: string | undefined) => {
      const type = typeOf(step);
      return type ? componentsOf(type) : 0;
    };
    const [before, after] = [sizeOf(strand.steps[i - 1]?.id), sizeOf(strand.steps[i]!.id)];
    return before === 1 && after > 1 && after < 5 ? `1 → ${after}` : null;
  };
  const dots = $derived.by(() => {
    const type = typeOf(strand.steps.at(-1)?.id);
    return type ? '·'.repeat(Math.min(componentsOf(type), 4)) : '';
  });

  let renaming = $state<string | null>(null);
  let refusal = $state<string | null>(null);

  const deleteStrand = () => {
    const users = [...new Set(usesOf(shader.body, strand.name).map((use) => use.strand))];
    if (users.length) refusal = `${strand.name} is used by ${users.join(', ')}; take it out there first.`;
    else session.apply(removeStrand(shader.id, shader.body, index));
  };
  const ask = (at: number | null) => session.askFor({ strand: strand.id, at });
  const asked = $derived(session.asking?.strand === strand.id);
  $effect(() => {
    if (session.toName !== strand.id) return;
    untrack(() => {
      renaming = strand.name;
      session.nameStrand(null);
    });
  });
  const exposeFirst = (step: Step, i: number) => {
    const found = operatorOf(step, session.library);
    const known = found.kind === 'unknown' ? null : found.signature;
    const name = Object.entries(known?.inputs ?? {}).find(
      ([each, input]) =>
        typeof step.arguments[each] !== 'string' &&
        typeof input.default !== 'string' &&
        input.type !== 'choice' &&
        input.type !== 'sampler2D' &&
        !(each === known!.flow && i > 0 && step.arguments[each] === undefined),
    )?.[0];
    if (name) onexpose(step, name);
    else refusal = `${step.operator} has no number to expose; all its arguments are expressions.`;
  };
  const isOfStrand = (what: StepDeed): what is StrandDeed => ON_STRAND.some((each) => each.deed === what);
  const strandDeed = (what: StrandDeed) => {
    switch (what) {
      case 'strand-new':
        return onnew();
      case 'strand-rename':
        renaming = strand.name;
        return;
      case 'strand-delete':
        return deleteStrand();
      case 'strand-fold':
        return onfold();
      default:
        return doToStrand(session, index, what);
    }
  };
  const asStrand = $derived<StrandHere>({
    ...{ collapsed: strand.collapsed ?? false, inShader: score.kind === 'shader' },
    ...{ isFirst: index === 0, isLast: index === shader.body.strands.length - 1 },
    do: strandDeed,
  });
  const deed = (step: Step, i: number, what: StepDeed) => {
    switch (what) {
      case 'before':
        ask(i);
        return;
      case 'after':
        ask(i + 1);
        return;
      case 'expose':
        exposeFirst(step, i);
        return;
      case 'open':
        if (step.operator === 'code') oncode(step.id);
        else if (step.motif) session.showMotif(step.motif);
        return;
    }
    if (isOfStrand(what)) {
      strandDeed(what);
      if (what === 'strand-up' || what === 'strand-down') focusNow(step.id);
      return;
    }
    if (doToStep(session, step, what)) focusNow(step.id);
  };
  /** Takes the focus to the card that a key leads to, and chooses those between where Shift is held. */
  const walk = (from: string, key: string, through: boolean) => {
    const there = walkCards(
      shader.body.strands.filter((each) => !view.isCollapsed(each)),
      from,
      key,
    );
    if (!there) return;
    if (through) choose(there, true);
    focusStep(there);
    stopOf(there)?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  };
  /** Chooses a step beside the one in hand, or every step between the two. */
  const choose = (step: string, through: boolean) => {
    const from = session.selected;
    const all = shader.body.strands.flatMap((each) => each.steps.map((one) => one.id));
    const ends = [all.indexOf(from ?? step), all.indexOf(step)].sort((a, b) => a - b);
    if (through && from) session.chooseAll(all.slice(ends[0], ends[1]! + 1));
    else session.choose(step);
  };
  /** A card is one stop: the next is the card beside it, or the button behind the last. @returns false at an end */
  const tab = (at: number, way: -1 | 1): boolean => {
    const next = strand.steps[at + way];
    const key = next?.id ?? (way === 1 ? addStop(strand.id) : null);
    if (key !== null) focusStop(key);
    return key !== null;
  };
  /** A card is one stop, backwards too. */
  const backToCard = (event: KeyboardEvent) => {
    const last = strand.steps.at(-1);
    if (event.key !== 'Tab' || !event.shiftKey || !last) return;
    event.preventDefault();
    focusStop(last.id);
  };
  const put = (step: Step, label: string) => session.apply(replaceStep(shader.id, shader.body, step, label));
  const noteStep = (step: Step, note: string) => {
    const { note: _, ...rest } = step;
    put(note ? { ...rest, note } : rest, 'Change note');
  };
  /** A row stands for one strand as long as it lives, whatever is changed in it. */
  const watched = (row: Element) => untrack(() => pictures.watch(row, strand.id));
  const toggleCollapsed = () => doToStrand(session, index, 'strand-collapse');
  const dropStep = (moved: string, target: number) => {
    const from = placeOfStep(shader.body, moved);
    const to = from.strand === index && from.step < target ? target - 1 : target;
    session.apply(moveStep(shader.id, shader.body, moved, { strand: index, step: to }));
    focusNow(moved);
  };
  const dropStrand = (event: DragEvent) => {
    const moved = event.dataTransfer?.getData('application/x-veil-strand');
    const from = shader.body.strands.findIndex((each) => each.id === moved);
    if (from >= 0 && from !== index) session.apply(moveStrand(shader.id, shader.body, from, index));
  };
  const fix = (step: Step, mistake: Diagnostic) => {
    const given = mistake.argument ? step.arguments[mistake.argument] : undefined;
    if (!mistake.fix || typeof given !== 'string') return;
    const text = mistake.fix.atEnd
      ? given + mistake.fix.text
      : given.slice(0, mistake.from) + mistake.fix.text + given.slice(mistake.to);
    session.apply(setArgument(shader.id, shader.body, step.id, mistake.argument!, text));
    session.settle();
  };
</script>

<section
  class="row staff-row"
  class:collapsed
  aria-label="Strand {strand.name}"
  data-strand={strand.name}
  {@attach watched}
  {@attach isStop(rowStop(strand.id))}
>
  <StrandMargin
    {session}
    {score}
    {strand}
    {index}
    {collapsed}
    {dots}
    names={view.names}
    here={asStrand}
    {refusal}
    bind:renaming
    ontoggle={toggleCollapsed}
    ondrop={dropStrand}
  />
  {#if collapsed}
    {@const last = strand.steps.at(-1)}
    <button class="line" title="Spread {strand.name} out" onclick={toggleCollapsed}>
      {#if last}<StepPicture picture={pictureOf(last.id)} size={20} label="Picture of {strand.name}" />{/if}
      <span class="mono truncate">{strand.steps.map((each) => each.operator).join(' → ')}</span>
      <span class="truncate text-third">{strand.note}</span>
    </button>
  {:else}
    <div class="staff" class:wraps={session.wraps}>
      {#each strand.steps as step, i (step.id)}
        <StepCard
          {step}
          first={i === 0}
          library={view.library}
          names={view.names}
          parameters={view.parameters}
          picture={pictureOf(step.id)}
          reading={pins.of(tapKey(strand.id, step.id))}
          cost={session.costs ? shareOfStep(step.id) : null}
          spread={spreadOf(i)}
          mistakes={mistakesOf(step.id)}
          notes={ofStep(view.notes, step.id)}
          selected={session.isSelected(step.id)}
          chosen={session.chosen.has(step.id)}
          tapped={session.shown.kind === 'tap' && session.shown.step === step.id}
          onselect={() => session.select(step.id)}
          onchoose={(through) => choose(step.id, through)}
          onwalk={(key, through) => walk(step.id, key, through)}
          ontab={(way) => tab(i, way)}
          onchange={(name, value) => session.apply(setArgument(shader.id, shader.body, step.id, name, value))}
          onoutput={(output) => put({ ...step, output }, 'Change output')}
          onnote={(note) => noteStep(step, note)}
          onsettle={session.settle}
          onexpose={(name) => onexpose(step, name)}
          ondeed={(what) => deed(step, i, what)}
          ondropstep={(moved, after) => dropStep(moved, after ? i + 1 : i)}
          onfix={(mistake) => fix(step, mistake)}
          onpastetext={(text) => pasteAfter(session, step.id, text)}
        />
      {/each}
      <button
        class="staff-add"
        aria-label="Add a step to {strand.name}"
        title="Add a step to {strand.name}"
        aria-haspopup="dialog"
        aria-expanded={asked}
        onclick={() => (asked ? session.askFor(null) : ask(null))}
        onkeydown={backToCard}
        {@attach isStop(addStop(strand.id))}><Plus size={13} /></button
      >
      {#each ownMistakes as mistake, i (i)}
        <p class="self-center text-[12px] text-oxblood" role="alert">{mistake.message}</p>
      {/each}
    </div>
  {/if}
</section>

<style>
  .row {
    /* Rows out of sight cost nothing to lay out: forty strands scroll as smoothly as four. */
    content-visibility: auto;
    contain-intrinsic-size: auto 83px;
  }
  /* What hangs below a card in hand or pointed at lies over the next strand. */
  .row:hover,
  .row:focus-within {
    content-visibility: visible;
  }
  .row.collapsed {
    min-height: 34px;
    contain-intrinsic-size: auto 34px;
  }
  .line {
    display: flex;
    flex: 1;
    align-items: center;
    gap: 12px;
    min-width: 0;
    padding: 0 12px;
    color: var(--second);
    text-align: left;
  }
  .line:hover {
    background: var(--sheet);
  }
  /* Lines below the first have room for a card's outline between them. */
  .staff.wraps {
    flex-wrap: wrap;
    row-gap: 10px;
    max-width: calc(100vw - 140px);
  }
</style>
