<script lang="ts">
  import Rotate3d from '@lucide/svelte/icons/rotate-3d';
  import type { Checking } from './checks/checking.svelte.ts';
  import type { Comparing } from './compare/comparing.svelte.ts';
  import type { Reach } from '#stage/stage.ts';
  import FieldPlane from './FieldPlane.svelte';
  import type { Session } from './state/session.svelte.ts';
  import { VIEWS } from './state/views.ts';

  /** Ways to see the set, at the stage’s foot, and what their marks mean. */
  interface Props {
    session: Session;
    comparing: Comparing;
    checking: Checking;
    onsheet: () => void;
    /** The box in which distances are looked at; null where nothing is in the field. */
    reach: Reach;
    /** Whether a step is shown alone. */
    tapped: boolean;
    /** Puts the camera back where the set has it. */
    onreset: () => void;
  }
  let { session, comparing, checking, onsheet, reach, tapped, onreset }: Props = $props();
  /** A button that stands by itself. */
  const APART = 'h-6 rounded-md bg-[#111d] px-2.5 text-[12px] font-semibold text-[#cfcfcf] hover:text-white';
  const legend = $derived.by((): string | null => {
    const view = VIEWS.find(({ kind }) => kind === session.shown.kind);
    if (!view || !('legend' in view)) return null;
    const { name, operations } = checking.budget;
    return view.kind === 'cost'
      ? checking.byMaterial.size
        ? `${view.legend} Here that is ${name}’s, ${operations / 4} a step.`
        : 'Counting what is on the stage…'
      : view.legend;
  });
</script>

{#if legend}
  <div
    class="absolute bottom-11 left-3 max-w-[calc(100%-17.5rem)] rounded-sm bg-[#000c] px-2 py-0.5 text-[12px] text-[#d8d8d8]"
    role="note"
  >
    {session.shown.kind === 'field' && !reach
      ? 'Nothing here is in the field: a prop’s row on the Stage tab has a switch for it.'
      : legend}
    {#if session.shown.kind === 'field' && reach}
      <FieldPlane cut={session.cut} {reach} onchange={session.setCut} />
    {/if}
  </div>
{/if}
<div class="absolute right-3 bottom-3 left-3 flex flex-wrap items-center gap-2">
  <div class="flex overflow-hidden rounded-md bg-[#111d]" role="group" aria-label="View">
    {#each VIEWS as { kind, name } (kind)}
      {@const on = session.shown.kind === kind}
      <button
        class="h-6 border-r border-[#333] px-2.5 text-[12px] font-semibold text-[#cfcfcf] last:border-0 hover:text-white"
        class:on
        aria-pressed={on}
        onclick={() => session.show({ kind })}>{name[0]!.toUpperCase() + name.slice(1)}</button
      >
    {/each}
    {#if tapped}
      <button
        class="on live h-6 px-2.5 text-[12px] font-semibold"
        aria-pressed="true"
        title="Escape returns to the finished picture"
        onclick={() => session.show({ kind: 'finished' })}
      >
        Tap ×
      </button>
      <button
        class="h-6 border-l border-[#333] px-2.5 text-[12px] font-semibold text-[#cfcfcf] hover:text-white"
        class:on={session.histogram}
        aria-pressed={session.histogram}
        title="How its numbers are spread over what is on screen"
        onclick={() => session.setHistogram(!session.histogram)}>Numbers</button
      >
    {/if}
  </div>
  <button
    class={APART}
    class:on={session.pinning}
    aria-pressed={session.pinning}
    title="Press on a prop to put a pin there: every step is read at it (X)"
    onclick={() => session.setPinning(!session.pinning)}>Pin</button
  >
  <button
    class={APART}
    class:on={comparing.other !== null}
    aria-pressed={comparing.other !== null}
    disabled={!session.stage}
    title="Keep how it stands now, and wipe between that and what comes; held, V shows the stage without what is in hand"
    onclick={() => (comparing.other ? comparing.choose(null) : comparing.begin())}>Compare</button
  >
  <button
    class={APART}
    disabled={!session.stage}
    title="A grid of pictures over a parameter, or over presets, choices or other operators"
    onclick={onsheet}>Sheet</button
  >
  {#if session.stage?.body.references?.length}
    <button
      class={APART}
      class:on={!session.hidesReferences}
      aria-pressed={!session.hidesReferences}
      title="Pictures looked at beside the set; they are not exported"
      onclick={() => session.setHidesReferences(!session.hidesReferences)}>References</button
    >
  {/if}
  <button
    class="flex h-6 w-6 items-center justify-center rounded-md bg-[#111d] text-[#cfcfcf] hover:text-white"
    title="Reset the camera"
    aria-label="Reset the camera"
    onclick={onreset}><Rotate3d size={14} /></button
  >
</div>

<style>
  .on {
    background: #f1ede4;
    color: #24211d;
  }
  .on.live {
    background: var(--limelight);
  }
</style>
