<script lang="ts">
  import { DropdownMenu } from 'bits-ui';
  import Plus from '@lucide/svelte/icons/plus';
  import X from '@lucide/svelte/icons/x';
  import type { Cue, Track } from '#core/document/cues.ts';
  import { flourishLength } from '#core/document/flourishes.ts';
  import { changeCue, freeCueName } from '#core/edits/cueEdits.ts';
  import { remarksOn } from '#core/time/remarksOn.ts';
  import { slotKey, slotOf, type Slot } from '#core/time/slots.ts';
  import type { Rehearsal } from '../rehearsal.svelte.ts';
  import type { Session } from '../state/session.svelte.ts';
  import { beginsOf, LEAD, type Cueing } from './cueing.svelte.ts';
  import CueSettings from './CueSettings.svelte';
  import RulerRow from './RulerRow.svelte';
  import FlourishRow from '../flourishes/FlourishRow.svelte';
  import FlourishSettings from '../flourishes/FlourishSettings.svelte';
  import {
    addableSlot,
    addTrack,
    deleteCue,
    doToCue,
    duplicateCue,
    parametersIn,
    targetsIn,
  } from './doToCue.ts';
  import { playWords } from './startWords.ts';
  import { renameThing } from '../set/renameThing.ts';
  import TakeRow from '../takes/TakeRow.svelte';
  import type { Comparing } from '../compare/comparing.svelte.ts';
  import type { Taking } from '../takes/taking.svelte.ts';
  import TrackLane from './TrackLane.svelte';

  let {
    session,
    rehearsal,
    cueing,
    taking,
    comparing,
  }: {
    session: Session;
    rehearsal: Rehearsal;
    cueing: Cueing;
    taking: Taking;
    comparing: Comparing;
  } = $props();

  const MARGIN = 126;
  const set = $derived(session.stage);
  const cues = $derived(cueing.cues);
  const begins = $derived(beginsOf(cues, cueing.flourishes));
  const end = $derived(
    Math.max(
      ...[2, ...cues.map((cue) => begins.get(cue.id)! + cue.length)],
      ...cueing.flourishes.map((each) => begins.get(each.id)! + flourishLength(each)),
    ) + 0.6,
  );
  /** How wide the pane is: lanes are at least that. */
  let room = $state(0);
  const width = $derived(Math.max(Math.ceil(LEAD + end * cueing.perSecond), room - MARGIN));
  const shown = $derived((width - LEAD) / cueing.perSecond);
  const x = (seconds: number) => LEAD + seconds * cueing.perSecond;
  const parametersOf = $derived(parametersIn(session));
  const remarks = $derived(set ? remarksOn(set.body, parametersOf) : []);
  const slotFor = (track: Track): Slot | null => {
    const found = set && slotOf(track.target, set.body, parametersOf);
    return found && !('why' in found) ? found : null;
  };
  /** Marks of the ruler: a figure every so many seconds that there is room for it, ticks between. */
  const every = $derived(
    [0.1, 0.25, 0.5, 1, 2, 5, 10, 30, 60].find((s) => s * cueing.perSecond >= 64) ?? 120,
  );
  const marks = $derived(Array.from({ length: Math.floor(shown / (every / 4)) + 1 }, (_, i) => i));

  /** Where a cue’s playhead is; null where it has none. */
  const headOf = (cue: Cue): number | null => {
    const at = rehearsal.running
      ? rehearsal.standing.get(cue.id)?.at
      : cue.id === cueing.cue?.id && cueing.isScrubbed && !cueing.flourish
        ? cueing.at
        : undefined;
    return at === undefined ? null : x(begins.get(cue.id)! + at);
  };

  /** What the ruler’s playhead is of. */
  const inHand = $derived(cueing.flourish ?? cueing.cue);
  let ruler = $state<HTMLElement>();
  const scrubTo = (event: PointerEvent) => {
    if (!ruler || !inHand) return;
    const seconds = (event.clientX - ruler.getBoundingClientRect().left - LEAD) / cueing.perSecond;
    cueing.scrub(seconds - begins.get(inHand.id)!);
  };
  const walk = (event: KeyboardEvent) => {
    if (!inHand) return;
    const frame = (event.shiftKey ? 10 : 1) / (cueing.frames || 60);
    const to = {
      ...{ ArrowLeft: cueing.at - frame, ArrowRight: cueing.at + frame },
      ...{ Home: 0, End: cueing.length },
    }[event.key];
    if (to === undefined) return;
    cueing.scrub(to);
    event.preventDefault();
    event.stopPropagation();
  };
  const onwheel = (event: WheelEvent) => {
    if (!event.ctrlKey && !event.metaKey) return;
    event.preventDefault();
    cueing.zoom(Math.exp(-event.deltaY / 300));
  };

  const rename = (cue: Cue, wanted: string) => {
    cueing.name(null);
    const name = wanted.trim();
    if (!set || !name || name === cue.name) return;
    const free = freeCueName(set, name);
    const edit = changeCue(set, cue.id, `Rename ${cue.name}`, (each) => ({ ...each, name: free }));
    void renameThing(session, 'cue', [cue.name, free], edit);
  };
  const removeTrack = (cue: Cue, track: Track) =>
    doToCue(session, cue.id, 'Delete the curve', (each) => ({
      ...each,
      tracks: each.tracks.filter(({ id }) => id !== track.id),
    }));
