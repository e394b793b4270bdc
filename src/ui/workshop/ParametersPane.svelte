<script lang="ts">
  import { readTexture } from '#core/edits/textureEdits.ts';
  import { resetValue, setPicture } from '#core/edits/materialEdits.ts';
  import type { SetDrive } from '#core/document/drives.ts';
  import { isTable, type Parameter } from '#core/document/shader.ts';
  import { remarksOn } from '#core/time/remarksOn.ts';
  import { packLifetime } from '#core/emit/glsl/packLifetime.ts';
  import { currentValue, isAuthored } from '#core/time/values.ts';
  import type { PartOf } from '#core/document/project.ts';
  import { toast } from 'svelte-sonner';
  import { parametersIn } from './cues/doToCue.ts';
  import DriveLine from './drives/DriveLine.svelte';
  import { driveWords } from '#core/time/driveWords.ts';
  import { dragValue, settleValue } from './dragValue.ts';
  import { picturesNow } from './picturesOf.ts';
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
  const choosePicture = async (material: PartOf<'material'>, parameter: Parameter, file: File) => {
    try {
      session.apply(setPicture(material.id, material.body, parameter, await keepBlob(file, file.name)));
    } catch (error) {
      toast.error((error as Error).message);
    }
  };
  const readMade = (parameter: Parameter, id: string) => {
    if (!session.material) return;
    const texture = session.textures.find((each) => each.id === id) ?? null;
    session.apply(readTexture(session.material, parameter, texture));
    session.settle();
    if (texture && !texture.body.baked) toast(`${texture.name} is not baked yet; it is seen once it is.`);
  };
  const driven = $derived(session.material && !motif ? session.values.of(session.material.id) : undefined);

  const set = $derived(session.stage);
  /** The parameter whose standing rule is open. */
  let feeding = $state<string | null>(null);
  const ruleOf = ({ id }: Parameter) =>
    set?.body.drives?.find((each) => each.material === session.material?.id && each.parameter === id) ?? null;
  const remarks = $derived(set?.body.drives ? remarksOn(set.body, parametersIn(session)) : []);
  const remarkOn = (rule: SetDrive | null): string | null =>
    remarks.find(({ of }) => of.kind === 'rule' && of.id === rule?.id)?.message ?? null;
  /** Only what the set knows of can feed something. */
  const canBeFed = ({ kind }: Parameter): boolean =>
    set !== null && !motif && kind !== 'texture' && !isTable(kind) && kind !== 'noise';
  /** The cue that lies on top of those that drive a parameter. */
  const cueOn = ({ id }: Parameter): string => {
    const on = (set?.body.cues ?? []).filter(
      (cue) =>
        (rehearsal.standing.has(cue.id) || !rehearsal.running) &&
        cue.tracks.some(
          ({ target }) =>
            target.kind === 'parameter' && target.of === session.material?.id && target.what === id,
        ),
    );
    const top = on.toSorted((a, b) => b.priority - a.priority)[0];
    return top && rehearsal.running ? `cue ${top.name}` : 'a cue';
  };
  /** Who drives a parameter now, in the panel's words. */
  const driverOf = (parameter: Parameter): string | null => {
    switch (driven?.get(parameter.name)?.by) {
      case 'set': {
        const rule = ruleOf(parameter);
        return rule && set ? driveWords(rule, set.body.props) : 'the set';
      }
      case 'cue':
        return cueOn(parameter);
      case 'script':
        if (rehearsal.shows !== null) return rehearsal.shows;
        return session.played.length === 1 ? session.played[0]!.name : 'scripts';
      case 'hand':
        return 'hand';
      default:
        return null;
    }
  };
  const reset = (parameter: Parameter) => {
    if (parameter.scope === 'shared' && session.shared)
      session.apply(resetValue(session.shared.id, session.shared.body, parameter));
    else if (session.material)
      session.apply(resetValue(session.material.id, session.material.body, parameter));
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
        {@const rule = ruleOf(parameter)}
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
          onkeep={session.material && driven?.has(parameter.name)
            ? () => rehearsal.keep(session.material?.id, parameter.name)
            : undefined}
          fed={rule && set ? driveWords(rule, set.body.props) : null}
          onfeed={canBeFed(parameter)
            ? () => (feeding = feeding === parameter.id ? null : parameter.id)
            : undefined}
          trace={session.material && parameter.kind !== 'texture'
            ? rehearsal.traces.get(`${session.material.id} ${parameter.name}`)
            : undefined}
          picture={session.material && parameter.kind === 'texture'
            ? picturesNow(session.material, parameters, set?.body.choices, driven).get(parameter.name)
            : undefined}
          reads={motif?.body.parameters.find((each) => each.id === parameter.id)?.reads}
          textures={parameter.kind === 'texture' ? session.textures : undefined}
          made={session.material?.body.made?.[parameter.id]}
          onmade={motif ? undefined : (id) => readMade(parameter, id)}
          onpicture={(file) => session.material && void choosePicture(session.material, parameter, file)}
        />
        {#if set && session.material && (feeding === parameter.id || (rule && remarkOn(rule)))}
          <DriveLine
            {session}
            {set}
            material={session.material.id}
            {parameter}
            drive={rule}
            remark={remarkOn(rule)}
            onclose={() => (feeding = null)}
          />
        {/if}
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
