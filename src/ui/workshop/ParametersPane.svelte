<script lang="ts">
  import { resetValue, setPicture } from '#core/edits/materialEdits.ts';
  import type { Parameter } from '#core/document/shader.ts';
  import { packLifetime } from '#core/emit/glsl/packLifetime.ts';
  import { currentValue, isAuthored } from '#core/time/values.ts';
  import type { PartOf } from '#core/document/project.ts';
  import { toast } from 'svelte-sonner';
  import { dragValue, settleValue } from './dragValue.ts';
  import { picturesOf } from './picturesOf.ts';
  import MaterialMenu from './MaterialMenu.svelte';
  import ParameterRow from './ParameterRow.svelte';
  import PresetMenu from './PresetMenu.svelte';
  import { keepBlob } from './keepBlob.ts';
  import type { Rehearsal } from './rehearsal.svelte.ts';
  import type { Session } from './state/session.svelte.ts';

  interface Props {
    session: Session;
    rehearsal: Rehearsal;
    onedit: (parameter: Parameter | null) => void;
    onsweep: (parameter: Parameter) => void;
  }
  let { session, rehearsal, onedit, onsweep }: Props = $props();

  const motif = $derived(session.openMotif);
  const parameters = $derived(session.document?.parameters ?? []);
  const groups = $derived([...new Set(parameters.map((each) => each.group))]);
  const authored = $derived(session.authored(motif ? {} : (session.material?.body.values ?? {})));
  const slots = $derived(
    packLifetime(
      session.shaderState?.good?.program.parameters.filter((each) =>
        parameters.some((one) => one.name === each.name),
      ) ?? [],
    ),
  );
  const choosePicture = async (material: PartOf<'material'>, name: string, file: File) => {
    try {
      session.apply(setPicture(material.id, material.body, name, await keepBlob(file, file.name)));
    } catch (error) {
      toast.error((error as Error).message);
    }
  };
  const driven = $derived(session.material && !motif ? session.values.of(session.material.id) : undefined);

  /** Who drives a parameter now, in the panel's words. */
  const driverOf = ({ name }: Parameter): string | null => {
    const by = driven?.get(name)?.by;
    return by
      ? { set: 'the set', cue: 'a cue', script: session.playing?.name ?? 'script', hand: 'hand' }[by]
      : null;
  };
  const reset = (parameter: Parameter) => {
    if (parameter.scope === 'shared' && session.shared)
      session.apply(resetValue(session.shared.id, session.shared.body, parameter.name));
    else if (session.material)
      session.apply(resetValue(session.material.id, session.material.body, parameter.name));
  };
</script>

<div class="flex h-full flex-col border-l border-rule bg-page">
  <header class="flex h-[35px] flex-none items-center gap-2 border-b border-hairline px-3.5">
    {#if motif}
      <h2 class="truncate text-[14px] font-semibold">{motif.name}</h2>
      <span class="text-second">inputs</span>
    {:else}
      {#if session.materials.length > 1}
        <select
          class="max-w-52 bg-transparent text-[14px] font-semibold"
          aria-label="Material shown"
          value={session.material?.id}
          onchange={(event) => session.showMaterial(event.currentTarget.value)}
        >
          {#each session.materials as material (material.id)}<option value={material.id}
              >{material.name}</option
            >{/each}
        </select>
      {:else}
        <h2 class="text-[14px] font-semibold">{session.material?.name ?? 'No material'}</h2>
      {/if}
    {/if}
    <span class="ml-auto flex flex-none items-center gap-3 whitespace-nowrap">
      {#if driven?.size && session.material}
        {@const { id } = session.material}
        <button
          class="btn btn-live h-6"
          title="Take the driven values into the material"
          onclick={() => rehearsal.keep(id)}>Keep</button
        >
      {:else if session.score}
        {#if session.material && !motif}<PresetMenu {session} material={session.material} />{/if}
        <button class="text-second hover:text-ink" onclick={() => onedit(null)}
          >{motif ? 'Add input' : 'Add parameter'}</button
        >
        {#if session.material && !motif}<MaterialMenu {session} material={session.material} {onsweep} />{/if}
      {/if}
    </span>
  </header>
  <div class="min-h-0 flex-1 overflow-y-auto py-1.5">
    {#each groups as group (group)}
      <h3 class="px-3.5 pt-1.5 pb-0.5 text-[12px] text-third">
        {group || (motif ? 'Inputs' : 'Parameters')}
      </h3>
      {#each parameters.filter((each) => each.group === group) as parameter (parameter.id)}
        <ParameterRow
          {parameter}
          value={currentValue(parameter, authored, driven)}
          slot={parameter.scope === 'lifetime' ? slots.reads.get(parameter.name) : undefined}
          driver={driverOf(parameter)}
          changed={!motif && isAuthored(parameter, authored)}
          onchange={(value) => dragValue(session, parameter, value)}
          onsettle={() => settleValue(session)}
          onreset={() => reset(parameter)}
          onedit={() => onedit(parameter)}
          picture={session.material ? picturesOf(session.material.body).get(parameter.name) : undefined}
          reads={motif?.body.parameters.find((each) => each.id === parameter.id)?.reads}
          onpicture={(file) => session.material && void choosePicture(session.material, parameter.name, file)}
        />
      {/each}
    {:else}
      <p class="px-3.5 py-2 text-second">
        {#if motif}
          No inputs yet. Point at a number in the motif and press the arrow beside it, or add one here, so
          that each use can give its own.
        {:else}
          No parameters yet. Point at a number in the score and press the arrow beside it to expose it here,
          where gameplay can drive it.
        {/if}
      </p>
    {/each}
  </div>
</div>
