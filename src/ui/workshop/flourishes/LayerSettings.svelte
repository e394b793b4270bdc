<script lang="ts">
  import Copy from '@lucide/svelte/icons/copy';
  import Trash2 from '@lucide/svelte/icons/trash-2';
  import X from '@lucide/svelte/icons/x';
  import type { Flourish, FlourishLayer, Ribbon, Sprites } from '#core/document/flourishes.ts';
  import type { PartOf } from '#core/document/project.ts';
  import { packLifetime } from '#core/emit/glsl/packLifetime.ts';
  import { flat, freeLayerName, ramp } from '#core/edits/flourishEdits.ts';
  import { MESH_KINDS, type MadeRecipe, type MeshRecipe } from '#core/meshes/makeMesh.ts';
  import { meshStarter } from '#core/meshes/meshStarter.ts';
  import type { Triple } from '#core/numbers/vectors.ts';
  import { currentValue } from '#core/time/values.ts';
  import CurveField from '../../parts/CurveField.svelte';
  import NumberRow from '../../parts/NumberRow.svelte';
  import { parametersIn } from '../cues/doToCue.ts';
  import type { Cueing } from '../cues/cueing.svelte.ts';
  import MeshWords from '../set/MeshWords.svelte';
  import NumbersLine from '../set/NumbersLine.svelte';
  import type { Session } from '../state/session.svelte.ts';
  import { deleteLayer, doToLayer, duplicateLayer } from './doToFlourish.ts';
  import MaybeCurve from './MaybeCurve.svelte';
  import RibbonSettings from './RibbonSettings.svelte';
  import SpriteSettings from './SpriteSettings.svelte';

  /** The layer in hand: what it is, how it lives, and the curves of its lifetime parameters. */
  interface Props {
    session: Session;
    cueing: Cueing;
    set: PartOf<'stage'>;
    flourish: Flourish;
    layer: FlourishLayer;
  }
  let { session, cueing, set, flourish, layer }: Props = $props();
  const settle = () => session.settle();
  const change = (label: string, how: (layer: FlourishLayer) => FlourishLayer, merge?: string) =>
    doToLayer(session, flourish.id, layer.id, label, how, merge);
  const put = (label: string, wanted: Partial<FlourishLayer>, merge?: string) =>
    change(label, (each) => ({ ...each, ...wanted }), merge);
  const setMesh = (name: string, value: number | readonly number[] | string) =>
    change(
      `Change ${name} of ${layer.name}`,
      (each) => ({ ...each, mesh: { ...each.mesh, [name]: value } as MeshRecipe }),
      `mesh ${name}`,
    );
  /** Of a field that may be left out. */
  const putMaybe = (field: 'sizes' | 'spinForce', wanted: readonly number[] | undefined) =>
    change(
      `Change ${field === 'sizes' ? 'the size' : 'the spin'} of ${layer.name}`,
      ({ [field]: _, ...each }) => (wanted ? { ...each, [field]: wanted } : each),
      field,
    );

  const parameters = $derived(parametersIn(session)(layer.material) ?? []);
  const lifetimes = $derived(parameters.filter(({ scope }) => scope === 'lifetime'));
  const slots = $derived.by(() => {
    const material = session.part(layer.material);
    const shader = material?.kind === 'material' ? material.body.shader : null;
    return packLifetime(session.shaders.get(shader ?? '')?.good?.program.parameters ?? []);
  });
  const curvesOf = (id: string) => layer.values.find(({ parameter }) => parameter === id)?.curves;
  const PARTS: Readonly<Record<string, readonly string[]>> = {
    color: ['red', 'green', 'blue', 'stops'],
  };
  /** Gives a parameter curves that stand where it stands, or takes them away. */
  const drive = (id: string, drives: boolean) => {
    const parameter = lifetimes.find((each) => each.id === id)!;
    const material = session.part(layer.material);
    const now = currentValue(
      parameter,
      session.authored(material?.kind === 'material' ? material.body.values : {}),
    );
    const others = layer.values.filter((each) => each.parameter !== id);
    put(drives ? `Drive ${parameter.name}` : `Do not drive ${parameter.name}`, {
      values: drives ? [...others, { parameter: id, curves: now.map(flat) }] : others,
    });
  };
  const putCurve = (id: string, at: number, curve: readonly number[]) =>
    put(
      `Change ${lifetimes.find((each) => each.id === id)?.name ?? 'a curve'} of ${layer.name}`,
      {
        values: layer.values.map((each) =>
          each.parameter === id ? { ...each, curves: each.curves.with(at, curve) } : each,
        ),
      },
      `curve ${id} ${at}`,
    );

  const meshKind = $derived(layer.mesh ? MESH_KINDS.get(layer.mesh.kind) : undefined);
  const meshNumbers = (name: string): readonly number[] => {
    const given = (layer.mesh as unknown as Readonly<Record<string, number | readonly number[]>>)[name]!;
    return typeof given === 'number' ? [given] : given;
  };
