<script lang="ts">
  import { namedBy } from '#core/images/declareStep.ts';
  import { partsOf } from '#core/document/project.ts';
  import type { Session } from '../state/session.svelte.ts';

  /** Which shader, as it starts or as a material has it; and all that it shows, or one of its strands. */
  interface Props {
    session: Session;
    label: string;
    value: string;
    onchange: (word: string) => void;
  }
  let { session, label, value, onchange }: Props = $props();
  const { id: part, inner: strand = '' } = $derived(namedBy(value));
  const kinds = $derived([
    { title: 'Shaders', parts: partsOf({ parts: session.parts }, 'shader') },
    { title: 'Materials', parts: session.materials },
  ]);
  const strands = $derived.by(() => {
    const found = session.part(part);
    const shader = found?.kind === 'material' ? session.part(found.body.shader) : found;
    return shader?.kind === 'shader' ? shader.body.strands : [];
  });
</script>

<div class="flex min-w-0 flex-col items-start gap-1">
  <select
    class="max-w-44 bg-transparent font-semibold"
    aria-label={label}
    value={part}
    onchange={(event) => onchange(event.currentTarget.value)}
  >
    <option value="">none</option>
    {#if part && !session.part(part)}<option value={part}>what is gone</option>{/if}
    {#each kinds as { title, parts } (title)}
      <optgroup label={title}>
        {#each parts as each (each.id)}<option value={each.id}>{each.name}</option>{/each}
      </optgroup>
    {/each}
  </select>
  {#if part}
    <select
      class="max-w-44 bg-transparent font-semibold"
      aria-label="{label}, which strand"
      value={strand}
      onchange={(event) =>
        onchange(event.currentTarget.value ? `${part} ${event.currentTarget.value}` : part)}
    >
      <option value="">all it shows</option>
      {#if strand && !strands.some(({ id }) => id === strand)}
        <option value={strand}>what is gone</option>
      {/if}
      {#each strands as each (each.id)}<option value={each.id}>{each.name}</option>{/each}
    </select>
  {/if}
</div>
