<script lang="ts">
  import { toast } from 'svelte-sonner';
  import type { Environment, PartOf } from '#core/document/project.ts';
  import { clearEnvironment, setStage } from '#core/edits/stageEdits.ts';
  import { keepBlob } from '../keepBlob.ts';
  import type { Session } from '../state/session.svelte.ts';
  import NumbersLine from './NumbersLine.svelte';
  import SetCard from './SetCard.svelte';

  /** A picture of everything around, that lights the set in place of the fill’s two colours. */
  let { session, set }: { session: Session; set: PartOf<'stage'> } = $props();
  const environment = $derived(set.body.environment);
  let chooser = $state<HTMLInputElement | null>(null);

  const change = (what: Partial<Environment>) => {
    if (environment)
      session.apply(setStage(set.id, 'environment', { ...environment, ...what }, 'Change the surroundings'));
  };
  const choose = async (file: File | undefined) => {
    if (!file) return;
    try {
      const picture = await keepBlob(file, file.name);
      const { turn, strength } = environment ?? { turn: 0, strength: 1 };
      session.apply(setStage(set.id, 'environment', { picture, turn, strength }, 'Choose the surroundings'));
      session.settle();
    } catch (error) {
      toast.error((error as Error).message);
    }
  };
</script>

<SetCard label="Surroundings">
  {#snippet heading()}
    <label class="flex items-center gap-1"
      ><input
        type="checkbox"
        checked={environment !== undefined}
        aria-label="Light from a picture of what is around"
        onclick={(event) => {
          if (environment) return session.apply(clearEnvironment(set.id));
          // It is on once a picture is chosen.
          event.preventDefault();
          chooser?.click();
        }}
      />surroundings</label
    >
    {#if environment}
      <button class="text-[11.5px] font-normal underline" onclick={() => chooser?.click()}
        >another picture</button
      >
    {/if}
  {/snippet}
  <input
    bind:this={chooser}
    type="file"
    class="hidden"
    aria-label="Picture of what is around"
    accept=".png,.jpg,.jpeg,.webp,.hdr"
    onchange={(event) => {
      void choose(event.currentTarget.files?.[0]);
      event.currentTarget.value = '';
    }}
  />
  {#if environment}
    <NumbersLine
      word="turned"
      label="turn of the surroundings"
      value={[environment.turn]}
      step={1}
      unit="°"
      onchange={([turn]) => change({ turn: turn! })}
      onsettle={session.settle}
    />
    <NumbersLine
      word="strength"
      label="strength of the surroundings"
      value={[environment.strength]}
      min={0}
      max={100}
      onchange={([strength]) => change({ strength: strength! })}
      onsettle={session.settle}
    />
  {:else}<button class="text-left text-[12px] text-second hover:text-ink" onclick={() => chooser?.click()}
      >choose a picture, HDR too</button
    >{/if}
</SetCard>
