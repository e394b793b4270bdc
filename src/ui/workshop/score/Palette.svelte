<script lang="ts">
  import { Popover } from 'bits-ui';
  import { onMount, untrack } from 'svelte';
  import SearchList from '../../parts/SearchList.svelte';
  import type { Step } from '#core/document/shader.ts';
  import { addStep } from '#core/edits/shaderEdits.ts';
  import type { ScorePart, Session } from '../state/session.svelte.ts';
  import { newStepId } from './doToStep.ts';
  import { findItems, type PaletteItem } from './paletteItems.ts';
  import { addStop, focusStep, rowStop, stopOf } from './stops.ts';

  interface Props {
    session: Session;
    score: ScorePart;
    /** Asks to write the code of a step that was just made. */
    oncode: (step: string) => void;
  }
  let { session, score, oncode }: Props = $props();

  const index = $derived(score.body.strands.findIndex(({ id }) => id === session.asking?.strand));
  const strand = $derived(score.body.strands[index]);
  /** Where the step is put: behind the last unless a card asked. */
  const at = $derived(session.asking?.at ?? strand?.steps.length ?? 0);
  /** The card that the step will follow, or the strand's own button; a collapsed strand has but its row. */
  let anchor = $state.raw<HTMLElement | null>(null);
  const open = $derived(strand !== undefined && anchor !== null);
  $effect(() => {
    const card = session.asking?.at === null ? undefined : strand?.steps[at - 1];
    const keys = strand ? [...(card ? [card.id] : []), addStop(strand.id), rowStop(strand.id)] : [];
    anchor = untrack(() => keys.map(stopOf).find((each) => each !== undefined) ?? null);
    anchor?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  });

  /** Made while nothing else is done, so that it need not be when it is asked for. */
  let ready = $state(false);
  onMount(() => {
    const idle = window.requestIdleCallback?.(() => (ready = true));
    return () => idle !== undefined && window.cancelIdleCallback(idle);
  });

  const close = () => session.askFor(null);
  const pick = (item: PaletteItem) => {
    // It is still there for a moment when it has been closed.
    if (!open) return;
    const step: Step = { id: newStepId(), ...item.step };
    session.apply(addStep(score.id, { strand: index, step: at }, step));
    session.select(step.id);
    close();
    if (item.key === 'code') oncode(step.id);
  };
</script>

<Popover.Root bind:open={() => open, (wanted) => wanted || close()}>
  <Popover.Portal>
    <Popover.Content
      forceMount
      customAnchor={anchor}
      sideOffset={6}
      align="start"
      collisionPadding={8}
      aria-label="Operators"
      onInteractOutside={(event) => {
        // Its own button closes it by itself.
        if (anchor?.contains(event.target as Node)) event.preventDefault();
      }}
      onCloseAutoFocus={(event) => {
        event.preventDefault();
        if (session.selected) focusStep(session.selected);
      }}
    >
      {#snippet child({ wrapperProps, props })}
        {#if open || ready}
          <div {...wrapperProps} hidden={!open}>
            <div {...props} class="popup w-[30rem]">
              <SearchList
                find={(wanted) =>
                  findItems(wanted, session.library, score.kind === 'motif' ? score.id : null)}
                onpick={pick}
                onescape={close}
                {open}
                holds="operators"
                placeholder="What should it do? noise, threshold, fade…"
                height="max-h-64"
              >
                {#snippet row({ name, summary, family })}
                  <span class="w-28 flex-none truncate font-semibold" title={name}>{name}</span>
                  <span class="min-w-0 flex-1 text-[12px] text-second">{summary}</span>
                  <span class="flex-none text-[11px] text-third">{family}</span>
                {/snippet}
                {#snippet none(wanted)}Nothing does “{wanted}”. Begin with <b>value</b> and write an expression.{/snippet}
                {#snippet more({ signature, formula, cost, source })}
                  {#if signature}
                    <div class="border-t border-hairline px-3 py-1.5 text-[11.5px] text-second">
                      <p class="mono">{signature}</p>
                      {#if formula}<p class="mono text-third">{formula}</p>{/if}
                      <p class="text-third">{[cost, source].filter(Boolean).join(' · ')}</p>
                    </div>
                  {/if}
                {/snippet}
              </SearchList>
            </div>
          </div>
        {/if}
      {/snippet}
    </Popover.Content>
  </Popover.Portal>
</Popover.Root>
