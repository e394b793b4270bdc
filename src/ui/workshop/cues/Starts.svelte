<script lang="ts">
  import Plus from '@lucide/svelte/icons/plus';
  import type { CueStart } from '#core/document/cues.ts';
  import type { StageDocument } from '#core/document/project.ts';
  import type { RehearsalRemark } from '#core/time/remarksOn.ts';
  import StartLine from './StartLine.svelte';

  /** What starts a cue or a flourish. */
  interface Props {
    /** What is started. */
    of: {
      readonly id: string;
      readonly name: string;
      readonly starts: readonly CueStart[];
      readonly off?: boolean;
    };
    set: StageDocument;
    remarks: readonly RehearsalRemark[];
    onchange: (label: string, starts: readonly CueStart[], merge?: string) => void;
    /** Whether it listens for them. */
    onlisten: (label: string, on: boolean) => void;
    onsettle: () => void;
  }
  let { of, set, remarks, onchange, onlisten, onsettle }: Props = $props();
  const { starts } = $derived(of);
  const remarkOf = (i: number): string | null =>
    remarks.find((each) => each.of.id === of.id && each.of.start === i)?.message ?? null;
</script>

<div class="mt-2 mb-1 flex items-center">
  <h4 class="flex-1 text-third">Started by</h4>
  {#if starts.length}
    <label
      class="mr-2 flex items-center gap-1 text-[12px] text-second"
      title="Off, it is started by Play and by scripts alone"
      ><input
        type="checkbox"
        class="accent-ink"
        checked={!of.off}
        onchange={(event) => {
          const on = event.currentTarget.checked;
          onlisten(`${on ? 'Listen' : 'Do not listen'} for ${of.name}`, on);
        }}
      /> listens</label
    >
  {/if}
  {#if starts.length < 8}
    <button
      class="text-second hover:text-ink"
      aria-label="Add a start"
      title="Something more that starts it"
      onclick={() => onchange('Add a start', [...starts, { by: 'key', key: 'Space' }])}
      ><Plus size={13} /></button
    >
  {/if}
</div>
{#each starts as start, i (i)}
  <StartLine
    {start}
    {set}
    cue={of.id}
    remark={remarkOf(i)}
    onchange={(wanted) => onchange('Change what starts it', starts.with(i, wanted), `start ${i}`)}
    {onsettle}
    onremove={() => onchange('Take a start away', starts.toSpliced(i, 1))}
  />
{:else}
  <p class="text-[12px] text-second">Nothing yet: by hand with Play, or by a script.</p>
{/each}
