<script lang="ts">
  import X from '@lucide/svelte/icons/x';
  import type { CueStart } from '#core/document/cues.ts';
  import type { StageDocument } from '#core/document/project.ts';
  import NumberField from '../../parts/NumberField.svelte';
  import Nearness from './Nearness.svelte';
  import PlaceChoice from './PlaceChoice.svelte';
  import { keyName } from './startWords.ts';

  interface Props {
    start: CueStart;
    /** What of the set it can be started by. */
    set: StageDocument;
    /** The cue that it starts, which does not wait for itself. */
    cue: string;
    /** Why nothing would ever start it so. */
    remark: string | null;
    onchange: (start: CueStart) => void;
    onsettle: () => void;
    onremove: () => void;
  }
  let { start, set, cue, remark, onchange, onsettle, onremove }: Props = $props();

  const WAYS = [
    ['key', 'a key'],
    ['click', 'a click'],
    ['near', 'coming near'],
    ['away', 'going away'],
    ['cue', 'another cue'],
    ['begin', 'the beginning'],
  ] as const;
  const others = $derived((set.cues ?? []).filter((each) => each.id !== cue));
  const first = $derived(set.props[0]?.id ?? 'pointer');
  const choose = (by: CueStart['by']) => {
    const made: CueStart =
      by === 'key'
        ? { by, key: 'Space' }
        : by === 'near' || by === 'away'
          ? { by, of: 'walker', to: first, within: 1.5 }
          : by === 'cue'
            ? { by, ...(others[0] ? { cue: others[0].id } : {}) }
            : { by };
    onchange(made);
    onsettle();
  };
  let listening = $state(false);
  const hear = (event: KeyboardEvent) => {
    if (!listening) return;
    event.preventDefault();
    event.stopPropagation();
    listening = false;
    if (event.code === 'Escape') return;
    onchange({ ...start, key: event.code });
    onsettle();
  };
  const put = (change: Partial<CueStart>) => {
    onchange({ ...start, ...change });
    onsettle();
  };
</script>

<div class="flex items-start gap-1.5 py-0.5">
  <div class="flex flex-1 flex-wrap items-center gap-x-1.5 gap-y-1">
    <select
      class="bg-transparent font-semibold"
      aria-label="Started by"
      value={start.by}
      onchange={(event) => choose(event.currentTarget.value as CueStart['by'])}
    >
      {#each WAYS as [by, word] (by)}<option value={by}>{word}</option>{/each}
    </select>
    {#if start.by === 'key'}
      <button
        class="btn mono h-6 min-w-14 justify-center px-2"
        aria-label="Key that starts it"
        title="Press, then press the key; Escape leaves it"
        onclick={() => (listening = true)}
        onkeydowncapture={hear}
        onblur={() => (listening = false)}>{listening ? 'press…' : keyName(start.key ?? '—')}</button
      >
    {:else if start.by === 'click'}
      on <select
        class="max-w-32 bg-transparent"
        aria-label="Prop that is clicked"
        value={start.prop ?? ''}
        onchange={(event) => {
          const prop = event.currentTarget.value;
          onchange({ by: 'click', ...(prop ? { prop } : {}) });
          onsettle();
        }}
      >
        <option value="">any prop</option>
        {#if start.prop !== undefined && !set.props.some((each) => each.id === start.prop)}
          <option value={start.prop}>what is gone</option>
        {/if}
        {#each set.props as each (each.id)}<option value={each.id}>{each.name}</option>{/each}
      </select>
    {:else if start.by === 'near' || start.by === 'away'}
      <PlaceChoice props={set.props} label="What moves" value={start.of} onchange={(of) => put({ of })} />
      {start.by === 'near' ? 'to' : 'from'}
      <PlaceChoice
        props={set.props}
        label="What it comes near to"
        value={start.to}
        onchange={(to) => put({ to })}
      />
      <Nearness
        props={set.props}
        near={start}
        onchange={({ within, box }) => {
          const { within: _, box: __, ...rest } = start;
          onchange({ ...rest, ...(within === undefined ? {} : { within }), ...(box ? { box } : {}) });
        }}
        {onsettle}
      />
    {:else if start.by === 'cue'}
      <select
        class="max-w-28 bg-transparent"
        aria-label="Cue that starts it"
        value={start.cue ?? ''}
        onchange={(event) => put({ cue: event.currentTarget.value })}
      >
        {#if !others.some((each) => each.id === start.cue)}
          <option value={start.cue ?? ''}>{others.length ? 'what is gone' : 'no other cue'}</option>
        {/if}
        {#each others as each (each.id)}<option value={each.id}>{each.name}</option>{/each}
      </select>
      <select
        class="bg-transparent"
        aria-label="When"
        value={start.at === undefined ? 'end' : 'at'}
        onchange={(event) => {
          const { at: _, ...rest } = start;
          onchange(event.currentTarget.value === 'end' ? rest : { ...rest, at: 0 });
          onsettle();
        }}
      >
        <option value="end">at its end</option>
        <option value="at">at</option>
      </select>
      {#if start.at !== undefined}
        <span class="w-16"
          ><NumberField
            value={start.at}
            label="Seconds of it"
            min={0}
            max={600}
            hard
            unit=" s"
            onchange={(at) => onchange({ ...start, at })}
            {onsettle}
          /></span
        >
      {/if}
    {/if}
    {#if remark}<p class="w-full text-[12px] text-oxblood">{remark}</p>{/if}
  </div>
  <button class="mt-0.5 text-third hover:text-ink" aria-label="Take this start away" onclick={onremove}
    ><X size={12} /></button
  >
</div>
