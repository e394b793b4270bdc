<script lang="ts">
  import { MESH_KINDS, type MeshRecipe } from '#core/meshes/makeMesh.ts';
  import { faceHere } from '#core/letters/arrived.ts';
  import { lackingIn } from '#core/letters/layLines.ts';

  /** The words of a mesh that has some: what stands on it, and how. */
  interface Props {
    mesh: MeshRecipe;
    /** Whose mesh it is, for who hears and does not see. */
    of: string;
    onchange: (name: string, value: string) => void;
    onsettle: () => void;
  }
  let { mesh, of, onchange, onsettle }: Props = $props();
  const fields = $derived(Object.entries(MESH_KINDS.get(mesh.kind)?.words ?? {}));
  const wordOf = (name: string): string => (mesh as unknown as Readonly<Record<string, string>>)[name] ?? '';
  const lacking = $derived.by(() => {
    const face = mesh.kind === 'board' ? faceHere(mesh.face) : undefined;
    return face && mesh.kind === 'board' ? lackingIn(face, mesh.text) : null;
  });
</script>

{#if fields.length}
  <div class="flex flex-wrap items-start gap-x-2">
    {#each fields.filter(([, field]) => !field.options) as [name, field] (name)}
      <textarea
        class="field h-9! w-32 resize-none py-0.5! text-[12px]! leading-4"
        rows="2"
        maxlength={field.most}
        aria-label="{name} of {of}"
        value={wordOf(name)}
        onkeydown={(event) => event.key !== 'Escape' && event.stopPropagation()}
        oninput={(event) => onchange(name, event.currentTarget.value)}
        onchange={onsettle}></textarea>
    {/each}
    <div class="flex flex-col items-start">
      {#each fields.filter(([, field]) => field.options) as [name, field] (name)}
        <select
          aria-label="{name} of {of}"
          class="h-[18px] text-[12px]"
          title={name}
          value={wordOf(name)}
          onchange={(event) => {
            onchange(name, event.currentTarget.value);
            onsettle();
          }}
        >
          {#each field.options ?? [] as each (each)}<option>{each}</option>{/each}
        </select>
      {/each}
    </div>
    {#if lacking}<p class="max-w-44 text-[12px] leading-4 text-second" role="note">{lacking}</p>{/if}
  </div>
{/if}
