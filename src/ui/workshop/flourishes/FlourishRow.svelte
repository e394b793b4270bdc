<script lang="ts">
  import { DropdownMenu } from 'bits-ui';
  import Plus from '@lucide/svelte/icons/plus';
  import { LAYER_KINDS, flourishLength, type Flourish } from '#core/document/flourishes.ts';
  import type { PartOf } from '#core/document/project.ts';
  import { changeFlourish, freeFlourishName } from '#core/edits/flourishEdits.ts';
  import { formatNumber } from '#core/numbers/format.ts';
  import type { RehearsalRemark } from '#core/time/remarksOn.ts';
  import { beginsOf, type Cueing } from '../cues/cueing.svelte.ts';
  import RulerRow from '../cues/RulerRow.svelte';
  import { placeName } from '#core/document/targets.ts';
  import type { Rehearsal } from '../rehearsal.svelte.ts';
  import { renameThing } from '../set/renameThing.ts';
  import type { Session } from '../state/session.svelte.ts';
  import { addLayer, deleteFlourish, duplicateFlourish } from './doToFlourish.ts';
  import LayerLane from './LayerLane.svelte';

  /** A flourish under the ruler: its layers as bars, from when they begin to when nothing of them is left. */
  interface Props {
    session: Session;
    rehearsal: Rehearsal;
    cueing: Cueing;
    set: PartOf<'stage'>;
    flourish: Flourish;
    remarks: readonly RehearsalRemark[];
    /** Where a time is on the ruler. */
    x: (seconds: number) => number;
  }
  let { session, rehearsal, cueing, set, flourish, remarks, x }: Props = $props();
  const isHeld = $derived(cueing.flourish?.id === flourish.id);
  const begins = $derived(beginsOf(cueing.cues, cueing.flourishes).get(flourish.id) ?? 0);
  const own = $derived(remarks.filter(({ of }) => of.kind === 'flourish' && of.id === flourish.id));
  const playing = $derived(rehearsal.running ? rehearsal.playing.get(flourish.id) : undefined);
  const head = $derived(playing ?? (isHeld && cueing.isScrubbed ? cueing.at : undefined));

  const how = $derived(
    `${formatNumber(flourishLength(flourish))} s${flourish.play === 'looped' ? ', over and over' : ''}${
      flourish.of === undefined ? '' : `, on ${placeName(set.body.props, flourish.of)}`
    }`,
  );

  const rename = (wanted: string) => {
    cueing.name(null);
    const name = wanted.trim();
    if (!name || name === flourish.name) return;
    const free = freeFlourishName(set, name);
    const edit = changeFlourish(set, flourish.id, `Rename ${flourish.name}`, (each) => ({
      ...each,
      name: free,
    }));
    void renameThing(session, 'flourish', [flourish.name, free], edit);
  };
</script>

<RulerRow
  kind="flourish"
  of={flourish}
  set={set.body}
  {how}
  now={playing === undefined ? null : `plays at ${playing.toFixed(2)} s`}
  wrong={own.flatMap(({ of, message }) => (of.layer === undefined ? [message] : []))}
  head={head === undefined ? null : x(begins + head)}
  {isHeld}
  isNaming={cueing.toName === flourish.id}
  onhold={() => cueing.holdFlourish(flourish)}
  onname={(wanted) => (wanted === null ? cueing.name(flourish.id) : rename(wanted))}
  onplay={() => {
    cueing.holdFlourish(flourish);
    cueing.play();
  }}
  onduplicate={() => duplicateFlourish(session, cueing, flourish)}
  ondelete={() => deleteFlourish(session, flourish)}
  keys={!rehearsal.running}
>
  <div class="py-1">
    {#each flourish.layers as layer (layer.id)}
      <LayerLane
        {session}
        {cueing}
        {flourish}
        {layer}
        {begins}
        {x}
        why={own.find(({ of }) => of.layer === layer.id)?.message ?? null}
      />
    {/each}
    <div class="flex h-6 items-center pl-2">
      <DropdownMenu.Root>
        <DropdownMenu.Trigger
          class="flex items-center gap-1 text-second hover:text-ink"
          aria-label="Add a layer to {flourish.name}"><Plus size={12} /> layer</DropdownMenu.Trigger
        >
        <DropdownMenu.Portal>
          <DropdownMenu.Content class="popup w-44 py-1" align="start">
            {#each LAYER_KINDS as kind (kind)}
              <DropdownMenu.Item class="menu-item" onSelect={() => addLayer(session, cueing, flourish, kind)}
                >{{ mesh: 'a mesh', ribbon: 'a ribbon', sprites: 'a shower of sprites' }[
                  kind
                ]}</DropdownMenu.Item
              >
            {/each}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
    </div>
  </div>
</RulerRow>
