<script lang="ts">
  import Plus from '@lucide/svelte/icons/plus';
  import type { PartOf } from '#core/document/project.ts';
  import { addLight, clearAir, MOST_LIGHTS, setStage, setToneMapping } from '#core/edits/stageEdits.ts';
  import type { Session } from '../state/session.svelte.ts';
  import ColourLine from './ColourLine.svelte';
  import LightCard from './LightCard.svelte';
  import NumbersLine from './NumbersLine.svelte';
  import SetCard from './SetCard.svelte';
  import Surroundings from './Surroundings.svelte';
  import SetRow from './SetRow.svelte';

  let { session, set }: { session: Session; set: PartOf<'stage'> } = $props();
  const body = $derived(set.body);
  const MAPPINGS = ['filmic', 'neutral', 'none'] as const;
  type Three = readonly [number, number, number];
  const fill = (which: 'ambientUp' | 'ambientDown', value: Three) =>
    session.apply(setStage(set.id, which, value, 'Change fill'));
  const camera = (what: Partial<typeof body.camera>) =>
    session.apply(setStage(set.id, 'camera', { ...body.camera, ...what }, 'Change camera'));
  type Air = NonNullable<typeof body.air>;
  /** Air as it is begun: a bluish haze that halves what is seen in some seven metres. */
  const HAZE: Air = { color: [0.02, 0.03, 0.04], density: 0.1 };
  const air = (what: Partial<Air>) =>
    session.apply(setStage(set.id, 'air', { ...(body.air ?? HAZE), ...what }, 'Change the air'));
  const bloom = (what: Partial<typeof body.bloom>) =>
    session.apply(setStage(set.id, 'bloom', { ...body.bloom, ...what }, 'Change bloom'));
</script>

<SetRow aria-label="Light">
  {#snippet margin()}
    <div class="text-[15px] font-semibold">light</div>
    <div class="text-[12px] text-second">key, fill, air</div>
  {/snippet}
  {#each body.lights as light, at (at)}<LightCard {session} {set} {light} {at} />{/each}
  {#if body.lights.length < MOST_LIGHTS}
    <button
      class="staff-add"
      aria-label="Add a light"
      title="Add a light"
      onclick={() => session.apply(addLight(set))}><Plus size={13} /></button
    >
  {/if}
  <SetCard label="Fill">
    {#snippet heading()}fill{/snippet}
    {#each [['ambientUp', 'from above'], ['ambientDown', 'from below']] as const as [which, word] (which)}
      <ColourLine
        {word}
        label="Fill {word}"
        value={body[which]}
        onchange={(value) => fill(which, value)}
        onsettle={session.settle}
      />
    {/each}
  </SetCard>
  <Surroundings {session} {set} />
  <SetCard label="Air">
    {#snippet heading()}
      <label class="flex items-center gap-1"
        ><input
          type="checkbox"
          checked={body.air !== undefined}
          aria-label="Air between the props"
          onchange={(event) => (event.currentTarget.checked ? air({}) : session.apply(clearAir(set.id)))}
        />air</label
      >
    {/snippet}
    {#if body.air}
      <NumbersLine
        word="thick"
        label="density of the air"
        value={[body.air.density]}
        step={0.005}
        min={0}
        max={10}
        unit="/m"
        onchange={([density]) => air({ density: density! })}
        onsettle={session.settle}
      />
      <ColourLine
        word="its light"
        label="Colour of the air"
        value={body.air.color}
        onchange={(color) => air({ color })}
        onsettle={session.settle}
      />
    {:else}<span class="text-[12px] text-third">clear</span>{/if}
  </SetCard>
</SetRow>
<SetRow aria-label="Camera">
  {#snippet margin()}
    <div class="text-[15px] font-semibold">camera</div>
    <button class="text-left text-[12px] text-second hover:text-ink" onclick={() => session.askTakeView()}
      >take it from the view</button
    >
  {/snippet}
  <SetCard label="Camera">
    {#snippet heading()}eye{/snippet}
    <NumbersLine
      word="at"
      label="camera position"
      value={body.camera.position}
      unit=" m"
      onchange={(value) => camera({ position: value as Three })}
      onsettle={session.settle}
    />
    <NumbersLine
      word="looks at"
      label="camera target"
      value={body.camera.target}
      unit=" m"
      onchange={(value) => camera({ target: value as Three })}
      onsettle={session.settle}
    />
  </SetCard>
  <SetCard label="Lens">
    {#snippet heading()}
      <span>lens</span>
      <select
        aria-label="Tone mapping"
        title="How light becomes what is displayed"
        value={body.toneMapping ?? 'filmic'}
        onchange={(event) =>
          session.apply(setToneMapping(set.id, event.currentTarget.value as (typeof MAPPINGS)[number]))}
      >
        {#each MAPPINGS as each (each)}<option value={each}>{each === 'none' ? 'not mapped' : each}</option
          >{/each}
      </select>
    {/snippet}
    <NumbersLine
      word="height"
      label="field of view"
      value={[body.camera.fieldOfView]}
      step={0.25}
      min={5}
      max={140}
      unit="°"
      onchange={([fieldOfView]) => camera({ fieldOfView: fieldOfView! })}
      onsettle={session.settle}
    />
    <NumbersLine
      word="exposure"
      label="exposure"
      value={[Math.log2(Math.max(body.exposure, 1e-6))]}
      min={-10}
      max={10}
      unit=" st"
      onchange={([stops]) => session.apply(setStage(set.id, 'exposure', 2 ** stops!, 'Change exposure'))}
      onsettle={session.settle}
    />
  </SetCard>
  <SetCard label="Bloom">
    {#snippet heading()}bloom{/snippet}
    <div class="grid grid-flow-col grid-rows-[17px_17px] justify-start gap-x-3.5">
      <NumbersLine
        word="from"
        label="bloom threshold"
        value={[body.bloom.threshold]}
        min={0}
        onchange={([threshold]) => bloom({ threshold: threshold! })}
        onsettle={session.settle}
      />
      <NumbersLine
        word="strength"
        label="bloom strength"
        value={[body.bloom.intensity]}
        min={0}
        onchange={([intensity]) => bloom({ intensity: intensity! })}
        onsettle={session.settle}
      />
      <NumbersLine
        word="reach"
        label="bloom radius"
        value={[body.bloom.radius ?? 1]}
        min={0}
        max={1}
        onchange={([radius]) => bloom({ radius: radius! })}
        onsettle={session.settle}
      />
    </div>
  </SetCard>
</SetRow>
