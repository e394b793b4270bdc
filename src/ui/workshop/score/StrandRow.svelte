<script lang="ts">
  import { DropdownMenu } from 'bits-ui';
  import { tapKey } from '#core/compileShader.ts';
  import {
    addStep,
    moveStep,
    moveStrand,
    noteStrand,
    placeOfStep,
    removeStep,
    removeStrand,
    renameStrand,
    replaceStep,
    setArgument,
    usesOf,
  } from '#core/document/edits/shaderEdits.ts';
  import type { Step, Strand } from '#core/document/shader.ts';
  import { nameProblem } from '#core/language/reserved.ts';
  import { OPERATOR_NAMES, OPERATORS } from '#core/operators/catalogue.ts';
  import type { Operator } from '#core/operators/declare.ts';
  import type { Diagnostic } from '#core/program/lowerShader.ts';
  import { componentsOf } from '#core/program/types.ts';
  import type { Pictures } from '../pictures.svelte.ts';
  import type { Session } from '../session.svelte.ts';
  import Palette from './Palette.svelte';
  import { focusStep } from '../commands.ts';
  import StepCard, { type StepDeed } from './StepCard.svelte';

  interface Props {
    session: Session;
    pictures: Pictures;
    strand: Strand;
    index: number;
    onexpose: (step: Step, argument: string) => void;
    /** Asks for a new strand below this one. */
    onnew: () => void;
  }
  let { session, pictures, strand, index, onexpose, onnew }: Props = $props();

  const shader = $derived(session.shader!);
  const compiled = $derived(session.shaderState);
  const strandNames = $derived(new Set(shader.body.strands.map((each) => each.name)));
  const parameterNames = $derived(new Set(shader.body.parameters.map((each) => each.name)));
  const mistakesOf = (step: string) =>
    (compiled?.diagnostics ?? []).filter((each) => each.strand === strand.id && each.step === step);
  const ownMistakes = $derived(mistakesOf(''));
  const dots = $derived.by(() => {
    const tap = compiled?.good?.program.taps.findLast((each) => each.strand === strand.id);
    return tap ? '·'.repeat(Math.min(componentsOf(tap.value.type), 4)) : '';
  });

  let renaming = $state<string | null>(null);
  let problem = $state<string | null>(null);
  let refusal = $state<string | null>(null);

  const commitName = () => {
    if (renaming === null) return;
    const name = renaming.trim();
    const taken = [...strandNames, ...parameterNames].includes(name) && name !== strand.name;
    problem =
      name === strand.name
        ? null
        : (nameProblem(name, OPERATOR_NAMES) ?? (taken ? `“${name}” is used already.` : null));
    if (problem) return;
    if (name !== strand.name) session.apply(renameStrand(shader.id, shader.body, index, name));
    renaming = null;
  };
  const deleteStrand = () => {
    const users = [...new Set(usesOf(shader.body, strand.name).map((use) => use.strand))];
    if (users.length) refusal = `${strand.name} is used by ${users.join(', ')}; take it out there first.`;
    else session.apply(removeStrand(shader.id, shader.body, index));
  };
  const newId = () => `step-${crypto.randomUUID().slice(0, 8)}`;
  let palette = $state(false);
  /** Where the palette puts its step; the end unless a card asked. */
  let insertAt = $state<number | null>(null);
  const ask = (at: number) => {
    insertAt = at;
    palette = true;
  };
  const add = (operator: Operator) => {
    const at = insertAt ?? strand.steps.length;
    insertAt = null;
    const step: Step = { id: newId(), operator: operator.name, arguments: {} };
    session.apply(addStep(shader.id, { strand: index, step: at }, step));
    session.select(step.id);
  };
  const deed = (step: Step, i: number, what: StepDeed) => {
    const part = shader.id;
    switch (what) {
      case 'tap': {
        const shown = session.shown;
        const same = shown.kind === 'tap' && shown.step === step.id;
        session.show(same ? { kind: 'finished' } : { kind: 'tap', strand: strand.id, step: step.id });
        return;
      }
      case 'left':
        if (i > 0) session.apply(moveStep(part, shader.body, step.id, { strand: index, step: i - 1 }));
        break;
      case 'right':
        if (i < strand.steps.length - 1)
          session.apply(moveStep(part, shader.body, step.id, { strand: index, step: i + 1 }));
        break;
      case 'before':
        ask(i);
        return;
      case 'after':
        ask(i + 1);
        return;
      case 'expose': {
        const known = OPERATORS.get(step.operator);
        const name = Object.keys(known?.inputs ?? {}).find(
          (each) =>
            typeof step.arguments[each] !== 'string' &&
            typeof known!.inputs[each]!.default !== 'string' &&
            !(each === known!.flow && i > 0 && step.arguments[each] === undefined),
        );
        if (name) onexpose(step, name);
        else refusal = `${step.operator} has no number to expose; all its arguments are expressions.`;
        return;
      }
      case 'strand-new':
        onnew();
        return;
      case 'strand-rename':
        renaming = strand.name;
        return;
      case 'strand-delete':
        deleteStrand();
        return;
      case 'strand-up':
        if (index > 0) session.apply(moveStrand(part, shader.body, index, index - 1));
        break;
      case 'strand-down':
        if (index < shader.body.strands.length - 1)
          session.apply(moveStrand(part, shader.body, index, index + 1));
        break;
      case 'duplicate':
        session.apply(addStep(part, { strand: index, step: i + 1 }, { ...step, id: newId() }));
        return;
      case 'mute':
        session.apply(
          replaceStep(
            part,
            shader.body,
            { ...step, muted: !step.muted },
            step.muted ? 'Unmute step' : 'Mute step',
          ),
        );
        break;
      case 'delete': {
        session.apply(removeStep(part, shader.body, step.id));
        const neighbour = strand.steps[i - 1] ?? strand.steps[i + 1];
        session.select(neighbour?.id ?? null);
        if (neighbour) setTimeout(() => focusStep(neighbour.id));
        return;
      }
    }
    setTimeout(() => focusStep(step.id));
  };
  const dropStep = (moved: string, target: number) => {
    const from = placeOfStep(shader.body, moved);
    const to = from.strand === index && from.step < target ? target - 1 : target;
    session.apply(moveStep(shader.id, shader.body, moved, { strand: index, step: to }));
    setTimeout(() => focusStep(moved));
  };
  const dropStrand = (event: DragEvent) => {
    const moved = event.dataTransfer?.getData('application/x-veil-strand');
    const from = shader.body.strands.findIndex((each) => each.id === moved);
    if (from >= 0 && from !== index) session.apply(moveStrand(shader.id, shader.body, from, index));
  };
  const fix = (step: Step, mistake: Diagnostic) => {
    const given = mistake.argument ? step.arguments[mistake.argument] : undefined;
    if (!mistake.fix || typeof given !== 'string') return;
    // A missing bracket is added at the end; anything else replaces what was wrong.
    const text = mistake.fix.label.startsWith('add')
      ? given + mistake.fix.text
      : given.slice(0, mistake.from) + mistake.fix.text + given.slice(mistake.to);
    session.apply(setArgument(shader.id, shader.body, step.id, mistake.argument!, text));
    session.settle();
  };
