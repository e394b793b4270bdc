<script lang="ts">
  import { resetValue, setPicture, setValue } from '#core/document/edits/materialEdits.ts';
  import type { Parameter } from '#core/document/shader.ts';
  import { currentValue } from '#core/rehearse/values.ts';
  import type { PartOf } from '#core/document/project.ts';
  import { toast } from 'svelte-sonner';
  import { picturesOf } from './picturesOf.ts';
  import ParameterRow from './ParameterRow.svelte';
  import type { Rehearsal } from './rehearsal.svelte.ts';
  import type { Session } from './session.svelte.ts';

  interface Props {
    session: Session;
    rehearsal: Rehearsal;
    onedit: (parameter: Parameter | null) => void;
  }
  let { session, rehearsal, onedit }: Props = $props();

  const parameters = $derived(session.document?.parameters ?? []);
  const groups = $derived([...new Set(parameters.map((each) => each.group))]);
  const choosePicture = async (material: PartOf<'material'>, name: string, file: File) => {
    try {
      const response = await fetch('/api/blobs', { method: 'POST', body: file });
      const answer = (await response.json()) as { sha256?: string; message?: string };
      if (answer.sha256) session.apply(setPicture(material.id, material.body, name, answer.sha256));
      else toast.error(answer.message ?? 'The server refused this picture.');
    } catch {
      toast.error('The server cannot be reached; the picture was not taken.');
    }
  };
  const driven = $derived(session.material ? rehearsal.driven.get(session.material.id) : undefined);
</script>

<div class="flex h-full flex-col border-l border-rule bg-page">
  <header class="flex h-[35px] flex-none items-center gap-2 border-b border-hairline px-3.5">
    {#if session.materials.length > 1}
      <select
        class="max-w-52 bg-transparent text-[14px] font-semibold"
        aria-label="Material shown"
        value={session.material?.id}
        onchange={(event) => session.showMaterial(event.currentTarget.value)}
      >
        {#each session.materials as material (material.id)}<option value={material.id}>{material.name}</option
          >{/each}
      </select>
    {:else}
      <h2 class="text-[14px] font-semibold">{session.material?.name ?? 'No material'}</h2>
    {/if}
    <span class="text-second">material</span>
    {#if driven?.size && session.material}
      {@const { id } = session.material}
      <button
        class="btn btn-live ml-auto h-6"
        title="Take the driven values into the material"
        onclick={() => rehearsal.keep(id)}>Keep</button
      >
    {:else if session.shader}
      <button class="ml-auto text-second hover:text-ink" onclick={() => onedit(null)}>Add parameter</button>
    {/if}
  </header>
  <div class="min-h-0 flex-1 overflow-y-auto py-1.5">
    {#each groups as group (group)}
      <h3 class="px-3.5 pt-1.5 pb-0.5 text-[12px] text-third">{group || 'Parameters'}</h3>
      {#each parameters.filter((each) => each.group === group) as parameter (parameter.id)}
        {@const material = session.material!}
        <ParameterRow
          {parameter}
          value={currentValue(parameter, material.body.values, driven)}
          driver={driven?.has(parameter.name) ? (session.script?.name ?? 'script') : null}
          changed={Object.hasOwn(material.body.values, parameter.name)}
          onchange={(value) => session.apply(setValue(material.id, parameter.name, value))}
          onsettle={session.settle}
          onreset={() => session.apply(resetValue(material.id, material.body, parameter.name))}
          onedit={() => onedit(parameter)}
          picture={picturesOf(material.body).get(parameter.name)}
          onpicture={(file) => void choosePicture(material, parameter.name, file)}
        />
      {/each}
    {:else}
      <p class="px-3.5 py-2 text-second">
        No parameters yet. Point at a number in the score and press the arrow beside it to expose it here,
        where gameplay can drive it.
      </p>
    {/each}
  </div>
</div>
