<script lang="ts">
  import Copy from '@lucide/svelte/icons/copy';
  import Trash from '@lucide/svelte/icons/trash-2';
  import type { Reference } from '#core/document/project.ts';
  import { chordOf } from '../commands/chords.ts';
  import type { Session } from '../state/session.svelte.ts';
  import { changeReference, duplicateReference, removeReference } from './doToReference.ts';

  /** Pictures to look at beside the set, or faded over it. */
  let { session, width, height }: { session: Session; width: number; height: number } = $props();

  const all = $derived(session.stage?.body.references ?? []);
  /** Where the pointer took hold, of which picture, and whether it moves or sizes it. */
  let drag: {
    readonly from: Reference;
    readonly x: number;
    readonly y: number;
    readonly sizes: boolean;
  } | null = null;

  const ondown = (event: PointerEvent, from: Reference, sizes: boolean): void => {
    if (event.button !== 0) return;
    event.stopPropagation();
    (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
    session.holdReference(from.id);
    drag = { from, x: event.clientX, y: event.clientY, sizes };
  };
  const onmove = (event: PointerEvent): void => {
    if (!drag) return;
    const { from, x, y, sizes } = drag;
    const [dx, dy] = [(event.clientX - x) / width, (event.clientY - y) / height];
    if (sizes) changeReference(session, from.id, { width: from.width + 2 * dx }, 'Size a reference', 'size');
    else
      changeReference(
        session,
        from.id,
        { at: [from.at[0] + dx, from.at[1] + dy] },
        'Move a reference',
        'move',
      );
  };
  const onup = (): void => {
    if (drag) session.settle();
    drag = null;
  };
  const WAYS: Readonly<Record<string, readonly [number, number]>> = {
    ...{ ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] },
  };
  const onkeydown = (event: KeyboardEvent, each: Reference): void => {
    const chord = chordOf(event);
    const way = WAYS[event.key];
    if (way) {
      const far = event.shiftKey ? 0.05 : 0.005;
      const at: [number, number] = [each.at[0] + way[0] * far, each.at[1] + way[1] * far];
      changeReference(session, each.id, { at }, 'Move a reference', 'move');
    } else if (chord === '+' || chord === '-')
      changeReference(
        session,
        each.id,
        { width: each.width * (chord === '+' ? 1.1 : 1 / 1.1) },
        'Size a reference',
        'size',
      );
    else if (chord === 'D') duplicateReference(session, each);
    else if (chord === 'Delete') removeReference(session, each);
    else if (chord === 'Escape') session.holdReference(null);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
</script>

{#each session.hidesReferences ? [] : all as each (each.id)}
  {@const isHeld = session.reference === each.id}
  <div
    class="absolute"
    style="left: {each.at[0] * 100}%; top: {each.at[1] * 100}%; width: {each.width *
      100}%; transform: translate(-50%, -50%)"
  >
    <div
      class="picture"
      class:held={isHeld}
      role="button"
      tabindex="0"
      aria-label="Reference {each.name}"
      aria-pressed={isHeld}
      title="{each.name}: drag to move, + and − to size, D to duplicate, Delete to take off"
      onpointerdown={(event) => ondown(event, each, false)}
      onpointermove={onmove}
      onpointerup={onup}
      onlostpointercapture={onup}
      onfocus={() => session.holdReference(each.id)}
      onkeydown={(event) => onkeydown(event, each)}
      onkeyup={(event) => WAYS[event.key] && session.settle()}
      onwheel={(event) => {
        event.preventDefault();
        event.stopPropagation();
        changeReference(
          session,
          each.id,
          { width: each.width * Math.exp(-event.deltaY / 600) },
          'Size a reference',
          'size',
        );
      }}
    >
      <img src="/api/blobs/{each.picture}" alt="" draggable="false" style="opacity: {each.fade}" />
      {#if isHeld}
        <span
          class="corner"
          role="presentation"
          onpointerdown={(event) => ondown(event, each, true)}
          onpointermove={onmove}
          onpointerup={onup}
        ></span>
      {/if}
    </div>
    {#if isHeld}
      <div class="tools" role="group" aria-label="Reference {each.name}, what can be done">
        <input
          class="w-24 bg-transparent"
          aria-label="Name of the reference"
          maxlength="100"
          value={each.name}
          onchange={(event) => {
            const name = event.currentTarget.value.trim();
            if (name) changeReference(session, each.id, { name }, 'Rename a reference');
            session.settle();
          }}
        />
        <label class="flex items-center gap-1"
          >fade <input
            type="range"
            class="w-20 accent-[#f1ede4]"
            min="0"
            max="1"
            step="0.05"
            aria-label="Fade of {each.name}"
            value={each.fade}
            oninput={(event) =>
              changeReference(
                session,
                each.id,
                { fade: Number(event.currentTarget.value) },
                'Fade a reference',
                'fade',
              )}
            onchange={() => session.settle()}
          /></label
        >
        <button
          aria-label="Duplicate {each.name}"
          title="Duplicate"
          onclick={() => duplicateReference(session, each)}><Copy size={13} /></button
        >
        <button
          aria-label="Take off {each.name}"
          title="Take off"
          onclick={() => removeReference(session, each)}><Trash size={13} /></button
        >
      </div>
    {/if}
  </div>
{/each}

<style>
  .picture {
    position: relative;
    cursor: move;
    touch-action: none;
  }
  .picture img {
    display: block;
    width: 100%;
    user-select: none;
  }
  .held {
    outline: 1px solid #f1ede4;
  }
  .corner {
    position: absolute;
    right: -6px;
    bottom: -6px;
    width: 12px;
    height: 12px;
    background: #f1ede4;
    cursor: nwse-resize;
  }
  .tools {
    display: flex;
    position: absolute;
    top: 100%;
    left: 0;
    gap: 8px;
    align-items: center;
    margin-top: 4px;
    padding: 2px 8px;
    border-radius: 3px;
    background: #111d;
    color: #d8d8d8;
    font-size: 12px;
    white-space: nowrap;
  }
</style>
