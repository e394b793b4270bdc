<script lang="ts">
  import type { Prop } from '#core/document/project.ts';
  import { mayStandOn, setParent } from '#core/edits/stageEdits.ts';
  import { jointAt } from '#core/rigs/poseOf.ts';
  import { rigOf } from '#core/rigs/rig.ts';
  import { toast } from 'svelte-sonner';
  import type { Session } from '../state/session.svelte.ts';
  import { changeProp } from './doToProp.ts';
  import NumbersLine from './NumbersLine.svelte';
  import SetCard from './SetCard.svelte';

  let { session, prop, inHand }: { session: Session; prop: Prop; inHand: boolean } = $props();
  const change = (label: string, how: (prop: Prop) => Prop, merge?: string) =>
    changeProp(session, prop, label, how, merge);
  type Three = readonly [number, number, number];
  const setPlace = (what: 'position' | 'rotation' | 'scale', value: readonly number[]) =>
    change(`Place ${prop.name}`, (each) => ({ ...each, [what]: value as Three }), what);
  /** What it could stand on is listed once somebody looks: a set has many props, and each has this list. */
  let isLooking = $state(false);
  const carriers = $derived(
    session.stage?.body.props.filter(
      (each) => each.id === prop.parent || (isLooking && mayStandOn(session.stage!, [prop.id], each.id)),
    ) ?? [],
  );
  const face = (how: string) =>
    change(
      how ? `Turn ${prop.name} to the camera` : `Turn ${prop.name} as it was`,
      ({ faces: _, ...each }) => (how === 'camera' || how === 'upright' ? { ...each, faces: how } : each),
    );
  const settle = () => session.settle();
  const carrier = $derived(session.stage?.body.props.find(({ id }) => id === prop.parent)?.mesh);
  const joints = $derived(carrier?.kind === 'imported' ? (carrier.joints ?? []) : []);
  const hang = (name: string) => {
    if (!session.stage || carrier?.kind !== 'imported') return;
    const rig = rigOf(carrier.blob);
    const rest = rig && name ? jointAt(rig, name) : null;
    if (name && !rest) return void toast('The mesh has not arrived yet; try again in a moment.');
    const joint = rest ? { name, rest: rest.map((x) => Math.round(x * 1e6) / 1e6 + 0) } : undefined;
    session.apply(setParent(session.stage, [prop.id], prop.parent, joint));
    settle();
  };
</script>

<SetCard label="Place of {prop.name}" {inHand}>
  <div class="flex gap-4">
    <div class="place">
      <NumbersLine
        word="at"
        label="{prop.name} position"
        value={prop.position}
        unit=" m"
        onchange={(value) => setPlace('position', value)}
        onsettle={settle}
      />
      <NumbersLine
        word="turn"
        label="{prop.name} turn"
        value={prop.rotation}
        step={0.5}
        unit="°"
        onchange={(value) => setPlace('rotation', value)}
        onsettle={settle}
      />
      <NumbersLine
        word="scale"
        label="{prop.name} scale"
        value={prop.scale ?? [1, 1, 1]}
        min={1e-3}
        onchange={(value) => setPlace('scale', value)}
        onsettle={settle}
      />
    </div>
    <div class="ways">
      <select
        aria-label="What {prop.name} stands on"
        title="It moves with what it stands on"
        onpointerenter={() => (isLooking = true)}
        onfocus={() => (isLooking = true)}
        value={prop.parent ?? ''}
        onchange={(event) =>
          session.stage &&
          session.apply(setParent(session.stage, [prop.id], event.currentTarget.value || undefined))}
      >
        <option value="">in the world</option>
        {#each carriers as each (each.id)}<option value={each.id}>on {each.name}</option>{/each}
      </select>
      {#if joints.length}
        <select
          aria-label="The joint that {prop.name} hangs on"
          title="It moves with that joint when a clip plays"
          value={prop.joint?.name ?? ''}
          onchange={(event) => hang(event.currentTarget.value)}
        >
          <option value="">on no joint of it</option>
          {#each joints as name (name)}<option value={name}>at {name}</option>{/each}
        </select>
      {/if}
      <select
        aria-label="Where {prop.name} faces"
        value={prop.faces ?? ''}
        onchange={(event) => face(event.currentTarget.value)}
      >
        <option value="">as turned</option>
        <option value="camera">faces the camera</option>
        <option value="upright">faces it upright</option>
      </select>
    </div>
  </div>
</SetCard>

<style>
  .ways {
    display: flex;
    flex-direction: column;
    gap: 2px;
  }
  .ways select {
    max-width: 9rem;
    background: transparent;
    font-size: 12px;
    line-height: 16px;
    color: var(--second);
  }
  .place {
    display: flex;
    flex-direction: column;
    padding-top: 1px;
  }
</style>
