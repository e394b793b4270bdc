<script lang="ts">
  import NumberField from '../../parts/NumberField.svelte';

  /** A word and its numbers, each dragged or typed: “size 6.4 2.7 m”. */
  interface Props {
    word: string;
    /** What each number is of, for who cannot see the line: “Lamp position x”. */
    label: string;
    value: readonly number[];
    names?: readonly string[];
    step?: number;
    min?: number;
    max?: number;
    whole?: boolean;
    unit?: string;
    onchange: (value: readonly number[]) => void;
    onsettle: () => void;
  }
  let {
    word,
    label,
    value,
    names = ['x', 'y', 'z'],
    step = 0.01,
    min = -Infinity,
    max = Infinity,
    whole = false,
    unit = '',
    onchange,
    onsettle,
  }: Props = $props();
</script>

<div class="line">
  <span class="text-third">{word}</span>
  {#each value as number, i (i)}
    <NumberField
      plain
      hard
      value={number}
      label={value.length === 1 ? label : `${label} ${names[i]}`}
      {step}
      {min}
      {max}
      {whole}
      unit={i === value.length - 1 ? unit : ''}
      onchange={(x) => onchange(value.map((each, k) => (k === i ? x : each)))}
      {onsettle}
    />
  {/each}
</div>

<style>
  .line {
    display: flex;
    gap: 7px;
    height: 17px;
    font-size: 11.5px;
    line-height: 17px;
    white-space: nowrap;
  }
  .line span {
    font-family: var(--font-mono, monospace);
  }
</style>
