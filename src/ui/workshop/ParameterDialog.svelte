<script lang="ts">
  import { Dialog } from 'bits-ui';
  import { exposeParameter, removeParameter, usesOf } from '#core/edits/shaderEdits.ts';
  import { parameterProblem } from '#core/document/parameter.ts';
  import {
    isTable,
    parameterSize,
    PARAMETER_SCOPES,
    startOf,
    type ParameterKind,
    type ParameterScope,
  } from '#core/document/shader.ts';
  import type { MotifInput } from '#core/document/motif.ts';
  import { readArithmetic } from '#core/language/arithmetic.ts';
  import { nameProblem } from '#core/language/names/reserved.ts';
  import { OPERATOR_NAMES } from '#core/operators/catalogue.ts';
  import type { Draft } from './parameterDrafts.ts';
  import { keepParameter } from './keepParameter.ts';
  import type { Session } from './state/session.svelte.ts';

  let { session, draft, onclose }: { session: Session; draft: Draft; onclose: () => void } = $props();
  const shader = $derived(session.score!);
  const isMotif = $derived(shader.kind === 'motif');

  // The form begins from the draft and lives on by itself until it is given back.
  // svelte-ignore state_referenced_locally
  const start: MotifInput = draft.parameter;
  let name = $state(start.name);
  let kind = $state<ParameterKind>(start.kind);
  let min = $state(String(start.min));
  let max = $state(String(start.max));
  let standard = $state(start.default.join(', '));
  let unit = $state(start.unit);
  let group = $state(start.group);
  let description = $state(start.description);
  let scope = $state<ParameterScope>(start.scope ?? 'material');
  let ends = $state(start.ends?.join(', ') ?? '');
  let reads = $state(start.reads ?? '');
  let refusal = $state<string | null>(null);

  const number = (text: string) => readArithmetic(text) ?? NaN;
  const numbers = (text: string) => text.split(',').map(number);
  const ranged = $derived(kind !== 'bool' && kind !== 'texture' && !isTable(kind));
  /** What was typed, as the kind holds it. */
  const filled = (): number[] => {
    const size = parameterSize(kind);
    if (size === 0) return [];
    const given = numbers(standard);
    if (given.length === 1 && size > 1)
      return Array.from({ length: size }, (_, i) =>
        (kind === 'color' && i === 3) || (kind === 'noise' && i === 1) ? 0 : given[0]!,
      );
    return kind === 'color' && given.length === 3 ? [...given, 0] : given;
  };
  const made = $derived.by((): MotifInput => ({
    id: start.id,
    name: name.trim(),
    kind,
    default: isTable(kind) && start.kind !== kind ? startOf(kind) : isTable(kind) ? start.default : filled(),
    min: ranged ? number(min) : 0,
    max: ranged ? number(max) : 1,
    unit,
    group: group.trim(),
    description,
    ...(scope === 'material' ? {} : { scope }),
    ...(ends.trim() && kind === 'float' ? { ends: numbers(ends) as [number, number] } : {}),
    ...(isMotif && reads.trim() ? { reads: reads.trim() } : {}),
  }));
  /** Another shader's parameter of the same shared name: one value cannot be of two kinds. */
  const sharedElsewhere = $derived(
    scope === 'shared'
      ? session.parts
          .flatMap((part) => (part.kind === 'shader' && part.id !== shader.id ? part.body.parameters : []))
          .find((each) => each.name === made.name && each.scope === 'shared' && each.kind !== kind)
      : undefined,
  );
  const problem = $derived.by(() => {
    const taken = [...shader.body.strands, ...shader.body.parameters].some(
      (each) => each.name === made.name && each.id !== made.id,
    );
    const size = parameterSize(kind);
    return (
      nameProblem(made.name, OPERATOR_NAMES) ??
      (taken ? `“${made.name}” is used already in this shader.` : null) ??
      (size >= 0 && made.default.length !== size
        ? `A ${kind} has ${size} numbers; write them with commas between.`
        : null) ??
      (made.ends && made.ends.length !== 2 ? 'The ends are two numbers, such as −14, 6.' : null) ??
      (sharedElsewhere
        ? `“${made.name}” is shared as a ${sharedElsewhere.kind} in another shader; share it as that, or call it something else.`
        : null) ??
      parameterProblem(made)
    );
  });

  const keep = () => {
    if (problem) return;
    if (draft.isNew) session.apply(exposeParameter(shader.id, shader.body, made, draft.from));
    else keepParameter(session, shader, made);
    onclose();
  };
  const remove = () => {
    const users = [...new Set(usesOf(shader.body, start.name).map((use) => use.strand))];
    if (users.length) refusal = `${start.name} is used by ${users.join(', ')}; take it out there first.`;
    else {
      session.apply(removeParameter(shader.id, shader.body, start.id));
      onclose();
    }
  };
