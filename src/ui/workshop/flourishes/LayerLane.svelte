<script lang="ts">
  import Eye from '@lucide/svelte/icons/eye';
  import EyeOff from '@lucide/svelte/icons/eye-off';
  import { LONGEST_LIFE, layerLength, type Flourish, type FlourishLayer } from '#core/document/flourishes.ts';
  import { onFrame } from '#core/edits/cueEdits.ts';
  import { formatNumber } from '#core/numbers/format.ts';
  import { createDrag } from '../../parts/drag.ts';
  import type { Cueing } from '../cues/cueing.svelte.ts';
  import type { Session } from '../state/session.svelte.ts';
  import { deleteLayer, doToLayer, duplicateLayer, switchLayer } from './doToFlourish.ts';

  /** A layer’s time as a bar: dragged it begins at another time, at its end it lives longer. */
  interface Props {
    session: Session;
    cueing: Cueing;
    flourish: Flourish;
    layer: FlourishLayer;
    /** When the flourish begins, on the ruler. */
    begins: number;
    x: (seconds: number) => number;
    /** Why it is not drawn as it says. */
    why: string | null;
  }
  let { session, cueing, flourish, layer, begins, x, why }: Props = $props();
  const isHeld = $derived(cueing.layer?.id === layer.id);
  const from = $derived(x(begins + layer.start));
  const to = $derived(x(begins + layer.start + layerLength(layer)));
  const lives = $derived(x(begins + layer.start + Math.min(layer.life, layerLength(layer))));

  type Times = Pick<FlourishLayer, 'start' | 'life'>;
  const put = ({ start, life }: Times): void =>
    doToLayer(
      session,
      flourish.id,
      layer.id,
      `Retime ${layer.name}`,
      (each) => ({
        ...each,
        start: Math.min(Math.max(start, 0), LONGEST_LIFE),
        life: Math.min(Math.max(life, 1 / 60), LONGEST_LIFE),
      }),
      'times',
    );
  let began: { readonly x: number; readonly times: Times; readonly end: boolean } | null = null;
  const dragging = createDrag<Times>(
    () => ({ start: layer.start, life: layer.life }),
    put,
    () => {
      began = null;
      session.settle();
    },
  );
  const grab = (event: PointerEvent, end: boolean): void => {
    cueing.holdFlourish(flourish, layer);
    began = { x: event.clientX, times: { start: layer.start, life: layer.life }, end };
    dragging.begin(event);
    event.stopPropagation();
  };
  const drag = (event: PointerEvent): void => {
    if (!dragging.held || !began) return;
    const by = (event.clientX - began.x) / cueing.perSecond;
    const { start, life } = began.times;
    if (began.end) put({ start, life: onFrame(life + by, cueing.frames) });
    else put({ start: onFrame(start + by, cueing.frames), life });
  };
  const onkeydown = (event: KeyboardEvent): void => {
    const way = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    const frame = 1 / (cueing.frames || 60);
    if (event.key === 'Escape' && dragging.held) dragging.cancel();
    else if (way) {
      const by = way * frame * (event.shiftKey ? 10 : 1);
      const { start, life } = layer;
      if (event.altKey) put({ start, life: onFrame(life + by, cueing.frames) });
      else put({ start: onFrame(start + by, cueing.frames), life });
      session.settle();
    } else if (event.key === 'd') duplicateLayer(session, cueing, flourish, layer);
    else if (event.key === 'h') switchLayer(session, flourish, layer);
    else if (event.key === 'Delete') deleteLayer(session, flourish, layer);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
</script>

<div class="lane" data-layer={layer.name}>
  <div
    class="bar"
    class:held={isHeld}
    class:off={layer.off}
    style:left="{from}px"
    style:width="{Math.max(to - from, 6)}px"
    role="slider"
    tabindex="0"
    aria-label="{layer.name}, a layer of {flourish.name}"
    aria-valuenow={layer.start}
    aria-valuetext="from {formatNumber(layer.start)} s, {formatNumber(layer.life)} s long"
    title="Drag it to another time, its end to another length. Arrows; with Alt its end; D, H, Delete"
    onfocus={() => cueing.holdFlourish(flourish, layer)}
    onpointerdown={(event) => grab(event, false)}
    onpointermove={drag}
    onpointerup={dragging.release}
    onpointercancel={dragging.cancel}
    {onkeydown}
  >
    <div class="lives" style:width="{Math.max(lives - from, 6)}px"></div>
    <!-- svelte-ignore a11y_no_static_element_interactions -->
    <span
      class="end"
      style:left="{Math.max(lives - from, 6) - 4}px"
      onpointerdown={(event) => grab(event, true)}
      onpointermove={drag}
      onpointerup={dragging.release}
      onpointercancel={dragging.cancel}
    ></span>
  </div>
  <!-- Beside its bar, or in it where that is long. -->
  <div class="name" style:left="{to - from > 220 ? from + 8 : to + 8}px">
    <button
      class="text-second hover:text-ink"
      aria-label="{layer.off ? 'Show' : 'Hide'} {layer.name}"
      title="{layer.off ? 'Show' : 'Hide'} it (H)"
      onclick={() => switchLayer(session, flourish, layer)}
      >{#if layer.off}<EyeOff size={12} />{:else}<Eye size={12} />{/if}</button
    >
    <button class="hover:underline" onclick={() => cueing.holdFlourish(flourish, layer)}
      >{layer.name} <span class="text-third">{layer.kind}</span></button
    >
    {#if why}<span class="text-oxblood">{why}</span>{/if}
  </div>
</div>

<style>
  .lane {
    position: relative;
    height: 24px;
  }
  .bar {
    position: absolute;
    top: 4px;
    height: 16px;
    border: 1px solid var(--rule);
    background: var(--sheet);
    cursor: grab;
    touch-action: none;
  }
  .lives {
    position: absolute;
    inset: 0 auto 0 0;
    background: color-mix(in srgb, var(--ink) 22%, transparent);
  }
  .bar.held {
    border-color: var(--ink);
    outline: 1px solid var(--ink);
  }
  .bar.off {
    opacity: 0.4;
  }
  .end {
    position: absolute;
    top: 0;
    bottom: 0;
    width: 8px;
    cursor: ew-resize;
    touch-action: none;
  }
  .name {
    position: absolute;
    top: 3px;
    display: flex;
    gap: 5px;
    align-items: center;
    font-size: 12px;
    white-space: nowrap;
  }
</style>
