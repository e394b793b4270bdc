<script lang="ts">
  import { newId as freshId } from '../../parts/newId.ts';
  import X from '@lucide/svelte/icons/x';
  import { tapKey } from '#core/compileShader.ts';
  import type { Patch } from '#core/document/patch.ts';
  import type { PartOf } from '#core/document/project.ts';
  import { nameProblem } from '#core/language/names/reserved.ts';
  import { SURFACE } from '#core/lower/lowerShader.ts';
  import type { Pictures } from '../pictures.svelte.ts';
  import type { Session } from '../state/session.svelte.ts';
  import OutputsRow from './OutputsRow.svelte';
  import RangeBar from './RangeBar.svelte';
  import StepPicture from './StepPicture.svelte';

  let { session, pictures, motif }: { session: Session; pictures: Pictures; motif: PartOf<'motif'> } =
    $props();
  let problem = $state<string | null>(null);

  const change = (label: string, patches: readonly Patch[]) => {
    session.apply({ label, part: motif.id, patches });
    session.settle();
  };
  const mistakeOf = (id: string) =>
    session.shaderState?.diagnostics.find((each) => each.strand === SURFACE && each.step === id);
  const add = () => {
    const last = motif.body.strands.at(-1)?.name ?? '0.0';
    const taken = new Set(motif.body.outputs.map((each) => each.name));
    let name = 'result';
    for (let n = 2; taken.has(name); n += 1) name = `result${n}`;
    change('Add output', [
      {
        op: 'add',
        path: ['outputs', motif.body.outputs.length],
        value: { id: `output-${freshId()}`, name, expression: last },
      },
    ]);
  };
  const rename = (at: number, name: string) => {
    if (name === motif.body.outputs[at]!.name) return;
    const taken = motif.body.outputs.some((each) => each.name === name);
    problem = nameProblem(name, new Set()) ?? (taken ? `“${name}” is used already.` : null);
    if (!problem) change('Rename output', [{ op: 'replace', path: ['outputs', at, 'name'], value: name }]);
  };
  const tap = (id: string) => {
    const now = session.shown;
    const same = now.kind === 'tap' && now.strand === SURFACE && now.step === id;
    session.show(same ? { kind: 'finished' } : { kind: 'tap', strand: SURFACE, step: id });
  };
</script>

<OutputsRow label="Outputs" {pictures}>
  {#snippet margin()}
    <div class="text-[15px] font-semibold">outputs</div>
    <input
      class="w-full truncate bg-transparent text-[12px] text-third"
      title={motif.body.description}
      value={motif.body.description}
      placeholder="what the motif is for"
      aria-label="What the motif is for"
      maxlength="200"
      oninput={(event) =>
        session.apply({
          ...{ label: 'Change description', part: motif.id, merge: 'description' },
          patches: [{ op: 'replace', path: ['description'], value: event.currentTarget.value }],
        })}
      onblur={session.settle}
      onkeydown={(event) => event.stopPropagation()}
    />
  {/snippet}
  <div class="flex gap-6 px-3 py-3">
    {#each motif.body.outputs as output, i (output.id)}
      {@const picture = pictures.all.get(tapKey(SURFACE, output.id))}
      {@const mistake = mistakeOf(output.id)}
      <div class="flex gap-2" data-output={output.name}>
        <button aria-label="Tap {output.name}" onclick={() => tap(output.id)}>
          <StepPicture {picture} size={44} label="Picture of {output.name}" />
        </button>
        <div>
          <div class="flex items-center gap-1">
            <input
              class="field h-5 w-28 font-semibold"
              value={output.name}
              aria-label="Name of the output"
              onchange={(event) => rename(i, event.currentTarget.value.trim())}
              onkeydown={(event) => event.stopPropagation()}
            />
            <button
              class="text-third hover:text-ink"
              title="Remove this output"
              aria-label="Remove {output.name}"
              onclick={() => change('Remove output', [{ op: 'remove', path: ['outputs', i] }])}
              ><X size={12} /></button
            >
          </div>
          <input
            class="field mono mt-1 h-5 w-44"
            class:text-oxblood={mistake}
            value={output.expression}
            spellcheck="false"
            aria-label="{output.name}, an expression"
            onchange={(event) =>
              change('Change output', [
                {
                  op: 'replace',
                  path: ['outputs', i, 'expression'],
                  value: event.currentTarget.value.trim(),
                },
              ])}
            onkeydown={(event) => {
              event.stopPropagation();
              if (event.key === 'Enter') event.currentTarget.blur();
            }}
          />
          {#if picture}<div class="mt-1"><RangeBar range={picture.range} /></div>{/if}
          {#if mistake}<p class="max-w-60 text-[12px] text-oxblood" role="alert">{mistake.message}</p>{/if}
        </div>
      </div>
    {/each}
    <button class="btn h-6 self-start" onclick={add}>Add output</button>
    {#if problem}<p class="text-[12px] text-oxblood" role="alert">{problem}</p>{/if}
  </div>
</OutputsRow>
