<script lang="ts">
  import type { StageDocument } from '#core/document/project.ts';
  import { placeName } from '#core/document/targets.ts';

  /** Chooses a thing of the set that has a place: a prop, the pointer, or the walker; or none, where that has a name. */
  interface Props {
    props: StageDocument['props'];
    label: string;
    /** What it is where none is chosen; one has to be, where this is not told. */
    nothing?: string;
    value: string | undefined;
    /** Told an empty text where none is chosen. */
    onchange: (value: string) => void;
  }
  let { props, label, nothing, value, onchange }: Props = $props();
  const places = $derived(['walker', 'pointer', ...props.map((each) => each.id)]);
</script>

<select
  class="max-w-28 bg-transparent"
  class:font-semibold={nothing !== undefined}
  aria-label={label}
  value={value ?? ''}
  onchange={(event) => onchange(event.currentTarget.value)}
>
  {#if nothing !== undefined}<option value="">{nothing}</option>{/if}
  {#if value === undefined ? nothing === undefined : !places.includes(value)}<option value={value ?? ''}
      >what is gone</option
    >{/if}
  {#each places as each (each)}<option value={each}>{placeName(props, each)}</option>{/each}
</select>
