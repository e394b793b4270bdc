<script lang="ts">
  import type { Environment, PartOf } from '#core/document/project.ts';
  import { clearEnvironment, setStage } from '#core/edits/stageEdits.ts';
  import type { Session } from '../state/session.svelte.ts';
  import PictureChooser from './PictureChooser.svelte';
  import NumbersLine from './NumbersLine.svelte';
  import SetCard from './SetCard.svelte';

  /** A picture of everything around, that lights the set in place of the fill’s two colours. */
  let { session, set }: { session: Session; set: PartOf<'stage'> } = $props();
  const environment = $derived(set.body.environment);
  const hidden = $derived(environment?.seen === true && (set.body.air?.density ?? 0) > 0);
  let chooser: ReturnType<typeof PictureChooser>;

  const change = (what: Partial<Environment>) => {
    if (!environment) return;
    const { seen, ...wanted } = { ...environment, ...what };
    session.apply(
      setStage(set.id, 'environment', seen ? { ...wanted, seen } : wanted, 'Change the surroundings'),
    );
  };
  const choose = (picture: string) => {
    const before = environment ?? { turn: 0, strength: 1 };
    session.apply(setStage(set.id, 'environment', { ...before, picture }, 'Choose the surroundings'));
    session.settle();
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
          chooser.open();
        }}
      />surroundings</label
    >
    <PictureChooser
      bind:this={chooser}
      words={environment ? 'another picture' : 'choose a picture'}
      label="Picture of what is around"
      title="Twice as wide as high, its middle upstage; HDR too"
      accept=".png,.jpg,.jpeg,.webp,.hdr"
      onchosen={choose}
    />
  {/snippet}
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
    <label
      class="flex items-center gap-1"
      title={hidden ? 'The air of this set hides it' : 'Drawn where nothing stands, and not only lit by'}
      ><input
        type="checkbox"
        checked={environment.seen === true}
        aria-label="The surroundings are seen behind the set"
        onchange={({ currentTarget }) => {
          change({ seen: currentTarget.checked });
          session.settle();
        }}
      />seen behind the set{#if hidden}<span class="text-[12px] text-third">(its air hides it)</span
        >{/if}</label
    >
  {:else}<span class="text-[12px] text-third">lit by the fill</span>{/if}
</SetCard>
