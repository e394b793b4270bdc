<script lang="ts">
  import Check from '@lucide/svelte/icons/check';
  import Copy from '@lucide/svelte/icons/copy';
  import Minus from '@lucide/svelte/icons/minus';
  import X from '@lucide/svelte/icons/x';
  import { guaranteeSentence, MOST_GUARANTEES, type Guarantee } from '#core/document/guarantees.ts';
  import { addGuarantee, budgetsOf, changeGuarantee, removeGuarantee } from '#core/edits/checkEdits.ts';
  import NumberField from '../../parts/NumberField.svelte';
  import { newId } from '../../parts/newId.ts';
  import type { Session } from '../state/session.svelte.ts';
  import type { Checking } from './checking.svelte.ts';

  let { session, checking }: { session: Session; checking: Checking } = $props();

  const shader = $derived(session.shader);
  const guarantees = $derived(shader?.body.guarantees ?? []);
  const kept = $derived(new Map(checking.kept.map((each) => [each.id, each])));
  const strands = $derived(shader?.body.strands ?? []);
  const singles = $derived(
    shader?.body.parameters.filter(({ kind }) => kind === 'float' || kind === 'int' || kind === 'bool') ?? [],
  );
  const budgets = $derived(budgetsOf(session.shared));
  const id = (): string => `guarantee-${newId()}`;

  const KINDS = $derived([
    ['shows', 'something shows, or nothing', true],
    ['within', 'a strand stays between two numbers', strands.length > 0],
    ['numbers', 'everything is a number', true],
    ['cost', 'it keeps to a budget', true],
    ['tiles', 'a strand tiles', strands.length > 0],
  ] as const);
  /** What a guarantee begins as. */
  const begun = (kind: Guarantee['kind']): Guarantee => {
    const [parameter] = singles;
    const last = strands.at(-1)?.id;
    switch (kind) {
      case 'shows': {
        const opaque = shader?.body.surface.alphaMode === 'opaque';
        return {
          ...{ id: id(), kind, shows: 'nothing' },
          ...(parameter ? { parameter: parameter.id, at: parameter.max } : { at: 0 }),
          ...(opaque && last !== undefined ? { strand: last } : {}),
        };
      }
      case 'within':
        return { id: id(), kind, ...(last === undefined ? {} : { strand: last }), low: 0, high: 1 };
      case 'cost':
        return { id: id(), kind, budget: checking.budget.name };
      case 'tiles':
        return { id: id(), kind, ...(last === undefined ? {} : { strand: last }) };
      case 'numbers':
        return { id: id(), kind };
    }
  };
  const add = (guarantee: Guarantee, after?: string): void => {
    if (!shader) return;
    session.apply(addGuarantee(shader, guarantee, after));
    session.settle();
    open = guarantee.id;
  };
  const change = (guarantee: Guarantee): void => {
    if (shader) session.apply(changeGuarantee(shader, guarantee));
  };
  const without = <K extends keyof Guarantee>(guarantee: Guarantee, key: K): Omit<Guarantee, K> => {
    const { [key]: _, ...rest } = guarantee;
    return rest;
  };
  const remove = (of: string): void => {
    if (!shader) return;
    session.apply(removeGuarantee(shader, of));
    session.settle();
  };
  /** The guarantee whose terms are shown. */
  let open = $state<string | null>(null);
  const settle = () => session.settle();
</script>