</script>

{#if !set}
  <p class="p-4 text-second">There is no set in this project, and cues play in one.</p>
{:else}
  <div class="flex h-full">
    <div class="min-w-0 flex-1 overflow-auto" {onwheel} bind:clientWidth={room}>
      <div class="relative" style:width="{width + MARGIN}px">
        <div class="sticky top-0 z-[3] flex h-[24px] border-b border-rule bg-page">
          <div class="sticky left-0 z-[2] w-[126px] flex-none border-r border-rule bg-page"></div>
          <div
            bind:this={ruler}
            class="relative flex-1 cursor-ew-resize touch-none"
            role="slider"
            tabindex="0"
            aria-label="Playhead of {inHand?.name ?? 'no cue'}"
            aria-valuenow={cueing.at}
            aria-valuemin={0}
            aria-valuemax={cueing.length}
            title="Drag to see what is in hand at a time; Ctrl wheel for more room"
            onpointerdown={(event) => {
              event.currentTarget.setPointerCapture(event.pointerId);
              scrubTo(event);
            }}
            onpointermove={(event) => event.buttons && scrubTo(event)}
            onkeydown={walk}
          >
            {#each marks as i (i)}
              {@const at = (i * every) / 4}
              <span
                class="absolute bottom-0 border-l border-rule"
                class:major={i % 4 === 0}
                style:left="{x(at)}px"
                style:height={i % 4 === 0 ? '11px' : '5px'}
              ></span>
              {#if i % 4 === 0}
                <span class="mono absolute top-0.5 text-second whitespace-nowrap" style:left="{x(at) + 4}px"
                  >{Number(at.toFixed(2))} s</span
                >
              {/if}
            {/each}
          </div>
        </div>
        {#each cues as cue (cue.id)}
          {@const isHeld = cue.id === cueing.cue?.id && !cueing.flourish}
          {@const standing = rehearsal.standing.get(cue.id)}
          <RulerRow
            kind="cue"
            of={cue}
            set={set.body}
            how={playWords(cue)}
            now={standing ? `${standing.moves ? 'plays' : 'stands'} at ${standing.at.toFixed(2)} s` : null}
            wrong={remarks.flatMap(({ of, message }) =>
              of.id === cue.id && of.start !== undefined ? [message] : [],
            )}
            head={headOf(cue)}
            {isHeld}
            isNaming={cueing.toName === cue.id}
            onhold={() => cueing.hold(cue)}
            onname={(wanted) => (wanted === null ? cueing.name(cue.id) : rename(cue, wanted))}
            onplay={() => {
              cueing.hold(cue);
              cueing.play();
            }}
            onduplicate={() => duplicateCue(session, cueing, cue)}
            ondelete={() => deleteCue(session, cue)}
            keys={!rehearsal.running}
          >
            {#each cue.tracks as track (track.id)}
              {@const why = remarks.find(({ of }) => of.track === track.id)?.message}
              <div class="group relative">
                <TrackLane
                  {session}
                  {cueing}
                  {cue}
                  {track}
                  slot={slotFor(track)}
                  begins={begins.get(cue.id)!}
                  {width}
                />
                <button
                  class="remove text-third group-hover:opacity-100 hover:text-ink focus:opacity-100"
                  style:left="{x(begins.get(cue.id)! + cue.length) + 6}px"
                  aria-label="Delete the curve of {slotFor(track)?.name ?? 'what is gone'}"
                  title="Delete the curve"
                  onclick={() => removeTrack(cue, track)}><X size={12} /></button
                >
                {#if why}<p class="why">{why}</p>{/if}
              </div>
            {/each}
            <div class="flex h-7 items-center pl-2">
              <DropdownMenu.Root>
                <DropdownMenu.Trigger
                  class="flex items-center gap-1 text-second hover:text-ink"
                  aria-label="Let {cue.name} drive something more"
                  ><Plus size={12} /> curve</DropdownMenu.Trigger
                >
                <DropdownMenu.Portal>
                  <DropdownMenu.Content
                    class="popup max-h-(--bits-dropdown-menu-content-available-height) w-60 overflow-y-auto py-1"
                    align="start"
                  >
                    {#each targetsIn(session, set.body) as group, g (g)}
                      {@const slots = group.targets.flatMap(
                        (target) => addableSlot(session, set.body, target) ?? [],
                      )}
                      {#if slots.length}
                        <DropdownMenu.Group>
                          <DropdownMenu.GroupHeading class="px-3 pt-1.5 text-[12px] text-third"
                            >{[group.of, group.kind].filter(Boolean).join(', ')}</DropdownMenu.GroupHeading
                          >
                          {#each slots as slot (slot.key)}
                            <DropdownMenu.Item
                              class="menu-item"
                              disabled={cue.tracks.some((each) => slotKey(each.target) === slot.key)}
                              onSelect={() => addTrack(session, cueing, cue, slot)}
                              >{slot.parameter?.name ??
                                (slot.clip === undefined
                                  ? slot.target.what
                                  : `clip ${slot.name.slice(group.of.length + 1)}`)}</DropdownMenu.Item
                            >
                          {/each}
                        </DropdownMenu.Group>
                      {/if}
                    {/each}
                  </DropdownMenu.Content>
                </DropdownMenu.Portal>
              </DropdownMenu.Root>
            </div>
            {#if cueing.part && isHeld}
              <div
                class="part"
                style:left="{x(begins.get(cue.id)! + cueing.part[0])}px"
                style:width="{(cueing.part[1] - cueing.part[0]) * cueing.perSecond}px"
              ></div>
            {/if}
          </RulerRow>
        {:else}
          <p class="p-4 text-second">
            No cue yet. A cue is a name and curves over time: Add cue, then let it drive a parameter, a prop,
            a light or the camera, and choose what starts it.
          </p>
        {/each}
        {#each cueing.flourishes as flourish (flourish.id)}
          <FlourishRow {session} {rehearsal} {cueing} {set} {flourish} {remarks} {x} />
        {/each}
      </div>
      <!-- Takes stand under the cues, and do not move sideways with their ruler. -->
      <div class="sticky left-0" style:width="{room}px">
        {#each taking.takes as take (take.id)}<TakeRow {session} {taking} {comparing} {take} />{/each}
      </div>
    </div>
    {#if inHand}
      <aside
        class="w-[17.5rem] flex-none overflow-y-auto border-l border-rule bg-page"
        aria-label={cueing.flourish ? 'Flourish in hand' : 'Cue in hand'}
      >
        {#if cueing.flourish}
          <FlourishSettings {session} {cueing} {set} flourish={cueing.flourish} {remarks} />
        {:else if cueing.cue}
          <CueSettings {session} {cueing} {set} cue={cueing.cue} {remarks} />
        {/if}
      </aside>
    {/if}
  </div>
{/if}

<style>
  .major {
    border-color: var(--second);
  }
  .part {
    position: absolute;
    top: 0;
    bottom: 0;
    border: 1px dashed var(--limelight-ink);
    background: var(--limelight-wash);
    pointer-events: none;
  }
  .remove {
    position: absolute;
    top: 6px;
    opacity: 0;
  }
  .why {
    position: absolute;
    bottom: 3px;
    left: 8px;
    color: var(--oxblood);
    font-size: 12px;
    pointer-events: none;
  }
</style>
