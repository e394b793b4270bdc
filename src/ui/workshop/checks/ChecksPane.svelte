<script lang="ts">
  import { CHECKS } from '#core/analyse/findAll.ts';
  import type { Place } from '#core/analyse/scene.ts';
  import { addGuarantee, askAgain, silence, type Answering } from '#core/edits/checkEdits.ts';
  import type { Guarantee } from '#core/document/guarantees.ts';
  import type { Part } from '#core/document/project.ts';
  import { toast } from 'svelte-sonner';
  import { newId } from '../../parts/newId.ts';
  import type { PinWatch } from '../pins/watchPins.svelte.ts';
  import type { Session } from '../state/session.svelte.ts';
  import type { Checking, FoundHere } from './checking.svelte.ts';
  import Costs from './Costs.svelte';
  import { goTo } from './goTo.ts';
  import Guarantees from './Guarantees.svelte';

  let { session, checking, pins }: { session: Session; checking: Checking; pins: PinWatch } = $props();

  const about = new Map(CHECKS.map((each) => [each.name, each]));
  /** What is found, with the check that found it named once. */
  const groups = $derived.by(() => {
    const made = new Map<string, FoundHere[]>();
    for (const each of checking.open) made.set(each.check, [...(made.get(each.check) ?? []), each]);
    return [...made];
  });
  let showsAnswered = $state(false);
  /** The finding that is being answered. */
  let answering = $state<string | null>(null);
  let note = $state('');
  const keyOf = (found: FoundHere): string => `${found.check} ${found.part} ${found.at}`;
  const holder = (found: FoundHere): Answering | null => {
    const part = session.part(found.answeredIn);
    return part?.kind === 'shader' || part?.kind === 'motif' || part?.kind === 'stage' ? part : null;
  };
  const leave = (found: FoundHere): void => {
    const part = holder(found);
    if (part) {
      session.apply(silence(part, { check: found.check, at: found.at, note: note.trim() }));
      session.settle();
    }
    answering = null;
    note = '';
  };
  const again = (found: FoundHere): void => {
    const part = holder(found);
    if (!part) return;
    session.apply(askAgain(part, found));
    session.settle();
  };
  /** What a check can be kept from finding again by. */
  const promiseOf = (check: string): Omit<Guarantee, 'id'> | null =>
    check === 'not-a-number' || check === 'zero-divisor'
      ? { kind: 'numbers' }
      : check === 'over-budget'
        ? { kind: 'cost', budget: checking.budget.name }
        : null;
  const isPromised = (part: Part | undefined, promise: Omit<Guarantee, 'id'>): boolean =>
    part?.kind === 'shader' &&
    (part.body.guarantees ?? []).some(
      ({ kind, budget }) => kind === promise.kind && budget === promise.budget,
    );
  const promise = (found: FoundHere): void => {
    const part = session.part(found.part);
    const wanted = promiseOf(found.check);
    if (part?.kind !== 'shader' || !wanted) return;
    session.apply(addGuarantee(part, { id: `guarantee-${newId()}`, ...wanted }));
    session.settle();
    toast(`${part.name} has the guarantee now, and it is measured with every change.`);
  };
  const fix = (found: FoundHere): void => {
    if (!found.fix) return;
    session.apply(found.fix);
    session.settle();
  };
  const placeName = ({ part: id, place }: FoundHere): string => {
    const part = session.part(id);
    const name = part?.name ?? '';
    const inside = (told: string): string => `${name}, ${told}`;
    const at: Place = place;
    if (at.kind === 'prop' && part?.kind === 'stage')
      return inside(part.body.props.find((each) => each.id === at.prop)?.name ?? 'a prop');
    if (at.kind === 'line') return inside(`line ${at.line}`);
    if (part?.kind !== 'shader' && part?.kind !== 'motif') return name;
    if (at.kind === 'step') {
      const strand = part.body.strands.find((each) => each.id === at.strand);
      const step = strand?.steps.find((each) => each.id === at.step);
      return inside(`${strand?.name ?? ''} · ${step?.operator ?? ''}`);
    }
    if (at.kind === 'strand')
      return inside(part.body.strands.find((each) => each.id === at.strand)?.name ?? '');
    if (at.kind === 'parameter')
      return inside(part.body.parameters.find((each) => each.id === at.parameter)?.name ?? '');
    return at.kind === 'output' ? inside(at.output) : name;
  };
