<script lang="ts">
  /** Nine places of a box, seen from the front, for its own zero; how deep it lies stays. */
  interface Props {
    label: string;
    value: readonly number[];
    onchange: (value: readonly number[]) => void;
  }
  let { label, value, onchange }: Props = $props();
  const COLUMNS = ['left', 'middle', 'right'];
  const ROWS = ['top', 'middle', 'bottom'];
</script>

<div class="nine" role="radiogroup" aria-label="{label}, seen from the front">
  {#each ROWS as row, i (row)}
    {#each COLUMNS as column, k (column)}
      {@const at = [k / 2, 1 - i / 2]}
      <button
        role="radio"
        aria-checked={value[0] === at[0] && value[1] === at[1]}
        aria-label="{row}, {column}"
        title="Its own zero at the {row}, {column}"
        onclick={() => onchange([at[0]!, at[1]!, value[2]!])}
      ></button>
    {/each}
  {/each}
</div>

<style>
  .nine {
    align-self: center;
    display: grid;
    grid-template: repeat(3, 8px) / repeat(3, 8px);
    gap: 2px;
  }
  button {
    border: 1px solid var(--rule);
    border-radius: 1px;
    background: var(--page);
  }
  button:hover {
    border-color: var(--ink);
  }
  button[aria-checked='true'] {
    border-color: var(--ink);
    background: var(--ink);
  }
</style>
