<script lang="ts">
  import type { Session } from '../state/session.svelte.ts';

  /** A prop of any set. */
  interface Props {
    session: Session;
    label: string;
    value: string;
    onchange: (word: string) => void;
  }
  let { session, label, value, onchange }: Props = $props();
  const isThere = $derived(
    session.sets.some(({ id, body }) => body.props.some((prop) => value === `${id} ${prop.id}`)),
  );
</script>

<select
  class="max-w-44 justify-self-start bg-transparent font-semibold"
  aria-label={label}
  {value}
  onchange={(event) => onchange(event.currentTarget.value)}
>
  <option value="">none</option>
  {#if value && !isThere}<option {value}>what is gone</option>{/if}
  {#each session.sets as set (set.id)}
    <optgroup label={set.name}>
      {#each set.body.props as prop (prop.id)}
        <option value="{set.id} {prop.id}">{prop.name}</option>
      {/each}
    </optgroup>
  {/each}
</select>
