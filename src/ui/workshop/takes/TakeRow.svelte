<script lang="ts">
  import ChevronFirst from '@lucide/svelte/icons/chevron-first';
  import Pause from '@lucide/svelte/icons/pause';
  import Play from '@lucide/svelte/icons/play';
  import StepBack from '@lucide/svelte/icons/step-back';
  import StepForward from '@lucide/svelte/icons/step-forward';
  import X from '@lucide/svelte/icons/x';
  import { tick as rendered } from 'svelte';
  import { toast } from 'svelte-sonner';
  import type { PartOf } from '#core/document/project.ts';
  import { formatNumber } from '#core/numbers/format.ts';
  import { differenceText, keyName } from '#core/time/takes.ts';
  import { TICKS_PER_SECOND } from '#core/time/tick.ts';
  import { download } from '../../parts/download.ts';
  import { duplicatePart, namePart, removePart } from '../parts/doToPart.ts';
  import type { Session } from '../state/session.svelte.ts';
  import type { Comparing } from '../compare/comparing.svelte.ts';
  import { SPEEDS, type Taking } from './taking.svelte.ts';

  let {
    session,
    taking,
    comparing,
    take,
  }: { session: Session; taking: Taking; comparing: Comparing; take: PartOf<'take'> } = $props();
  const isOpen = $derived(taking.take?.id === take.id);
  const seconds = $derived(take.body.ticks / TICKS_PER_SECOND);
  let naming = $state(false);
  let input = $state<HTMLInputElement>();

  /** What a number is of, as the project calls it. */
  const nameOf = (key: string): string =>
    keyName(key, {
      part: (id) => session.part(id)?.name,
      prop: (id) => session.stage?.body.props.find((each) => each.id === id)?.name,
      layer: (id) =>
        session.stage?.body.flourishes?.flatMap(({ layers }) => layers).find((each) => each.id === id)?.name,
    });
  const told = $derived(taking.differences.slice(0, 6).map((each) => differenceText(each, nameOf)));
  const numbers = (value: readonly number[] | null): string => value?.map(formatNumber).join(' ') ?? '—';

  const rename = async (name: string) => {
    naming = false;
    const why = name.trim() && name.trim() !== take.name ? await namePart(session, take, name) : null;
    if (why) toast.error(why);
  };
  const askName = async () => {
    naming = true;
    await rendered();
    input?.select();
  };
  const onkeydown = (event: KeyboardEvent) => {
    if (event.target !== event.currentTarget) return;
    if (event.key === 'Enter') taking.open(take);
    else if (event.key === 'F2') void askName();
    else if (event.key === 'd') void duplicatePart(session, take);
    else if (event.key === 'Delete') void removePart(session, take);
    else if (event.key === 'Escape' && isOpen) taking.close();
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const onScrub = (event: KeyboardEvent) => {
    const way = { ArrowLeft: -1, ArrowRight: 1, PageUp: 60, PageDown: -60 }[event.key];
    if (event.key === ' ') taking.play(!taking.playing);
    else if (way) taking.seek(taking.tick + way * (event.shiftKey ? 10 : 1));
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const exportValues = () => {
    const made = taking.exported();
    if (made) download(`${take.name}.take-values.json`, 'application/json', JSON.stringify(made));
  };
</script>

<section class="row" class:open={isOpen} aria-label="Take {take.name}">
  <div
    class="margin"
    role="button"
    tabindex="0"
    data-take={take.name}
    onclick={() => !isOpen && taking.open(take)}
    {onkeydown}
  >
    {#if naming}
      <input
        bind:this={input}
        class="field w-full"
        aria-label="Name of the take"
        value={take.name}
        onclick={(event) => event.stopPropagation()}
        onblur={(event) => void rename(event.currentTarget.value)}
        onkeydown={(event) => {
          if (event.key === 'Escape') event.currentTarget.value = take.name;
          if (event.key === 'Enter' || event.key === 'Escape') event.currentTarget.blur();
          event.stopPropagation();
        }}
      />
    {:else}
      <div class="truncate text-[15px] font-semibold">{take.name}</div>
    {/if}
    <div class="text-[12px] text-second">take · {formatNumber(seconds)} s</div>
  </div>
  <div class="min-w-0 flex-1 px-3 py-2">
    {#if !isOpen}
      <div class="flex items-center gap-4 text-second">
        <button class="hover:text-ink" onclick={() => taking.open(take)}>Replay</button>
        <button class="hover:text-ink" onclick={() => void askName()}>Rename</button>
        <button class="hover:text-ink" onclick={() => void duplicatePart(session, take)}>Duplicate</button>
        <button class="hover:text-ink" onclick={() => void removePart(session, take)}>Delete</button>
        <span class="text-third"
          >{take.body.inputs.length} input{take.body.inputs.length === 1 ? '' : 's'}</span
        >
      </div>
    {:else}
      {#if taking.share !== null}
        <div class="flex items-center gap-3 text-second">
          <progress class="w-40" value={taking.share}></progress>
          {Math.round(100 * taking.share)} % replayed
          <button class="underline hover:text-ink" onclick={taking.cancel}>Cancel</button>
        </div>
      {/if}
      {#if taking.played}
        <div class="flex flex-wrap items-center gap-x-3 gap-y-1.5">
          <div class="flex items-center gap-2">
            <button class="tool" aria-label="To the beginning" onclick={() => taking.seek(0)}
              ><ChevronFirst size={14} /></button
            >
            <button class="tool" aria-label="A tick back" onclick={() => taking.seek(taking.tick - 1)}
              ><StepBack size={14} /></button
            >
            <button
              class="tool"
              aria-label={taking.playing ? 'Pause' : 'Play the take'}
              onclick={() => taking.play(!taking.playing)}
              >{#if taking.playing}<Pause size={14} />{:else}<Play size={14} />{/if}</button
            >
            <button class="tool" aria-label="A tick on" onclick={() => taking.seek(taking.tick + 1)}
              ><StepForward size={14} /></button
            >
          </div>
          <input
            type="range"
            class="min-w-40 flex-1 accent-ink"
            aria-label="Tick of the take"
            min="0"
            max={take.body.ticks - 1}
            value={taking.tick}
            oninput={(event) => taking.seek(event.currentTarget.valueAsNumber)}
            onkeydown={onScrub}
          />
          <span class="mono w-32 text-right"
            >{formatNumber(taking.tick / TICKS_PER_SECOND)} s · tick {taking.tick}</span
          >
          <select
            class="bg-transparent"
            aria-label="Speed"
            value={taking.speed}
            onchange={(event) => taking.setSpeed(Number(event.currentTarget.value))}
          >
            {#each SPEEDS as each (each)}<option value={each}>× {each}</option>{/each}
          </select>
          <button class="tool" aria-label="Close the take" onclick={taking.close}><X size={14} /></button>
        </div>
        <div class="mt-1.5 flex flex-wrap items-center gap-x-4 gap-y-1">
          {#if taking.played.mistake}
            <p class="text-oxblood">
              The script {taking.played.mistake.name} went wrong{taking.played.mistake.line
                ? ` in line ${taking.played.mistake.line}`
                : ''}: {taking.played.mistake.message}
            </p>
          {:else if told.length}
            <div class="w-full text-oxblood" role="alert">
              {#each told as sentence (sentence)}<p>{sentence}</p>{/each}
              {#if taking.differences.length > told.length}<p>
                  {taking.differences.length - told.length} more numbers differ there.
                </p>{/if}
            </div>
            <button class="btn h-6" onclick={taking.accept} title="What it is now is what it should be"
              >Take it as it is now</button
            >
          {:else}
            <p class="text-second" data-same>Every number is as it was recorded.</p>
          {/if}
          <span class="ml-auto flex items-center gap-4 text-second">
            {#if taking.takes.length > 1}
              <label
                >beside <select
                  class="bg-transparent"
                  aria-label="Take beside it"
                  value={taking.other?.id ?? ''}
                  onchange={(event) => taking.compare(event.currentTarget.value)}
                >
                  <option value="">no other</option>
                  {#each taking.takes.filter((each) => each.id !== take.id) as each (each.id)}<option
                      value={each.id}>{each.name}</option
                    >{/each}
                </select></label
              >
              {#if taking.other}
                <button
                  class="hover:text-ink"
                  class:underline={comparing.other?.kind === 'take'}
                  aria-pressed={comparing.other?.kind === 'take'}
                  title="The other take on the left of an edge on the stage, this one on its right"
                  onclick={() => comparing.choose(comparing.other?.kind === 'take' ? null : { kind: 'take' })}
                  >Wipe</button
                >
              {/if}
            {/if}
            {#if taking.drawn !== null}
              <progress class="w-24" aria-label="Frames" value={taking.drawn}></progress>
              <button class="underline hover:text-ink" onclick={taking.stopDrawing}>Cancel</button>
            {:else}
              <select
                class="bg-transparent"
                aria-label="Pictures"
                value=""
                onchange={(event) => {
                  const [as, perSecond] = event.currentTarget.value.split(' ');
                  event.currentTarget.value = '';
                  void taking.drawFrames(Number(perSecond), as as 'png' | 'webm');
                }}
              >
                <option value="" disabled>Frames…</option>
                {#each [['webm', 'as WebM'], ['png', 'as PNG']] as const as [as, words] (as)}
                  <optgroup label={words}>
                    {#each [60, 30, 25, 24, 12] as each (each)}<option value="{as} {each}"
                        >{each} a second, {words}</option
                      >{/each}
                  </optgroup>
                {/each}
              </select>
            {/if}
            <button class="hover:text-ink" title="What was driven, tick by tick" onclick={exportValues}
              >Values as JSON</button
            >
          </span>
        </div>
        {#if taking.rows.length}
          <table class="mt-2 max-w-full" aria-label="Driven in this tick">
            <thead class="sr-only"><tr><th>what</th><th>{take.name}</th><th>the other</th></tr></thead>
            <tbody>
              {#each taking.rows as { key, mine, theirs } (key)}
                <tr class:differs={taking.other && numbers(mine) !== numbers(theirs)}>
                  <td class="pr-6 text-second">{nameOf(key)}</td>
                  <td class="mono pr-6">{numbers(mine)}</td>
                  {#if taking.other}<td class="mono">{numbers(theirs)}</td>{/if}
                </tr>
              {/each}
            </tbody>
          </table>
        {:else}
          <p class="mt-1 text-third">Nothing is driven in this tick.</p>
        {/if}
      {/if}
    {/if}
  </div>
</section>

<style>
  .row {
    display: flex;
    border-bottom: 1px solid var(--rule);
  }
  .margin {
    flex: none;
    width: 126px;
    padding: 7px 6px 7px 14px;
    border-right: 1px solid var(--rule);
    cursor: default;
  }
  .open .margin {
    box-shadow: inset 3px 0 0 var(--ink);
  }
  .tool {
    color: var(--second);
  }
  .tool:hover {
    color: var(--ink);
  }
  .differs {
    font-weight: 700;
  }
  .differs td:first-child::before {
    content: '≠ ';
  }
</style>
