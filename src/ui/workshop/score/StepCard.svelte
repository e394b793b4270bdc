<script lang="ts">
  import { DropdownMenu } from 'bits-ui';
  import Ellipsis from '@lucide/svelte/icons/ellipsis';
  import type { Argument, Step } from '#core/document/shader.ts';
  import { OPERATORS } from '#core/operators/catalogue.ts';
  import { knobNumbers, type Diagnostic } from '#core/program/lowerShader.ts';
  import type { StepPicture as Picture } from '../pictures.svelte.ts';
  import ArgumentField from './ArgumentField.svelte';
  import RangeBar from './RangeBar.svelte';
  import StepPicture from './StepPicture.svelte';

  /** What can be done to a step from its card. */
  export type StepDeed =
    | ('tap' | 'left' | 'right' | 'duplicate' | 'mute' | 'delete' | 'before' | 'after' | 'expose')
    | ('strand-new' | 'strand-rename' | 'strand-up' | 'strand-down' | 'strand-delete');

  interface Props {
    step: Step;
    first: boolean;
    strandNames: ReadonlySet<string>;
    parameterNames: ReadonlySet<string>;
    picture: Picture | undefined;
    mistakes: readonly Diagnostic[];
    selected: boolean;
    tapped: boolean;
    onselect: () => void;
    onchange: (name: string, value: Argument) => void;
    onsettle: () => void;
    onexpose: (name: string) => void;
    ondeed: (deed: StepDeed) => void;
    /** Another step was dropped here: before this one, or after it. */
    ondropstep: (step: string, after: boolean) => void;
    onfix: (mistake: Diagnostic) => void;
  }
  let {
    step,
    first,
    strandNames,
    parameterNames,
    picture,
    mistakes,
    selected,
    tapped,
    onselect,
    onchange,
    onsettle,
    onexpose,
    ondeed,
    ondropstep,
    onfix,
  }: Props = $props();

  const operator = $derived(OPERATORS.get(step.operator));
  /** A step that only reads a strand is shown as that strand. */
  const reads = $derived(
    step.operator === 'value' &&
      typeof step.arguments['x'] === 'string' &&
      strandNames.has(step.arguments['x'])
      ? step.arguments['x']
      : null,
  );
  const inputs = $derived(
    Object.entries(operator?.inputs ?? {}).filter(
      ([name]) => !(name === operator?.flow && !first && step.arguments[name] === undefined),
    ),
  );
  const keys: Readonly<Record<string, StepDeed>> = {
    Delete: 'delete',
    Backspace: 'delete',
    'Shift+Delete': 'strand-delete',
    'Alt+ArrowLeft': 'left',
    'Alt+ArrowRight': 'right',
    'Alt+ArrowUp': 'strand-up',
    'Alt+ArrowDown': 'strand-down',
    F2: 'strand-rename',
    t: 'tap',
    m: 'mute',
    d: 'duplicate',
    a: 'after',
    i: 'before',
    e: 'expose',
    n: 'strand-new',
  };
  const onkeydown = (event: KeyboardEvent) => {
    const card = event.currentTarget as HTMLElement;
    if (event.target !== card || event.ctrlKey || event.metaKey) return;
    const held = `${event.altKey ? 'Alt+' : ''}${event.shiftKey ? 'Shift+' : ''}${event.key}`;
    const deed = keys[held];
    if (deed) ondeed(deed);
    else if (event.key === 'Enter')
      card
        .querySelector<HTMLElement>('[data-argument] .expression, [data-argument] [role=spinbutton]')
        ?.focus();
    else if (/^(Arrow|Home|End)/.test(held)) walk(card, event.key);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  /** Moves the focus to a card beside this one, or at the same place in the strand above or below. */
  const walk = (card: HTMLElement, key: string) => {
    const row = card.closest('[data-strand]')!;
    const cards = (of: Element | null) => [...(of?.querySelectorAll<HTMLElement>('[data-step]') ?? [])];
    const own = cards(row);
    const at = own.indexOf(card);
    const rows = [...document.querySelectorAll('[data-strand]')];
    const beside = (way: number) => cards(rows[rows.indexOf(row) + way] ?? null);
    const there = {
      ArrowLeft: own[at - 1],
      ArrowRight: own[at + 1],
      Home: own[0],
      End: own.at(-1),
      ArrowUp: beside(-1)[Math.min(at, beside(-1).length - 1)],
      ArrowDown: beside(1)[Math.min(at, beside(1).length - 1)],
    }[key];
    there?.focus();
    there?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  };
  let dropping = $state<'before' | 'after' | null>(null);
  const over = (event: DragEvent) => {
    if (!event.dataTransfer?.types.includes('application/x-veil-step')) return;
    event.preventDefault();
    const { left, width } = (event.currentTarget as HTMLElement).getBoundingClientRect();
    dropping = event.clientX < left + width / 2 ? 'before' : 'after';
  };
  const drop = (event: DragEvent) => {
    const moved = event.dataTransfer?.getData('application/x-veil-step');
    if (moved && moved !== step.id) ondropstep(moved, dropping === 'after');
    dropping = null;
    event.preventDefault();
  };
  const deeds: readonly (readonly [StepDeed, string, string])[] = [
    ['tap', 'Tap', 'T'],
    ['before', 'Insert before', 'I'],
    ['after', 'Add after', 'A'],
    ['expose', 'Expose a number', 'E'],
    ['left', 'Move left', 'Alt ←'],
    ['right', 'Move right', 'Alt →'],
    ['duplicate', 'Duplicate', 'D'],
    ['mute', 'Mute', 'M'],
    ['delete', 'Delete', 'Del'],
  ];
</script>

<div class="column">
  <!-- A card is a stop of the keyboard with keys of its own, and holds fields that are stops too. -->
  <!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
  <div
    class="card"
    class:selected
    class:tapped
    class:muted={step.muted}
    class:broken={mistakes.length > 0}
    class:drop-before={dropping === 'before'}
    class:drop-after={dropping === 'after'}
    role="group"
    aria-label="{step.operator} step{step.muted ? ', muted' : ''}"
    data-step={step.id}
    tabindex="0"
    onfocusin={onselect}
    {onkeydown}
    ondragover={over}
    ondragleave={() => (dropping = null)}
    ondrop={drop}
  >
    <button
      class="picture"
      title="Tap: show this value on the stage"
      aria-pressed={tapped}
      aria-label="Tap {step.operator}"
      onclick={() => ondeed('tap')}
    >
      <StepPicture {picture} label="Picture of {step.operator}" />
    </button>
    <div class="words">
      <div class="head">
        <span
          class="word"
          role="presentation"
          title="{operator?.summary ?? 'unknown operator'} Drag to move."
          draggable="true"
          ondragstart={(event) => event.dataTransfer?.setData('application/x-veil-step', step.id)}
          >{reads ?? step.operator}</span
        >
        <DropdownMenu.Root>
          <DropdownMenu.Trigger class="step-menu" aria-label="More for {step.operator}"
            ><Ellipsis size={13} /></DropdownMenu.Trigger
          >
          <DropdownMenu.Portal>
            <DropdownMenu.Content class="popup min-w-40 py-1" sideOffset={4} align="start">
              {#each deeds as [deed, label, key] (deed)}
                <DropdownMenu.Item class="menu-item" onSelect={() => ondeed(deed)}>
                  <span>{deed === 'mute' && step.muted ? 'Unmute' : label}</span><kbd class="mono text-third"
                    >{key}</kbd
                  >
                </DropdownMenu.Item>
              {/each}
            </DropdownMenu.Content>
          </DropdownMenu.Portal>
        </DropdownMenu.Root>
      </div>
      <div class="arguments" class:many={inputs.length > 2}>
        {#if reads}
          <button class="mono third" onclick={() => onselect()}>strand</button>
        {:else}
          {#each inputs as [name, input] (name)}
            <ArgumentField
              {name}
              {input}
              value={step.arguments[name]}
              fallback={typeof input.default === 'string' ? input.default : null}
              numbers={operator ? knobNumbers(operator, name, step.arguments[name]) : [0]}
              {parameterNames}
              wrong={mistakes.some((each) => each.argument === name)}
              onchange={(value) => onchange(name, value)}
              {onsettle}
              onexpose={() => onexpose(name)}
            />
          {/each}
        {/if}
      </div>
      <div class="range"><RangeBar range={picture?.range} /></div>
    </div>
  </div>
  {#each mistakes as mistake, i (i)}
    <p class="mistake" class:follows={mistake.follows} role="alert">
      {#if mistake.argument}<b class="mono">{mistake.argument}</b>{/if}
      {mistake.message}
      {#if mistake.fix}<button class="underline" onclick={() => onfix(mistake)}>{mistake.fix.label}</button
        >{/if}
    </p>
  {/each}
</div>

<style>
  .column {
    position: relative;
    flex: none;
  }
  .card {
    position: relative;
    display: flex;
    gap: 8px;
    height: 65px;
    padding: 5px 10px 0 5px;
    border: 1px solid var(--rule);
    border-radius: 3px;
    background: var(--sheet);
  }
  .card.selected {
    outline: 2px solid var(--ink);
    outline-offset: -1px;
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
    justify-content: space-between;
    gap: 6px;
  }
  .word {
    font-weight: 640;
    line-height: 16px;
    white-space: nowrap;
    cursor: grab;
  }
  .head :global(.step-menu) {
    color: var(--third);
    opacity: 0;
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
  .third {
    color: var(--third);
    text-align: left;
    cursor: default;
  }
  .range {
    margin-top: auto;
    padding-bottom: 3px;
  }
  .mistake {
    max-width: 340px;
    min-width: 180px;
    margin-top: 4px;
    color: var(--oxblood);
    font-size: 12px;
    width: 0;
    min-width: max(100%, 220px);
  }
  .mistake.follows {
    color: var(--third);
  }
</style>
