<script lang="ts">
  import type { Library } from '#core/document/motif.ts';
  import type { Argument, Parameter, Step } from '#core/document/shader.ts';
  import { knobNumbers, type Diagnostic } from '#core/lower/lowerShader.ts';
  import type { OperatorInput } from '#core/operators/declare.ts';
  import { operatorOf } from '#core/lower/stepOperator.ts';
  import type { StepReading } from '../pins/watchPins.svelte.ts';
  import type { StepPicture as Picture } from '../pictures.svelte.ts';
  import ArgumentField from './ArgumentField.svelte';
  import { createCardDrop, STEP } from './cardDrop.svelte.ts';
  import { isDefault } from './isDefault.ts';
  import { focusStep, isStop } from './stops.ts';
  import { chordOf } from '../commands/chords.ts';
  import { deedOfChord, type Card, type StepDeed } from '../commands/onCard.ts';
  import type { ScoreNames } from './scoreNames.ts';
  import StepMenu from './StepMenu.svelte';
  import StepOutput from './StepOutput.svelte';
  import StepPicture from './StepPicture.svelte';
  import StepRange from './StepRange.svelte';
  import StepRemarks from './StepRemarks.svelte';

  interface Props {
    step: Step;
    first: boolean;
    library: Library;
    names: ScoreNames;
    parameters: readonly Parameter[];
    picture: Picture | undefined;
    /** What it comes to at the pin that is read. */
    reading: StepReading | null;
    /** Its share of what the shader costs, where that is shown. */
    cost: string | null;
    /** “1 → 3” where one number from the left is spread over several. */
    spread: string | null;
    mistakes: readonly Diagnostic[];
    notes: readonly Diagnostic[];
    selected: boolean;
    /** One of several chosen together. */
    chosen: boolean;
    tapped: boolean;
    onselect: () => void;
    /** Chosen beside others: with Ctrl held, or with Shift from the one in hand to this one. */
    onchoose: (through: boolean) => void;
    /** Another card is asked for by a key; those between are chosen with Shift. */
    onwalk: (key: string, through: boolean) => void;
    /** The stop after or before this one; false where there is none in the strand. */
    ontab: (way: -1 | 1) => boolean;
    onchange: (name: string, value: Argument) => void;
    onoutput: (name: string) => void;
    onnote: (note: string) => void;
    onsettle: () => void;
    onexpose: (name: string) => void;
    ondeed: (deed: StepDeed) => void;
    /** Another step was dropped here: before this one, or after it. */
    ondropstep: (step: string, after: boolean) => void;
    onfix: (mistake: Diagnostic) => void;
    /** Copied text was pasted onto the card. */
    onpastetext: (text: string) => void;
  }
  let {
    step,
    first,
    library,
    names,
    parameters,
    picture,
    reading,
    cost,
    spread,
    mistakes,
    notes,
    selected,
    chosen,
    tapped,
    onselect,
    onchoose,
    onwalk,
    ontab,
    onchange,
    onoutput,
    onnote,
    onsettle,
    onexpose,
    ondeed,
    ondropstep,
    onfix,
    onpastetext,
  }: Props = $props();

  const found = $derived(operatorOf(step, library));
  const signature = $derived(found.kind === 'unknown' ? null : found.signature);
  const motif = $derived(found.kind === 'motif' ? found.motif : null);
  /** A step that only reads a strand is shown as that strand. */
  const reads = $derived.by(() => {
    const { x } = step.arguments;
    return step.operator === 'value' && typeof x === 'string' && names.strands.has(x) ? x : null;
  });
  const word = $derived(reads ?? signature?.name ?? step.operator);
  const inputs = $derived(
    Object.entries(signature?.inputs ?? {}).filter(
      ([name]) => !(name === signature?.flow && !first && step.arguments[name] === undefined),
    ),
  );
  /** What stands as it does by itself is shown while the card is in hand or pointed at. */
  const isPlain = (name: string, input: OperatorInput): boolean =>
    isDefault(step.arguments[name], input) && !mistakes.some((each) => each.argument === name);
  const shownInputs = $derived(selected ? inputs : inputs.filter(([name, input]) => !isPlain(name, input)));
  const restInputs = $derived(selected ? [] : inputs.filter(([name, input]) => isPlain(name, input)));
  let writing = $state(false);
  const deed = (what: StepDeed) => {
    if (what === 'note') writing = true;
    else ondeed(what);
  };
  const asCard = $derived<Card>({
    ...{ isCode: step.operator === 'code', isMotif: motif !== null, muted: step.muted ?? false },
    do: deed,
  });
  const onkeydown = (event: KeyboardEvent) => {
    const card = event.currentTarget as HTMLElement;
    if (event.target !== card) {
      // From what is in the card back to the card.
      if (event.key !== 'Escape') return;
      event.stopPropagation();
      return card.focus();
    }
    const what = deedOfChord(chordOf(event), asCard);
    if (event.key === 'Tab') {
      // A card is one stop: Enter goes into it.
      if (!ontab(event.shiftKey ? -1 : 1)) return;
    } else if (what) deed(what);
    else if (event.ctrlKey || event.metaKey) return;
    else if (event.key === 'Enter') {
      const field = card.querySelector<HTMLElement>(
        '[data-argument] .expression, [data-argument] [role=spinbutton], [data-argument] select',
      );
      if (field) field.focus();
      else deed('open');
    } else if (/^(Arrow|Home|End)/.test(event.key)) onwalk(event.key, event.shiftKey);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const isOwn = (id: string) => id === step.id;
  const drop = createCardDrop(isOwn, (moved, after) => ondropstep(moved, after));
  const held = (event: PointerEvent) => {
    if (!event.ctrlKey && !event.metaKey && !event.shiftKey) return;
    if ((event.target as HTMLElement).closest('input, [role=spinbutton], select')) return;
    onchoose(event.shiftKey);
    event.preventDefault();
  };
</script>

{#snippet argument([name, input]: readonly [string, OperatorInput])}
  <ArgumentField
    {name}
    {input}
    value={step.arguments[name]}
    fallback={typeof input.default === 'string' ? input.default : input.type === 'sampler2D' ? '' : null}
    numbers={signature && input.type !== 'sampler2D'
      ? knobNumbers(signature, name, step.arguments[name])
      : [0]}
    parameterNames={names.parameters}
    readable={names.readable}
    samplers={parameters.filter((each) => each.kind === (input.reads ?? 'texture')).map((each) => each.name)}
    wrong={mistakes.some((each) => each.argument === name)}
    onchange={(value) => onchange(name, value)}
    {onsettle}
    onexpose={() => onexpose(name)}
  />
{/snippet}

<div class="column">
  <!-- A card is a stop of the keyboard with keys of its own, and holds fields that are stops too. -->
  <!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
  <div
    class="card staff-card"
    class:selected
    class:chosen
    class:tapped
    class:muted={step.muted}
    class:broken={mistakes.length > 0}
    class:drop-before={drop.side === 'before'}
    class:drop-after={drop.side === 'after'}
    role="group"
    aria-label="{signature?.name ?? step.operator} step{step.muted ? ', muted' : ''}"
    data-step={step.id}
    tabindex="0"
    {@attach isStop(step.id)}
    onfocusin={onselect}
    onpointerdowncapture={held}
    {onkeydown}
    onpaste={(event) => {
      if (event.target !== event.currentTarget) return;
      event.preventDefault();
      onpastetext(event.clipboardData?.getData('text/plain') ?? '');
    }}
    ondragover={drop.over}
    ondragleave={drop.leave}
    ondrop={drop.drop}
  >
    <button
      class="picture"
      title="Tap: show this value on the stage"
      aria-pressed={tapped}
      aria-label="Tap {word}"
      onclick={() => ondeed('tap')}
    >
      <StepPicture {picture} label="Picture of {word}" />
    </button>
    <div class="words">
      <div class="head">
        <span
          class="word"
          role="presentation"
          title="{signature?.summary ?? 'unknown operator'} Drag to move."
          draggable="true"
          ondragstart={(event) => event.dataTransfer?.setData(STEP, step.id)}
          ondblclick={() => (step.operator === 'code' || motif ? ondeed('open') : undefined)}>{word}</span
        >
        {#if step.operator === 'code'}
          <button class="kind mono" title="Edit the code" onclick={() => ondeed('open')}>code</button>
        {:else if motif}
          <button class="kind mono" title="Open the motif" onclick={() => ondeed('open')}>motif</button>
        {/if}
        {#if spread}
          <span class="mono third" title="One number comes in, and each of the others is the same"
            >{spread}</span
          >
        {/if}
        <StepMenu {word} card={asCard} />
      </div>
      <div
        class="arguments"
        class:three={!reads && shownInputs.length + (motif && motif.body.outputs.length > 1 ? 1 : 0) === 3}
      >
        {#if reads}
          <button class="mono third" title="Go to {reads}" onclick={() => ondeed('definition')}>strand</button
          >
        {:else}
          {#if motif && motif.body.outputs.length > 1}
            <StepOutput outputs={motif.body.outputs} value={step.output} {onoutput} />
          {/if}
          {#each shownInputs as entry (entry[0])}{@render argument(entry)}{/each}
        {/if}
      </div>
      <StepRange range={picture?.range} {reading} {cost} />
    </div>
    {#if restInputs.length && !reads}
      <div class="rest">
        {#each restInputs as entry (entry[0])}{@render argument(entry)}{/each}
      </div>
    {/if}
  </div>
  <StepRemarks
    {word}
    note={step.note ?? ''}
    {mistakes}
    {notes}
    bind:writing
    {onnote}
    {onfix}
    ondone={() => focusStep(step.id)}
    onopen={() => ondeed('open')}
  />
</div>

<style>
  .column {
    position: relative;
    flex: none;
  }
  .card.selected,
  .card.chosen {
    outline: 2px solid var(--ink);
    outline-offset: -1px;
  }
  .card.chosen:not(.selected) {
    outline-style: dashed;
    outline-width: 1px;
  }
  .card.tapped::before {
    content: '';
    position: absolute;
    inset: -3px -1px auto;
    height: 4px;
    border-radius: 2px 2px 0 0;
    background: var(--limelight);
    box-shadow: 0 0 0 0.5px var(--limelight-ink);
  }
  .card.drop-before {
    box-shadow: -4px 0 0 var(--limelight-ink);
  }
  .card.drop-after {
    box-shadow: 4px 0 0 var(--limelight-ink);
  }
  .card.muted .picture,
  .card.muted .word,
  .card.muted .arguments {
    opacity: 0.4;
  }
  .card.broken {
    border-color: var(--oxblood);
  }
  .broken .picture {
    opacity: 0.45;
  }
  .picture {
    flex: none;
    align-self: flex-start;
  }
  .words {
    display: flex;
    flex-direction: column;
    min-width: 58px;
  }
  .head {
    display: flex;
    align-items: baseline;
    gap: 6px;
  }
  .word {
    font-weight: 640;
    line-height: 16px;
    white-space: nowrap;
    cursor: grab;
  }
  .kind {
    padding: 0 3px;
    border: 1px solid var(--hairline);
    border-radius: 2px;
    color: var(--second);
    font-size: 10px;
    line-height: 13px;
  }
  .kind:hover {
    border-color: var(--ink);
    color: var(--ink);
  }
  .head :global(.step-menu) {
    align-self: center;
    margin-left: auto;
    color: var(--third);
    opacity: 0;
  }
  @media (hover: none) {
    .head :global(.step-menu) {
      opacity: 1;
    }
  }
  .card:hover :global(.step-menu),
  .card:focus-within :global(.step-menu) {
    opacity: 1;
  }
  .arguments {
    display: grid;
    grid-auto-flow: column;
    grid-template-rows: repeat(2, 17px);
    column-gap: 14px;
    justify-content: start;
  }
  /* The first is the longest as a rule: the other two stand under it. */
  .arguments.three {
    grid-auto-flow: row;
    grid-template-columns: auto auto;
  }
  .arguments.three > :global(:first-child) {
    grid-column: 1 / -1;
  }
  /* Below the card and over what is there: nothing moves under the pointer. */
  .rest {
    position: absolute;
    top: calc(100% - 1px);
    left: -1px;
    z-index: 3;
    display: none;
    padding: 4px 10px 5px 10px;
    border: 1px solid var(--rule);
    border-top-color: var(--hairline);
    border-radius: 0 0 3px 3px;
    background: var(--sheet);
  }
  .card:hover .rest {
    display: block;
  }
  .third {
    color: var(--third);
    text-align: left;
  }
  .third:hover {
    color: var(--ink);
    text-decoration: underline;
  }
</style>
