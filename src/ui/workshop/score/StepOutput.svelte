<script lang="ts">
  import type { MotifOutput } from '#core/document/motif.ts';

  interface Props {
    outputs: readonly MotifOutput[];
    /** The first unless said. */
    value: string | undefined;
    onoutput: (name: string) => void;
  }
  let { outputs, value, onoutput }: Props = $props();
</script>

<label class="output mono"
  ><span>gives</span>
  <select
    value={value ?? outputs[0]?.name}
    onclick={(event) => event.stopPropagation()}
    onkeydown={(event) => event.stopPropagation()}
    onchange={(event) => onoutput(event.currentTarget.value)}
  >
    {#each outputs as output (output.id)}<option value={output.name}>{output.name}</option>{/each}
  </select></label
>

<style>
  .output {
    display: flex;
    gap: 5px;
    height: 17px;
    color: var(--third);
  }
  .output select {
    background: transparent;
    color: var(--ink);
    font: inherit;
  }
</style>
