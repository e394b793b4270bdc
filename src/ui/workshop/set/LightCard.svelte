<script lang="ts">
  import X from '@lucide/svelte/icons/x';
  import type { Light, PartOf } from '#core/document/project.ts';
  import { changeLight, removeLight, setShadow } from '#core/edits/stageEdits.ts';
  import { fromHex, toHex } from '#core/numbers/colour.ts';
  import type { Session } from '../state/session.svelte.ts';
  import NumbersLine from './NumbersLine.svelte';
  import SetCard from './SetCard.svelte';

  interface Props {
    session: Session;
    set: PartOf<'stage'>;
    light: Light;
    at: number;
  }
  let { session, set, light, at }: Props = $props();
  const name = $derived(at === 0 ? 'key light' : `light ${at + 1}`);
  const change = (what: Partial<Light>, merge?: string) => session.apply(changeLight(set, at, what, merge));
</script>

<SetCard label={name}>
  {#snippet picture()}
    <input
      type="color"
      class="h-full w-full"
      aria-label="Colour of the {name}, as it looks"
      value={toHex(light.color)}
      oninput={(event) => change({ color: fromHex(event.currentTarget.value) }, 'color')}
      onchange={session.settle}
    />
  {/snippet}
  {#snippet heading()}
    <select
      aria-label="Kind of the {name}"
      value={light.kind}
      onchange={(event) => change({ kind: event.currentTarget.value as Light['kind'] })}
    >
      <option value="direction">{at === 0 ? 'key' : 'light'}, from afar</option>
      <option value="point">{at === 0 ? 'key' : 'light'}, at a point</option>
    </select>
    <button
      class="ml-auto text-third hover:text-ink"
      aria-label="Delete the {name}"
      title="Delete the {name}"
      onclick={() => session.apply(removeLight(set, at))}><X size={12} /></button
    >
  {/snippet}
  <div class="flex gap-4">
    <NumbersLine
      word="strength"
      label="{name} strength"
      value={[light.intensity]}
      min={0}
      onchange={([intensity]) => change({ intensity: intensity! }, 'intensity')}
      onsettle={session.settle}
    />
    {#if at === 0}
      <label class="flex h-[17px] items-center gap-1 text-[12px] text-third">
        <input
          type="checkbox"
          checked={light.shadow !== undefined}
          aria-label="The {name} throws a shadow"
          onchange={(event) => session.apply(setShadow(set, event.currentTarget.checked ? 0.05 : null))}
        />
        {#if light.shadow === undefined}shadow{/if}
      </label>
      {#if light.shadow !== undefined}
        <NumbersLine
          word="shadow"
          label="softness of the shadow"
          value={[light.shadow]}
          min={0}
          max={2}
          unit=" m"
          onchange={([shadow]) => session.apply(setShadow(set, shadow!))}
          onsettle={session.settle}
        />
      {/if}
    {/if}
  </div>
  <NumbersLine
    word={light.kind === 'point' ? 'at' : 'from'}
    label="{name} position"
    value={light.position}
    unit=" m"
    onchange={(value) => change({ position: value as Light['position'] }, 'position')}
    onsettle={session.settle}
  />
</SetCard>
