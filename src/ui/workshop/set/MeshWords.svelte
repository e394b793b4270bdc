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
  <div class="flex flex-col items-start gap-0.5">
    {#each fields as [name, field] (name)}
      {#if field.options}
        <select
          aria-label="{name} of {of}"
          title={name}
          value={wordOf(name)}
          onchange={(event) => {
            onchange(name, event.currentTarget.value);
            onsettle();
          }}
        >
          {#each field.options as each (each)}<option>{each}</option>{/each}
        </select>
      {:else}
        <textarea
          class="field w-36 resize-none"
          rows="2"
          maxlength={field.most}
          aria-label="{name} of {of}"
          value={wordOf(name)}
          onkeydown={(event) => event.key !== 'Escape' && event.stopPropagation()}
          oninput={(event) => onchange(name, event.currentTarget.value)}
          onchange={onsettle}></textarea>
      {/if}
    {/each}
    {#if lacking}<p class="max-w-44 text-[12px] text-second" role="note">{lacking}</p>{/if}
  </div>
{/if}