</script>

<div class="mt-2 border border-rule bg-sheet px-2 py-1.5" role="group" aria-label="Layer in hand">
  <div class="flex items-center gap-2">
    <input
      class="field h-6 min-w-0 flex-1 font-semibold"
      aria-label="Name of the layer"
      value={layer.name}
      maxlength="120"
      onchange={(event) => {
        const name = event.currentTarget.value.trim();
        if (name && name !== layer.name) put(`Rename ${layer.name}`, { name: freeLayerName(flourish, name) });
        else event.currentTarget.value = layer.name;
      }}
    />
    <button
      class="text-second hover:text-ink"
      aria-label="Duplicate the layer"
      title="Duplicate (D on its bar)"
      onclick={() => duplicateLayer(session, cueing, flourish, layer)}><Copy size={13} /></button
    >
    <button
      class="text-second hover:text-ink"
      aria-label="Delete the layer"
      title="Delete"
      onclick={() => deleteLayer(session, flourish, layer)}><Trash2 size={13} /></button
    >
  </div>
  <div class="mt-1.5 grid grid-cols-[4.5rem_1fr] items-center gap-x-2 gap-y-1">
    <span class="text-second">material</span>
    <select
      class="min-w-0 bg-transparent font-semibold"
      aria-label="Material of the layer"
      value={layer.material}
      onchange={(event) => put(`Dress ${layer.name}`, { material: event.currentTarget.value })}
    >
      {#if !session.materials.some(({ id }) => id === layer.material)}
        <option value={layer.material}>(a material that is gone)</option>
      {/if}
      {#each session.materials as each (each.id)}<option value={each.id}>{each.name}</option>{/each}
    </select>
    {#if layer.mesh}
      <span class="text-second">mesh</span>
      <select
        class="bg-transparent font-semibold"
        aria-label="Kind of mesh of the layer"
        value={layer.mesh.kind}
        onchange={(event) =>
          put(`Make ${layer.name} a ${event.currentTarget.value}`, {
            mesh: meshStarter(event.currentTarget.value as MadeRecipe['kind']),
          })}
      >
        {#if layer.mesh.kind === 'imported'}<option value="imported">imported</option>{/if}
        {#each MESH_KINDS.keys() as each (each)}<option value={each}>{each}</option>{/each}
      </select>
    {/if}
    <NumberRow
      word="begins at"
      value={layer.start}
      label="Begins at"
      min={0}
      max={600}
      unit=" s"
      onchange={(start) => put(`Retime ${layer.name}`, { start }, 'times')}
      onsettle={settle}
    />
    <NumberRow
      word="lives"
      value={layer.life}
      label="Lives"
      min={1 / 60}
      max={600}
      unit=" s"
      onchange={(life) => put(`Retime ${layer.name}`, { life }, 'times')}
      onsettle={settle}
    />
    <NumberRow
      word="size"
      value={layer.size}
      label="Size of the layer"
      min={1e-4}
      max={1000}
      onchange={(size) => put(`Size ${layer.name}`, { size }, 'size')}
      onsettle={settle}
    />
    <MaybeCurve
      word="over life"
      label="size over life"
      value={layer.sizes}
      starter={ramp(1, 0)}
      title="What the size is multiplied by, over its life"
      onchange={(wanted) => putMaybe('sizes', wanted)}
      onsettle={settle}
    />
    {#if layer.kind === 'mesh'}
      <NumberRow
        word="spin"
        value={layer.spin}
        label="Spin"
        step={1}
        min={-36000}
        max={36000}
        unit=" °/s"
        onchange={(spin) => put(`Spin ${layer.name}`, { spin }, 'spin')}
        onsettle={settle}
      />
      <MaybeCurve
        word="its force"
        label="spin over life"
        value={layer.spinForce}
        starter={ramp(1, 0)}
        title="What the spin is multiplied by, over its life"
        onchange={(wanted) => putMaybe('spinForce', wanted)}
        onsettle={settle}
      />
    {/if}
  </div>
  <div class="mt-1 flex flex-col gap-0.5">
    {#if layer.mesh && meshKind}
      <MeshWords mesh={layer.mesh} of={layer.name} onchange={setMesh} onsettle={settle} />
      {#each Object.entries(meshKind.fields) as [name, field] (name)}
        <NumbersLine
          word={name}
          label="{layer.name} {name}"
          value={meshNumbers(name)}
          min={field.least}
          max={field.most}
          whole={field.whole}
          onchange={(value) => setMesh(name, value.length === 1 ? value[0]! : value)}
          onsettle={settle}
        />
      {/each}
    {/if}
    <NumbersLine
      word="place"
      label="{layer.name} place"
      value={layer.at}
      unit=" m"
      onchange={(at) => put(`Move ${layer.name}`, { at: at as Triple }, 'at')}
      onsettle={settle}
    />
    <NumbersLine
      word="turned"
      label="{layer.name} turned"
      value={layer.rotation}
      step={0.5}
      unit="°"
      onchange={(rotation) => put(`Turn ${layer.name}`, { rotation: rotation as Triple }, 'rotation')}
      onsettle={settle}
    />
    {#if layer.kind === 'mesh'}
      <NumbersLine
        word="spin axis"
        label="{layer.name} spin axis"
        value={layer.spinAxis}
        onchange={(spinAxis) => put(`Spin ${layer.name}`, { spinAxis: spinAxis as Triple }, 'axis')}
        onsettle={settle}
      />
    {/if}
    <NumbersLine
      word="drawn order"
      label="{layer.name} drawn order"
      value={[layer.drawOrder ?? 0]}
      whole
      min={-100}
      max={100}
      onchange={([drawOrder]) => put(`Order ${layer.name}`, { drawOrder: drawOrder! }, 'order')}
      onsettle={settle}
    />
  </div>
  {#if layer.ribbon}
    <RibbonSettings
      {session}
      {set}
      ribbon={layer.ribbon}
      name={layer.name}
      onchange={(ribbon: Ribbon, merge: string) => put(`Change ${layer.name}`, { ribbon }, merge)}
      onsettle={settle}
    />
  {:else if layer.sprites}
    <SpriteSettings
      {flourish}
      {layer}
      sprites={layer.sprites}
      onchange={(sprites: Sprites, merge: string) => put(`Change ${layer.name}`, { sprites }, merge)}
      onsettle={settle}
    />
  {/if}
  <h4 class="mt-2 mb-1 text-third">Over its life</h4>
  {#each lifetimes as parameter (parameter.id)}
    {@const curves = curvesOf(parameter.id)}
    <div class="py-0.5">
      <div class="flex items-center gap-1.5">
        <span class="min-w-0 flex-1 truncate"
          >{parameter.name}
          <small class="mono text-third">{slots.reads.get(parameter.name) ?? ''}</small></span
        >
        {#if curves}
          <button
            class="text-third hover:text-ink"
            aria-label="Do not drive {parameter.name}"
            onclick={() => drive(parameter.id, false)}><X size={12} /></button
          >
        {:else}
          <button
            class="text-third hover:text-ink"
            aria-label="Drive {parameter.name}"
            onclick={() => drive(parameter.id, true)}>curve…</button
          >
        {/if}
      </div>
      {#each curves ?? [] as curve, i (i)}
        <div class="flex items-center gap-1.5">
          {#if curves!.length > 1}
            <span class="w-10 text-[11px] text-third"
              >{PARTS[parameter.kind]?.[i] ?? ['x', 'y', 'z', 'w'][i]}</span
            >
          {/if}
          <div class="min-w-0 flex-1">
            <CurveField
              value={curve}
              label="{parameter.name}{curves!.length > 1
                ? ` ${PARTS[parameter.kind]?.[i] ?? ['x', 'y', 'z', 'w'][i]}`
                : ''} over life"
              onchange={(wanted) => putCurve(parameter.id, i, wanted)}
              onsettle={settle}
            />
          </div>
        </div>
      {/each}
    </div>
  {:else}
    <p class="text-[12px] text-second">
      Its shader has no lifetime parameter. A parameter becomes one where it is made or changed: Is of · an
      effect’s lifetime.
    </p>
  {/each}
</div>
