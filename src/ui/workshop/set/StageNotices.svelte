<script lang="ts">
  import { changeProps } from '#core/edits/stageEdits.ts';
  import type { LeftOut } from '#stage/stage.ts';
  import type { Session } from '../state/session.svelte.ts';
  import { marked, type Mark } from './doToProp.ts';

  interface Props {
    session: Session;
    /** What keeps the stage from showing all of the set. */
    trouble: string | null;
    /** Materials that are left out since the graphics card gave up over them. */
    muted: readonly string[];
    /** How far the baking of distances has come. */
    baking: { readonly done: number; readonly of: number } | null;
    /** What the shader in hand wants of a set that has it not. */
    wants: string | null;
    oncancelbaking: () => void;
  }
  let { session, trouble, muted, baking, wants, oncancelbaking }: Props = $props();

  const broken = $derived((session.shaderState?.diagnostics.length ?? 0) > 0);
  /** More than these are told by their number alone. */
  const MOST = 3;
  const left = $derived(
    session.leftOut.flatMap((each) => {
      const prop = session.stage?.body.props.find(({ id }) => id === each.prop);
      return prop ? [{ ...each, name: prop.name }] : [];
    }),
  );
  const open = $derived(left.filter(({ isOpen }) => isOpen));
  const mark = (label: string, which: readonly LeftOut[], as: Mark) => {
    if (!session.stage) return;
    const ids = which.map(({ prop }) => prop);
    session.apply(changeProps(session.stage, ids, label, (prop) => marked(prop, as, true)));
    session.settle();
  };
  const named = (which: readonly { readonly name: string }[]) =>
    which.length === 1 ? which[0]!.name : `${which.length} props`;
</script>

{#if baking}
  <div
    class="absolute top-2.5 left-1/2 flex -translate-x-1/2 items-center gap-3 rounded-sm bg-[#000c] px-2.5 py-1 text-[12px] text-[#d8d8d8]"
    role="progressbar"
    aria-label="Distances to surfaces"
    aria-valuemin="0"
    aria-valuemax={baking.of}
    aria-valuenow={baking.done}
  >
    Distances to surfaces, {Math.round((100 * baking.done) / baking.of)} %
    <button class="underline hover:text-white" onclick={oncancelbaking}>Cancel</button>
  </div>
{/if}
<div class="pointer-events-none absolute top-10 right-3 flex max-w-[60%] flex-col items-end gap-1.5">
  {#if muted.length && !trouble}
    <div class="notice warns" role="alert">
      {muted.map((id) => session.part(id)?.name ?? id).join(', ')}
      {muted.length === 1 ? 'is' : 'are'} not drawn: the graphics card gave up over the shader. Once that is changed,
      it is drawn again.
    </div>
  {:else if wants && !trouble && !broken}
    <div class="notice">{wants}</div>
  {/if}
  {#if broken && !trouble}
    <div class="notice warns">The last picture that worked; see the step below.</div>
  {/if}
  {#if left.length}
    <div class="notice" role="group" aria-label="Left out of distances">
      {#each left.slice(0, MOST) as { prop, name, why } (prop)}
        <p>{name} does not count as near: {why}.</p>
      {/each}
      {#if left.length > MOST}<p>Nor do {left.length - MOST} more.</p>{/if}
      <p class="mt-0.5 flex justify-end gap-3">
        {#if open.length}
          <button
            title="Distances to an open mesh are never below 0: nothing is inside it"
            onclick={() => mark(`Count ${named(open)} by distance alone`, open, 'unsigned')}
            >Count {open.length === 1 ? 'it' : 'them'} by distance alone</button
          >
        {/if}
        <button onclick={() => mark(`Do not count ${named(left)}`, left, 'fieldless')}
          >Leave {left.length === 1 ? 'it' : 'them'} out</button
        >
      </p>
    </div>
  {/if}
</div>
{#if trouble}
  <div
    class="absolute top-1/2 left-1/2 w-[26rem] max-w-[90%] -translate-1/2 popup p-4 text-oxblood"
    role="alert"
  >
    {trouble}
  </div>
{/if}

<style>
  .notice {
    padding: 4px 10px;
    border-radius: 2px;
    background: #000c;
    color: #d8d8d8;
    font-size: 12px;
    pointer-events: auto;
  }
  .warns {
    color: #f0b0a8;
  }
  button {
    text-decoration: underline;
  }
  button:hover {
    color: #fff;
  }
</style>
