<script lang="ts">
  import { DRIVE_KINDS, WAVES, type SetDrive } from '#core/document/drives.ts';
  import type { PartOf } from '#core/document/project.ts';
  import type { Parameter } from '#core/document/shader.ts';
  import { removeDrive, setDrive } from '#core/edits/cueEdits.ts';
  import { sizesOf } from '#core/time/feedDrives.ts';
  import { newId } from '../../parts/newId.ts';
  import NumberField from '../../parts/NumberField.svelte';
  import Nearness from '../cues/Nearness.svelte';
  import PlaceChoice from '../cues/PlaceChoice.svelte';
  import type { Session } from '../state/session.svelte.ts';

  /** The standing rule that feeds a parameter: chosen, changed and taken away. */
  interface Props {
    session: Session;
    set: PartOf<'stage'>;
    material: string;
    parameter: Parameter;
    drive: SetDrive | null;
    /** Why it feeds nothing. */
    remark: string | null;
    onclose: () => void;
  }
  let { session, set, material, parameter, drive, remark, onclose }: Props = $props();
  const WORDS: Readonly<Record<SetDrive['by'], string>> = {
    place: 'a place',
    distance: 'a distance',
    wave: 'a wave of time',
    spring: 'a spring on motion',
    near: 'nearness',
  };
  const size = $derived(parameter.default.length);
  const kinds = $derived(DRIVE_KINDS.filter((by) => sizesOf({ by }).includes(size)));
  const first = $derived(set.body.props[0]?.id ?? 'pointer');
  const put = (change: Partial<SetDrive>, merge?: string) => {
    if (!drive) return;
    session.apply(setDrive(set, { ...drive, ...change }, `Change what feeds ${parameter.name}`, merge));
    if (merge === undefined) session.settle();
  };
  const choose = (by: SetDrive['by'] | '') => {
    if (!by) {
      if (drive) session.apply(removeDrive(set, drive.id, `Let nothing feed ${parameter.name}`));
      session.settle();
      return;
    }
    const own = { id: drive?.id ?? `drive-${newId()}`, material, parameter: parameter.id, by };
    const range: [number, number] = [parameter.min, parameter.max];
    const made: SetDrive =
      by === 'place'
        ? { ...own, of: first }
        : by === 'wave'
          ? { ...own, shape: 'sine', period: 2, range }
          : by === 'spring'
            ? { ...own, of: first, stiffness: 60, damping: 3, limit: parameter.max }
            : by === 'near'
              ? { ...own, of: 'walker', to: first, within: 1.5, range }
              : { ...own, of: 'walker', to: first, from: [0.5, 3], range: [range[1], range[0]] };
    session.apply(setDrive(set, made, `Let ${WORDS[by]} feed ${parameter.name}`));
    session.settle();
  };
  const step = $derived((parameter.max - parameter.min) / 400 || 0.01);
</script>