<div class="flex items-baseline">
  <h2 class="text-[14px] font-semibold">Guarantees</h2>
  <span class="ml-2 truncate text-third">{shader?.name ?? ''}</span>
  {#if shader && !session.openMotif}
    <select
      class="ml-auto w-36 bg-transparent text-second hover:text-ink"
      aria-label="Add a guarantee"
      value=""
      disabled={guarantees.length >= MOST_GUARANTEES}
      onchange={(event) => {
        add(begun(event.currentTarget.value as Guarantee['kind']));
        event.currentTarget.value = '';
      }}
    >
      <option value="" disabled hidden>Add a guarantee</option>
      {#each KINDS as [kind, words, can] (kind)}<option value={kind} disabled={!can}>{words}</option>{/each}
    </select>
  {/if}
</div>
{#if !guarantees.length}
  <p class="py-1 text-[12px] text-third">
    What this shader promises, measured here and by <span class="mono">veil check</span>. Add one above, or
    from a sweep.
  </p>
{/if}
<ul class="pb-3" aria-label="Guarantees">
  {#each guarantees as guarantee (guarantee.id)}
    {@const found = kept.get(guarantee.id)}
    {@const sentence = shader ? guaranteeSentence(guarantee, shader.body) : ''}
    <li class="group border-b border-hairline py-1">
      <div class="flex items-baseline gap-2" class:text-oxblood={found?.holds === false}>
        <span class="w-3.5 flex-none translate-y-0.5" title={found ? undefined : 'Being measured'}
          >{#if found?.holds === true}<Check
              size={13}
              aria-label="holds"
            />{:else if found?.holds === false}<X size={13} aria-label="does not hold" />{:else}<Minus
              size={13}
              aria-label="not measured"
            />{/if}</span
        >
        <button
          class="min-w-0 flex-1 text-left hover:underline"
          aria-expanded={open === guarantee.id}
          title="Change what it says"
          onclick={() => (open = open === guarantee.id ? null : guarantee.id)}>{sentence}</button
        >
        <span class="mono flex-none">{found?.figure ?? '…'}</span>
      </div>
      {#if found?.told}<p class="pl-5.5 text-[12px] text-third">{found.told}</p>{/if}
      {#if open === guarantee.id}
        <div class="flex flex-wrap items-baseline gap-x-2 gap-y-1 py-1 pl-5.5 text-second">
          {#if guarantee.kind === 'shows'}
            at
            <select
              class="max-w-28 bg-transparent text-ink"
              aria-label="What stands there"
              value={guarantee.parameter ?? ''}
              onchange={(event) => {
                const parameter = event.currentTarget.value;
                change(parameter ? { ...guarantee, parameter } : without(guarantee, 'parameter'));
                settle();
              }}
            >
              <option value="">time</option>
              {#each singles as each (each.id)}<option value={each.id}>{each.name}</option>{/each}
            </select>
            <NumberField
              plain
              value={guarantee.at ?? 0}
              label="Where it stands"
              onchange={(at) => change({ ...guarantee, at })}
              onsettle={settle}
            />
            <select
              class="bg-transparent text-ink"
              aria-label="What shows"
              value={guarantee.shows}
              onchange={(event) => {
                change({ ...guarantee, shows: event.currentTarget.value as 'nothing' | 'all' });
                settle();
              }}
            >
              <option value="nothing">nothing</option>
              <option value="all">all of it</option>
            </select>
            shows, by
            <select
              class="max-w-28 bg-transparent text-ink"
              aria-label="By what"
              value={guarantee.strand ?? ''}
              onchange={(event) => {
                const strand = event.currentTarget.value;
                change(strand ? { ...guarantee, strand } : without(guarantee, 'strand'));
                settle();
              }}
            >
              <option value="">opacity</option>
              {#each strands as each (each.id)}<option value={each.id}>{each.name}</option>{/each}
            </select>
          {:else if guarantee.kind === 'within' || guarantee.kind === 'tiles'}
            <select
              class="max-w-32 bg-transparent text-ink"
              aria-label="Which strand"
              value={guarantee.strand}
              onchange={(event) => {
                change({ ...guarantee, strand: event.currentTarget.value });
                settle();
              }}
            >
              {#each strands as each (each.id)}<option value={each.id}>{each.name}</option>{/each}
            </select>
            {#if guarantee.kind === 'within'}
              from <NumberField
                plain
                value={guarantee.low ?? 0}
                label="From"
                onchange={(low) => change({ ...guarantee, low, high: Math.max(low, guarantee.high ?? low) })}
                onsettle={settle}
              />
              to <NumberField
                plain
                value={guarantee.high ?? 1}
                label="To"
                onchange={(high) =>
                  change({ ...guarantee, high, low: Math.min(high, guarantee.low ?? high) })}
                onsettle={settle}
              />
            {/if}
          {:else if guarantee.kind === 'cost'}
            <select
              class="max-w-32 bg-transparent text-ink"
              aria-label="Which budget"
              value={guarantee.budget}
              onchange={(event) => {
                change({ ...guarantee, budget: event.currentTarget.value });
                settle();
              }}
            >
              {#if !budgets.some(({ name }) => name === guarantee.budget)}<option value={guarantee.budget}
                  >{guarantee.budget}</option
                >{/if}
              {#each budgets as each (each.name)}<option value={each.name}>{each.name}</option>{/each}
            </select>
          {/if}
          <span class="ml-auto flex gap-1">
            <button
              class="px-1 hover:text-ink"
              aria-label="Duplicate the guarantee"
              title="Duplicate"
              onclick={() => add({ ...guarantee, id: id() }, guarantee.id)}><Copy size={13} /></button
            >
            <button
              class="px-1 hover:text-ink"
              aria-label="Delete the guarantee"
              title="Delete"
              onclick={() => remove(guarantee.id)}><X size={14} /></button
            >
          </span>
        </div>
      {/if}
    </li>
  {/each}
</ul>
