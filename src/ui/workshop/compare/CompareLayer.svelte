<script lang="ts">
  import X from '@lucide/svelte/icons/x';
  import { onMount, untrack } from 'svelte';
  import { tapKey } from '#core/compileShader.ts';
  import { createStage } from '#stage/createStage.ts';
  import StageCanvas from '../set/StageCanvas.svelte';
  import type { Seen, Stage } from '#stage/stage.ts';
  import { toast } from 'svelte-sonner';
  import { dressStage } from '../../parts/drawSet.ts';
  import { commitDeed } from '../parts/doToPart.ts';
  import type { Session } from '../state/session.svelte.ts';
  import { stageView } from '../state/views.ts';
  import type { Comparing, Other } from './comparing.svelte.ts';

  /** The other side of a comparison, drawn over the stage up to an edge that can be moved. */
  let {
    session,
    comparing,
    costs,
    seen,
    frames,
    time,
    width,
    height,
  }: {
    session: Session;
    comparing: Comparing;
    /** What each material costs, as a share of the budget. */
    costs: ReadonlyMap<string, number>;
    /** Where the stage is seen from. */
    seen: () => Seen | null;
    /** Counts its frames: another may be seen from elsewhere. */
    frames: number;
    time: number;
    width: number;
    height: number;
  } = $props();

  let layer: HTMLDivElement;
  let stage = $state.raw<Stage | null>(null);
  let trouble = $state<string | null>(null);
  onMount(() => {
    try {
      stage = createStage(
        { onTrouble: (sentence) => (trouble = sentence) },
        // What is far was baked for the stage itself.
        false,
      );
    } catch {
      trouble = 'The browser gives no second picture to compare with.';
    }
    return () => stage?.dispose();
  });
  $effect(() => {
    if (stage && width && height) stage.resize(width, height, window.devicePixelRatio || 1);
  });
  $effect(() => {
    const { scenery } = comparing;
    if (!stage || !scenery) return;
    dressStage(stage, scenery.set, scenery.looks);
    stage.setLayers(scenery.layers);
    const from = untrack(seen);
    if (from) stage.look(from);
  });
  $effect(() => {
    void frames;
    const from = seen();
    if (stage && from) {
      const now = stage.seen();
      const same = [...from.position, ...from.target].every(
        (x, i) => Math.abs(x - [...now.position, ...now.target][i]!) < 1e-6,
      );
      if (!same) stage.look(from);
    }
  });
  $effect(() => stage?.setTime(time));
  $effect(() => {
    const { shown, material } = session;
    const look = comparing.scenery?.looks.find((each) => each.material === material?.id);
    const taps = look?.shader.taps;
    stage?.setView(
      stageView(
        shown,
        material?.id ?? null,
        (strand, step) => taps?.get(tapKey(strand, step)) ?? 0,
        costs,
        session.cut,
      ),
    );
  });

  const current = $derived(
    comparing.other?.kind === 'kept'
      ? (comparing.kept.find(({ id }) => comparing.other?.kind === 'kept' && id === comparing.other.id) ??
          null)
      : null,
  );
  const choices = $derived(comparing.choices);
  const valueOf = (other: Other | null): string =>
    other === null
      ? ''
      : other.kind === 'without'
        ? JSON.stringify(other.what)
        : other.kind === 'kept'
          ? `kept ${other.id}`
          : 'take';
  const choose = (value: string): void => {
    if (value.startsWith('kept ')) return comparing.choose({ kind: 'kept', id: Number(value.slice(5)) });
    if (value === 'take') return comparing.choose({ kind: 'take' });
    const found = choices.find(({ what }) => JSON.stringify(what) === value);
    if (found) comparing.choose({ kind: 'without', what: found.what });
  };
  const takeBack = (id: number): void => {
    const changes = comparing.changesBack(id);
    if (!changes.length) return void toast('Everything stands as it was kept.');
    void commitDeed(session, `Go back to ${comparing.word}`, changes);
  };

  const move = (event: PointerEvent): void => {
    const { left, width: wide } = layer.getBoundingClientRect();
    comparing.setEdge((event.clientX - left) / wide);
  };
  const percent = $derived(Math.round(comparing.edge * 100));
  const KEYS: Readonly<Record<string, number>> = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 };
</script>

<div
  bind:this={layer}
  class="pointer-events-none absolute inset-0"
  class:invisible={!comparing.scenery}
  style:clip-path="inset(0 {(1 - comparing.edge) * 100}% 0 0)"