</script>

<div class="flex h-full">
  <section class="min-w-0 flex-1 overflow-y-auto px-4 py-2.5" aria-label="What checks find">
    {#if checking.refusal}
      <p class="text-oxblood" role="alert">{checking.refusal}</p>
    {:else if !checking.isKnown}
      <p class="text-second">Looking at {session.stage?.name ?? 'the shader'}…</p>
    {:else if !groups.length}
      <p class="text-second">
        Nothing is wrong or doubtful on {session.stage?.name ?? 'the stage'}: {CHECKS.length} checks, of every shader
        worn there.
      </p>
    {/if}
    {#each groups as [name, list] (name)}
      <h3 class="pt-1 font-semibold">{about.get(name)?.title ?? name}</h3>
      <p class="max-w-[52rem] text-[12px] text-third">{about.get(name)?.why ?? ''}</p>
      <ul class="pt-0.5 pb-2">
        {#each list as found (keyOf(found))}
          <li class="border-t border-hairline py-1.5 first:border-t-0" data-check={found.check}>
            <div class="flex items-baseline gap-3">
              <button
                class="flex-none text-left font-medium underline decoration-rule underline-offset-2 hover:decoration-ink"
                title="Go there"
                onclick={() => void goTo(session, found.part, found.place)}>{placeName(found)}</button
              >
              <span class="min-w-0 flex-1">{found.message}</span>
              {#if found.fix}<button class="btn h-6! flex-none px-2!" onclick={() => fix(found)}
                  >{found.fix.label}</button
                >{/if}
              {#if session.part(found.part)?.kind === 'shader' && promiseOf(found.check) && !isPromised(session.part(found.part), promiseOf(found.check)!)}
                <button
                  class="flex-none text-second hover:text-ink"
                  title="Keep it as a guarantee of the shader, measured with every change"
                  onclick={() => promise(found)}>Guarantee</button
                >
              {/if}
              <button
                class="flex-none text-second hover:text-ink"
                title="Say why it stays; the check is silent here then"
                onclick={() => {
                  answering = answering === keyOf(found) ? null : keyOf(found);
                  note = '';
                }}>Leave it…</button
              >
            </div>
            {#if answering === keyOf(found)}
              <form
                class="flex gap-2 pt-1.5"
                onsubmit={(event) => {
                  event.preventDefault();
                  leave(found);
                }}
              >
                <input
                  class="field flex-1"
                  maxlength="500"
                  placeholder="Why it stays as it is"
                  aria-label="Why it stays as it is"
                  bind:value={note}
                  {@attach (field: HTMLInputElement) => field.focus()}
                  onkeydown={(event) => {
                    if (event.key !== 'Escape') return;
                    event.stopPropagation();
                    answering = null;
                  }}
                />
                <button class="btn h-[26px]!" disabled={!note.trim()}>Leave it</button>
              </form>
            {/if}
          </li>
        {/each}
      </ul>
    {/each}
    {#if checking.answered.length}
      <button
        class="text-second hover:text-ink"
        aria-expanded={showsAnswered}
        onclick={() => (showsAnswered = !showsAnswered)}
        >{showsAnswered ? '▾' : '▸'}
        {checking.answered.length} left as {checking.answered.length === 1 ? 'it is' : 'they are'}</button
      >
      {#if showsAnswered}
        <ul class="text-second">
          {#each checking.answered as found (keyOf(found))}
            <li class="flex items-baseline gap-3 border-t border-hairline py-1.5 first:border-t-0">
              <span class="flex-none">{placeName(found)}</span>
              <span class="min-w-0 flex-1">{found.message} <i>“{found.note}”</i></span>
              <button class="flex-none hover:text-ink" onclick={() => again(found)}>Check it again</button>
            </li>
          {/each}
        </ul>
      {/if}
    {/if}
  </section>
  <section class="w-[452px] flex-none overflow-y-auto border-l border-rule px-4 py-2.5">
    <Guarantees {session} {checking} />
    <Costs {session} {checking} {pins} />
  </section>
</div>
