<script lang="ts">
  import { untrack } from 'svelte';
  import type { Diagnostic } from '#core/lower/lowerShader.ts';

  interface Props {
    /** What the step is called in a sentence. */
    word: string;
    note: string;
    mistakes: readonly Diagnostic[];
    /** What is worth knowing and not wrong. */
    notes: readonly Diagnostic[];
    /** True while the note is being written. */
    writing: boolean;
    onnote: (note: string) => void;
    onfix: (mistake: Diagnostic) => void;
    /** The note is written, or left as it was: the keys are the card's again. */
    ondone: () => void;
    /** The step's code is asked for. */
    onopen: () => void;
  }
  let { word, note, mistakes, notes, writing = $bindable(), onnote, onfix, ondone, onopen }: Props = $props();
  let text = $state('');
  $effect.pre(() => {
    if (writing) text = untrack(() => note);
  });
  const commitNote = () => {
    if (!writing) return;
    writing = false;
    if (text.trim() !== note) onnote(text.trim());
  };
</script>

{#if writing}
  <textarea
    class="field note-field"
    rows="2"
    maxlength="500"
    aria-label="Note on {word}"
    bind:value={text}
    {@attach (field: HTMLTextAreaElement) => field.focus()}
    onblur={commitNote}
    onkeydown={(event) => {
      event.stopPropagation();
      const isDone = event.key === 'Enter' && !event.shiftKey;
      if (!isDone && event.key !== 'Escape') return;
      event.preventDefault();
      if (isDone) commitNote();
      else writing = false;
      ondone();
    }}></textarea>
{:else if note}
  <button class="note" title="Change the note" onclick={() => (writing = true)}>{note}</button>
{/if}
{#each mistakes as mistake, i (i)}
  <p class="mistake" class:follows={mistake.follows} role="alert">
    {#if mistake.argument}<b class="mono">{mistake.argument}</b>{/if}
    {mistake.message}
    {#if mistake.argument === 'code'}<button class="underline" onclick={onopen}>show</button
      >{:else if mistake.fix}<button class="underline" onclick={() => onfix(mistake)}
        >{mistake.fix.label}</button
      >{/if}
  </p>
{/each}
{#each notes as said, i (i)}<p class="mistake follows">{said.message}</p>{/each}

<style>
  .note {
    display: block;
    width: 0;
    min-width: 100%;
    margin-top: 3px;
    overflow: hidden;
    color: var(--second);
    font-size: 11.5px;
    font-style: italic;
    text-align: left;
    text-overflow: ellipsis;
  }
  .note-field {
    width: 100%;
    min-width: 180px;
    height: auto;
    margin-top: 3px;
    font-size: 12px;
  }
  .mistake {
    max-width: 340px;
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