>
  {#if stage}<StageCanvas {stage} id="compared" label="The other side of the comparison" />{/if}
</div>
{#if comparing.other && !comparing.isHeld}
  <div
    class="edge"
    style:left="{comparing.edge * 100}%"
    role="slider"
    tabindex="0"
    aria-label="Edge of the comparison"
    aria-valuemin="0"
    aria-valuemax="100"
    aria-valuenow={percent}
    aria-valuetext="{comparing.word} over {percent} % of the width, now over the rest"
    onpointerdown={(event) => {
      event.currentTarget.setPointerCapture(event.pointerId);
      event.stopPropagation();
    }}
    onpointermove={(event) => event.currentTarget.hasPointerCapture(event.pointerId) && move(event)}
    onkeydown={(event) => {
      const way = KEYS[event.key];
      if (way === undefined && event.key !== 'Home' && event.key !== 'End') return;
      event.preventDefault();
      event.stopPropagation();
      if (way === undefined) comparing.setEdge(event.key === 'Home' ? 0 : 1);
      else comparing.setEdge(comparing.edge + (way * (event.shiftKey ? 10 : 1)) / 100);
    }}
  ></div>
  <div
    class="absolute top-9 left-3 flex h-7 items-center gap-2 rounded-md bg-[#111d] px-2 text-[12px] text-[#d8d8d8]"
    role="group"
    aria-label="Comparison"
  >
    <select
      class="choice max-w-44"
      aria-label="Compare now with"
      value={valueOf(comparing.other)}
      onchange={(event) => choose(event.currentTarget.value)}
    >
      {#if comparing.kept.length}
        <optgroup label="kept">
          {#each comparing.kept as { id, name } (id)}<option value="kept {id}">{name}</option>{/each}
        </optgroup>
      {/if}
      {#if comparing.takeBeside !== null || comparing.other.kind === 'take'}
        <optgroup label="the take beside it">
          <option value="take">{comparing.takeBeside ?? 'a take that is gone'}</option>
        </optgroup>
      {/if}
      <optgroup label="now, without">
        {#each choices as { what, word } (word)}<option value={JSON.stringify(what)}>without {word}</option
          >{/each}
      </optgroup>
    </select>
    <span class="text-[#8f8f8f]">| now</span>
    {#if current}
      {@const { id, name } = current}
      <input
        class="w-32 bg-transparent text-[#d8d8d8]"
        aria-label="Name of what is kept"
        maxlength="60"
        value={name}
        onchange={(event) => comparing.rename(id, event.currentTarget.value)}
      />
      <button
        class="hover:text-white"
        title="Set the documents back to how they stood"
        onclick={() => takeBack(id)}>Go back to it</button
      >
      <button class="hover:text-white" onclick={() => comparing.forget(id)}>Forget</button>
    {/if}
    <button class="hover:text-white" title="Keep how it stands now" onclick={comparing.keep}>Keep now</button>
    <button class="hover:text-white" aria-label="End the comparison" onclick={() => comparing.choose(null)}
      ><X size={13} /></button
    >
  </div>
{/if}
{#if comparing.refusal || trouble}
  <p class="absolute top-18 left-3 rounded-sm bg-[#000c] px-2 py-0.5 text-[12px] text-[#f0b0a8]" role="alert">
    {comparing.refusal ?? trouble}
  </p>
{:else if comparing.isHeld}
  <p class="absolute top-9 left-3 rounded-sm bg-[#000c] px-2 py-0.5 text-[12px] text-[#d8d8d8]">
    {comparing.word}
  </p>
{/if}

<style>
  .edge {
    position: absolute;
    top: 0;
    bottom: 0;
    width: 13px;
    transform: translateX(-6px);
    cursor: ew-resize;
    touch-action: none;
  }
  .edge::before {
    position: absolute;
    top: 0;
    bottom: 0;
    left: 5px;
    width: 2px;
    background: #fff;
    content: '';
  }
  .edge::after {
    position: absolute;
    top: calc(50% - 14px);
    left: 0;
    width: 12px;
    height: 28px;
    border-radius: 2px;
    background: #faf8f3;
    content: '';
  }
  .choice {
    background: transparent;
    color: inherit;
  }
  .choice option,
  .choice optgroup {
    background: #222;
  }
</style>