</script>

<section class="row" aria-label="Strand {strand.name}" data-strand={strand.name}>
  <div
    class="margin"
    role="presentation"
    draggable="true"
    ondragstart={(event) => event.dataTransfer?.setData('application/x-veil-strand', strand.id)}
    ondragover={(event) =>
      event.dataTransfer?.types.includes('application/x-veil-strand') && event.preventDefault()}
    ondrop={dropStrand}
  >
    <div class="flex items-baseline gap-1.5">
      {#if renaming !== null}
        <!-- svelte-ignore a11y_autofocus -->
        <input
          class="field h-6 w-24 font-semibold"
          bind:value={renaming}
          aria-label="Name of the strand"
          aria-invalid={problem !== null}
          autofocus
          onblur={() => {
            commitName();
            renaming = null;
            problem = null;
          }}
          onkeydown={(event) => {
            event.stopPropagation();
            if (event.key === 'Enter') commitName();
            if (event.key === 'Escape') renaming = null;
          }}
        />
      {:else}
        <DropdownMenu.Root>
          <DropdownMenu.Trigger class="strand-name" title="What to do with {strand.name}"
            >{strand.name}</DropdownMenu.Trigger
          >
          <DropdownMenu.Portal>
            <DropdownMenu.Content class="popup min-w-40 py-1" align="start" sideOffset={4}>
              <DropdownMenu.Item
                class="menu-item"
                onSelect={() => setTimeout(() => (renaming = strand.name), 30)}>Rename</DropdownMenu.Item
              >
              <DropdownMenu.Item
                class="menu-item"
                disabled={index === 0}
                onSelect={() => session.apply(moveStrand(shader.id, shader.body, index, index - 1))}
                >Move up</DropdownMenu.Item
              >
              <DropdownMenu.Item
                class="menu-item"
                disabled={index === shader.body.strands.length - 1}
                onSelect={() => session.apply(moveStrand(shader.id, shader.body, index, index + 1))}
                >Move down</DropdownMenu.Item
              >
              <DropdownMenu.Item class="menu-item" onSelect={deleteStrand}>Delete</DropdownMenu.Item>
            </DropdownMenu.Content>
          </DropdownMenu.Portal>
        </DropdownMenu.Root>
        <span class="dots" title="numbers in each value">{dots}</span>
      {/if}
    </div>
    <input
      class="note"
      value={strand.note}
      placeholder="what it is for"
      aria-label="What {strand.name} is for"
      maxlength="200"
      oninput={(event) => session.apply(noteStrand(shader.id, index, event.currentTarget.value))}
      onblur={() => session.settle()}
      onkeydown={(event) => event.stopPropagation()}
    />
    {#if problem || refusal}
      <p class="text-[11px] text-oxblood" role="alert">{problem ?? refusal}</p>
    {/if}
  </div>
  <div class="staff">
    {#each strand.steps as step, i (step.id)}
      <StepCard
        {step}
        first={i === 0}
        {strandNames}
        {parameterNames}
        picture={pictures.all.get(compiled?.good?.taps.get(tapKey(strand.id, step.id)) ?? -99)}
        mistakes={mistakesOf(step.id)}
        selected={session.selected === step.id}
        tapped={session.shown.kind === 'tap' && session.shown.step === step.id}
        onselect={() => session.select(step.id)}
        onchange={(name, value) => session.apply(setArgument(shader.id, shader.body, step.id, name, value))}
        onsettle={session.settle}
        onexpose={(name) => onexpose(step, name)}
        ondeed={(what) => deed(step, i, what)}
        ondropstep={(moved, after) => dropStep(moved, after ? i + 1 : i)}
        onfix={(mistake) => fix(step, mistake)}
      />
    {/each}
    <Palette
      bind:open={palette}
      onpick={add}
      label="Add a step to {strand.name}"
      onclosed={() => (insertAt = null)}
      refocus={() => session.selected && focusStep(session.selected)}
    />
    {#each ownMistakes as mistake, i (i)}
      <p class="self-center text-[12px] text-oxblood" role="alert">{mistake.message}</p>
    {/each}
  </div>
</section>

<style>
  .row {
    display: flex;
    min-height: 83px;
    border-bottom: 1px solid var(--hairline);
  }
  .margin {
    position: sticky;
    left: 0;
    z-index: 2;
    flex: none;
    width: 126px;
    padding: 11px 6px 6px 14px;
    border-right: 1px solid var(--rule);
    background: var(--page);
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
  .staff {
    display: flex;
    flex: 1;
    align-items: flex-start;
    gap: 16px;
    padding: 9px 24px 8px 12px;
    background:
      linear-gradient(var(--rule), var(--rule)) 0 41px / 100% 1px no-repeat,
      repeating-linear-gradient(
          transparent 0 11px,
          color-mix(in srgb, var(--hairline) 55%, transparent) 11px 12px
        )
        0 17px / 100% 49px no-repeat;
  }
  .staff :global(.add-step) {
    display: flex;
    flex: none;
    align-items: center;
    justify-content: center;
    width: 30px;
    height: 30px;
    margin-top: 17px;
    border: 1px dashed var(--rule);
    border-radius: 3px;
    background: var(--page);
    color: var(--third);
  }
  .staff :global(.add-step:hover) {
    border-color: var(--ink);
    color: var(--ink);
  }
</style>
