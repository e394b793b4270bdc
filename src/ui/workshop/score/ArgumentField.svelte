<script lang="ts">
  import Share from '@lucide/svelte/icons/arrow-up-right';
  import { readArithmetic } from '#core/language/arithmetic.ts';
  import type { Argument } from '#core/document/shader.ts';
  import type { OperatorInput } from '#core/operators/declare.ts';
  import NumberField from '../../parts/NumberField.svelte';
  import type { Readable } from '../../parts/completeName.ts';
  import ExpressionField from '../../parts/ExpressionField.svelte';

  interface Props {
    name: string;
    input: OperatorInput;
    value: Argument | undefined;
    /** What the argument reads when nothing is authored: an input's name, or what comes from the left. */
    fallback: string | null;
    numbers: readonly number[];
    parameterNames: ReadonlySet<string>;
    /** Strands and parameters that an expression may read. */
    readable: readonly Readable[];
    /** Parameters that a sampler may read. */
    samplers: readonly string[];
    wrong: boolean;
    onchange: (value: Argument) => void;
    onsettle: () => void;
    onexpose: () => void;
  }
  let {
    name,
    input,
    value,
    fallback,
    numbers,
    parameterNames,
    readable,
    samplers,
    wrong,
    onchange,
    onsettle,
    onexpose,
  }: Props = $props();

  const LONGEST = 18;

  let editing = $state<string | null>(null);
  const isText = $derived(typeof value === 'string' || (value === undefined && fallback !== null));
  /** The word a choice stands at, whether it was written or counted. */
  const word = $derived(typeof value === 'string' ? value : (input.options?.[numbers[0] ?? 0] ?? ''));
  const pick = (text: string) => {
    onchange(text);
    onsettle();
  };
  const shown = $derived(typeof value === 'string' ? value : (fallback ?? ''));
  const whole = $derived(input.type === 'int');
  const step = $derived(
    input.min !== undefined && input.max !== undefined ? (input.max - input.min) / 250 : 0.01,
  );

  /** Long ones lose their middle: how it begins and how it ends tell most. */
  const shortened = (text: string): string =>
    text.length > LONGEST ? `${text.slice(0, LONGEST / 2)}…${text.slice(1 - LONGEST / 2)}` : text;

  const begin = () => (editing = shown);
  /** A number, a few numbers with commas between, or an expression. */
  const read = (text: string): Argument => {
    const single = readArithmetic(text.includes(',') ? '' : text);
    if (single !== null)
      return numbers.length > 1 ? numbers.map(() => single) : whole ? Math.round(single) : single;
    const several = text.split(',').map((part) => readArithmetic(part));
    if (several.length > 1 && several.length <= 4 && several.every((x): x is number => x !== null))
      return several;
    return text;
  };
  const commit = () => {
    if (editing === null) return;
    const text = editing.trim();
    editing = null;
    if (text && text !== shown) {
      onchange(read(text));
      onsettle();
    }
  };
  const setComponent = (i: number, x: number) =>
    onchange(numbers.length === 1 ? x : numbers.map((each, k) => (k === i ? x : each)));
  const toText = (text: string): boolean => {
    onchange(read(text));
    return true;
  };
</script>

<div class="argument mono" class:wrong data-argument={name}>
  <span class="name" title={input.summary ?? ''}>{name}</span>
  {#if input.type === 'choice'}
    <select
      class="pick"
      value={word}
      aria-label={name}
      onclick={(event) => event.stopPropagation()}
      onkeydown={(event) => event.stopPropagation()}
      onchange={(event) => pick(event.currentTarget.value)}
    >
      {#if !input.options!.includes(word)}<option value={word} disabled>{word}</option>{/if}
      {#each input.options! as option (option)}<option value={option}>{option}</option>{/each}
    </select>
  {:else if input.type === 'sampler2D' && editing === null}
    <select
      class="pick"
      value={shown}
      aria-label={name}
      onclick={(event) => event.stopPropagation()}
      onkeydown={(event) => event.stopPropagation()}
      onchange={(event) => pick(event.currentTarget.value)}
    >
      {#if !samplers.includes(shown)}<option value={shown} disabled
          >{shown || `choose a ${input.reads}`}</option
        >{/if}
      {#each samplers as option (option)}<option value={option}>{option}</option>{/each}
    </select>
  {:else if input.type === 'bool' && !isText && editing === null}
    <input
      type="checkbox"
      class="accent-ink"
      checked={numbers[0] !== 0}
      aria-label={name}
      onclick={(event) => event.stopPropagation()}
      onchange={(event) => {
        onchange(event.currentTarget.checked ? 1 : 0);
        onsettle();
      }}
    />
    <button class="expression default" aria-label="{name}: write an expression" onclick={begin}>…</button>
  {:else if editing !== null}
    <ExpressionField
      bind:text={editing}
      label="{name}, an expression"
      {readable}
      oncommit={commit}
      oncancel={() => (editing = null)}
      onleave={commit}
    />
  {:else if isText}
    <button
      class="expression"
      class:default={value === undefined}
      class:parameter={parameterNames.has(shown)}
      aria-label="{name}: {shown}. Edit."
      title={shown}
      onclick={(event) => {
        event.stopPropagation();
        begin();
      }}>{shortened(shown)}</button
    >
  {:else}
    <span class="numbers">
      {#each numbers as x, i (i)}
        <NumberField
          plain
          value={x}
          label={numbers.length > 1 ? `${name} ${'xyzw'[i]}` : name}
          {step}
          {whole}
          {...input.min === undefined ? {} : { min: input.min }}
          {...input.max === undefined ? {} : { max: input.max }}
          hard={input.hard ?? false}
          cyclic={input.cyclic ?? false}
          onchange={(next) => setComponent(i, next)}
          {onsettle}
          ontext={toText}
          {readable}
        />
      {/each}
    </span>
    <button
      class="expose"
      title="Expose {name} as a parameter"
      aria-label="Expose {name} as a parameter"
      onclick={(event) => {
        event.stopPropagation();
        onexpose();
      }}><Share size={11} /></button
    >
  {/if}
</div>

<style>
  .argument {
    display: flex;
    align-items: baseline;
    gap: 5px;
    height: 17px;
    white-space: nowrap;
  }
  .name {
    color: var(--third);
  }
  .numbers {
    display: flex;
    gap: 6px;
  }
  .pick {
    height: 17px;
    margin-left: -3px;
    background: transparent;
    color: var(--second);
    font: inherit;
  }
  .pick:hover {
    background: var(--well);
    color: var(--ink);
  }
  .expression {
    max-width: 32ch;
    overflow: hidden;
    text-overflow: ellipsis;
    color: var(--second);
    border-bottom: 1px solid transparent;
    line-height: 15px;
  }
  .expression:hover {
    background: var(--well);
    color: var(--ink);
  }
  .expression.default {
    color: var(--third);
  }
  .expression.parameter {
    color: var(--ink);
    border-bottom: 1px dotted var(--ink);
  }
  .wrong .expression,
  .wrong .name {
    color: var(--oxblood);
  }
  .expose {
    align-self: center;
    width: 13px;
    color: var(--limelight-ink);
    opacity: 0;
  }
  @media (hover: none) {
    .expose {
      opacity: 1;
    }
  }
  .argument:hover .expose,
  .expose:focus-visible {
    opacity: 1;
  }
</style>
