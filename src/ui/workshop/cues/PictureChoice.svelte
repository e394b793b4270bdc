<script lang="ts">
  import Plus from '@lucide/svelte/icons/plus';
  import X from '@lucide/svelte/icons/x';
  import { removeChoice } from '#core/edits/cueEdits.ts';
  import type { Slot } from '#core/time/slots.ts';
  import type { Session } from '../state/session.svelte.ts';
  import { addPicture } from './doToCue.ts';

  /** The pictures that a texture is chosen from: one is chosen, more are added, and one is taken out. */
  interface Props {
    session: Session;
    slot: Slot;
    chosen: number;
    onchoose: (place: number) => void;
  }
  let { session, slot, chosen, onchoose }: Props = $props();
  const place = $derived(Math.min(Math.max(Math.round(chosen), 0), (slot.pictures?.length ?? 1) - 1));
  const remove = () => {
    if (!session.stage) return;
    session.apply(removeChoice(session.stage, slot.target, place));
    session.settle();
  };
</script>

<div class="flex flex-wrap items-center gap-1" role="radiogroup" aria-label="Picture of {slot.name}">
  {#each slot.pictures ?? [] as sha, i (sha)}
    <button
      class="size-9 overflow-hidden border-2 {i === place ? 'border-ink' : 'border-transparent'}"
      role="radio"
      aria-checked={i === place}
      aria-label="Picture {i + 1}"
      onclick={() => onchoose(i)}><img class="size-full object-cover" src="/api/blobs/{sha}" alt="" /></button
    >
  {/each}
  <label
    class="flex size-9 cursor-pointer items-center justify-center border border-rule text-second hover:text-ink"
    title="Add a PNG, JPEG or WebP picture"
    ><Plus size={13} /><input
      type="file"
      class="sr-only"
      accept="image/png,image/jpeg,image/webp"
      aria-label="Add a picture to choose"
      onchange={(event) => {
        const file = event.currentTarget.files?.[0];
        event.currentTarget.value = '';
        if (file) void addPicture(session, slot, file, onchoose);
      }}
    /></label
  >
  {#if (slot.pictures?.length ?? 0) > 1}
    <button class="text-third hover:text-ink" aria-label="Take picture {place + 1} out" onclick={remove}
      ><X size={12} /></button
    >
  {/if}
</div>