</script>

<Dialog.Root open onOpenChange={(open) => !open && onclose()}>
  <Dialog.Portal>
    <Dialog.Overlay class="fixed inset-0 z-40 bg-black/30" />
    <Dialog.Content
      class="popup fixed top-1/2 left-1/2 w-[25rem] -translate-1/2 p-5"
      onkeydown={(event) => event.key !== 'Escape' && event.stopPropagation()}
    >
      <Dialog.Title class="text-[15px] font-semibold"
        >{draft.isNew
          ? draft.from
            ? `Expose ${draft.from.argument}`
            : 'New parameter'
          : `Parameter ${start.name}`}</Dialog.Title
      >
      <Dialog.Description class="mt-1 mb-4 text-second"
        >Panels and gameplay scripts know it by this name.</Dialog.Description
      >
      <form
        class="grid grid-cols-[6rem_1fr] items-center gap-x-3 gap-y-2"
        onsubmit={(event) => {
          event.preventDefault();
          keep();
        }}
      >
        <label for="p-name">Name</label>
        <input id="p-name" class="field mono" bind:value={name} spellcheck="false" autocomplete="off" />
        <label for="p-kind">Type</label>
        <select id="p-kind" class="field" bind:value={kind} disabled={draft.kinds.length < 2}>
          {#each draft.kinds as each (each)}<option value={each}>{each === 'color' ? 'colour' : each}</option
            >{/each}
        </select>
        {#if ranged}
          <label for="p-min">{kind === 'color' ? 'Stops' : kind === 'noise' ? 'Seeds' : 'Range'}</label>
          <div class="flex items-center gap-2">
            <input id="p-min" class="field mono w-full" bind:value={min} aria-label="Least" />
            <span class="text-third">to</span>
            <input class="field mono w-full" bind:value={max} aria-label="Greatest" />
          </div>
        {/if}
        {#if parameterSize(kind) > 0}
          <label for="p-default">Default</label>
          <input
            id="p-default"
            class="field mono"
            bind:value={standard}
            placeholder={kind === 'noise' ? 'seed, period' : ''}
          />
        {/if}
        {#if isMotif}
          <label for="p-reads">Reads</label>
          <input
            id="p-reads"
            class="field mono"
            bind:value={reads}
            placeholder="uv, position… where a use gives nothing"
            spellcheck="false"
          />
        {:else}
          <label for="p-scope">Whose value</label>
          <select id="p-scope" class="field" bind:value={scope}>
            {#each PARAMETER_SCOPES as each (each)}<option value={each}
                >{{
                  material: 'each material’s',
                  shared: 'shared by every shader',
                  lifetime: 'an effect’s lifetime',
                }[each]}</option
              >{/each}
          </select>
          {#if kind === 'float'}
            <label for="p-ends">Drives between</label>
            <input
              id="p-ends"
              class="field mono"
              bind:value={ends}
              placeholder="−14, 6: driven from 0 to 1"
            />
          {/if}
        {/if}
        <label for="p-unit">Unit</label>
        <input id="p-unit" class="field" bind:value={unit} maxlength="16" placeholder="m, s, /s, °" />
        <label for="p-group">Group</label>
        <input id="p-group" class="field" bind:value={group} maxlength="64" />
        <label for="p-about">What it does</label>
        <input id="p-about" class="field" bind:value={description} maxlength="500" />
        <p class="col-span-2 min-h-5 text-[12px] text-oxblood" role="alert">{problem ?? refusal ?? ''}</p>
        <div class="col-span-2 flex gap-2">
          {#if !draft.isNew}<button type="button" class="btn" onclick={remove}>Delete</button>{/if}
          <button type="button" class="btn ml-auto" onclick={onclose}>Cancel</button>
          <button type="submit" class="btn bg-ink! text-sheet!" disabled={problem !== null}
            >{draft.isNew ? 'Expose' : 'Keep'}</button
          >
        </div>
      </form>
    </Dialog.Content>
  </Dialog.Portal>
</Dialog.Root>