{#snippet figure(
  label: string,
  value: number,
  change: (x: number) => Partial<SetDrive>,
  limits: { min?: number; max?: number; step?: number; unit?: string },
)}
  <span class="w-[4.4rem]"
    ><NumberField
      {value}
      {label}
      hard
      {...limits}
      onchange={(x) => put(change(x), label)}
      onsettle={session.settle}
    /></span
  >
{/snippet}
{#snippet range(low: string, high: string)}
  {#if drive}
    {@const now = drive.range ?? [0, 1]}
    {low}
    {@render figure('gives first', now[0], (x) => ({ range: [x, now[1]] }), { step })}
    {high}
    {@render figure('gives last', now[1], (x) => ({ range: [now[0], x] }), { step })}
  {/if}
{/snippet}

<div
  class="border-b border-hairline bg-sheet px-3.5 py-2"
  role="group"
  aria-label="What feeds {parameter.name}"
>
  <div class="flex flex-wrap items-center gap-x-1.5 gap-y-1.5 text-second">
    <label
      >Fed by <select
        class="bg-transparent font-semibold text-ink"
        aria-label="{parameter.name} is fed by"
        value={drive?.by ?? ''}
        onchange={(event) => choose(event.currentTarget.value as SetDrive['by'] | '')}
      >
        <option value="">nothing in {set.name}</option>
        {#each kinds as by (by)}<option value={by}>{WORDS[by]}</option>{/each}
      </select></label
    >
    {#if drive && drive.by !== 'wave'}
      <PlaceChoice
        props={set.body.props}
        label="What is followed"
        value={drive.of}
        onchange={(of) => put({ of })}
      />
    {/if}
    {#if drive && (drive.by === 'distance' || drive.by === 'near')}
      to
      <PlaceChoice
        props={set.body.props}
        label="The other end"
        value={drive.to}
        onchange={(to) => put({ to })}
      />
    {/if}
    {#if drive?.by === 'distance'}
      {@const ends = drive.from ?? [0, 1]}
      {@render range('at', 'at')}
      <span class="w-full"></span>
      from
      {@render figure('begins at', ends[0], (x) => ({ from: [x, ends[1]] }), { min: 0, unit: ' m' })}
      to
      {@render figure('ends at', ends[1], (x) => ({ from: [ends[0], x] }), { min: 0, unit: ' m' })}
    {:else if drive?.by === 'near'}
      <Nearness
        props={set.body.props}
        near={drive}
        onchange={({ within, box }, merge) => {
          const { within: _, box: __, ...rest } = drive;
          const next = { ...rest, ...(within === undefined ? {} : { within }), ...(box ? { box } : {}) };
          session.apply(setDrive(set, next, `Change what feeds ${parameter.name}`, merge));
        }}
        onsettle={session.settle}
      />
      {@render range('outside', 'inside')}
    {:else if drive?.by === 'wave'}
      <select
        class="bg-transparent text-ink"
        aria-label="Shape of the wave"
        value={drive.shape ?? 'sine'}
        onchange={(event) => put({ shape: event.currentTarget.value as NonNullable<SetDrive['shape']> })}
      >
        {#each WAVES as shape (shape)}<option value={shape}>{shape}</option>{/each}
      </select>
      every
      {@render figure('period', drive.period ?? 1, (period) => ({ period }), {
        min: 0.01,
        max: 3600,
        unit: ' s',
      })}
      {@render range('between', 'and')}
      phase
      {@render figure('phase', drive.phase ?? 0, (phase) => ({ phase }), { min: 0, max: 1 })}
    {:else if drive?.by === 'place'}
      {@const offset = drive.offset ?? [0, 0, 0]}
      moved by
      {#each ['x', 'y', 'z'] as const as name, i (name)}
        {@render figure(
          `offset ${name}`,
          offset[i]!,
          (x) => ({ offset: offset.with(i, x) as [number, number, number] }),
          { unit: i === 2 ? ' m' : '' },
        )}
      {/each}
    {:else if drive?.by === 'spring'}
      stiffness
      {@render figure('stiffness', drive.stiffness ?? 60, (stiffness) => ({ stiffness }), {
        ...{ min: 0.01, max: 10000, step: 0.5 },
      })}
      damping
      {@render figure('damping', drive.damping ?? 3, (damping) => ({ damping }), {
        ...{ min: 0, max: 1000, step: 0.05 },
      })}
      limit
      {@render figure('limit', drive.limit ?? 1, (limit) => ({ limit }), { min: 0 })}
      strength
      {@render figure('strength', drive.strength ?? 1, (strength) => ({ strength }), {})}
      turning
      {@render figure('turning', drive.turning ?? 0, (turning) => ({ turning }), { unit: ' m' })}
      {#if size === 1}
        {@const axis = drive.axis ?? [1, 0, 0]}
        along
        {#each ['x', 'y', 'z'] as const as name, i (name)}
          {@render figure(
            `along ${name}`,
            axis[i]!,
            (x) => ({ axis: axis.with(i, x) as [number, number, number] }),
            {},
          )}
        {/each}
      {/if}
    {/if}
    <button class="ml-auto hover:text-ink" onclick={onclose}>Done</button>
  </div>
  {#if remark}<p class="mt-1 text-[12px] text-oxblood">{remark}</p>{/if}
</div>
