<script lang="ts">
  import { DropdownMenu } from 'bits-ui';
  import { newPartOf } from '../parts/doToPart.ts';
  import type { Session } from '../state/session.svelte.ts';
  import { beginFromSurface, importPictures, PICTURES } from './beginFrom.ts';

  /** What a texture can be begun with. */
  let { session }: { session: Session } = $props();
  const shader = $derived(session.shader);
  const strands = $derived(shader?.body.strands ?? []);
</script>

<div class="ml-auto flex items-center gap-4 text-second">
  <label
    class="cursor-pointer hover:text-ink has-focus-visible:outline-2"
    title="PNG, JPEG, WebP, OpenEXR or Radiance; they can be dropped here too"
    >Import picture
    <input
      type="file"
      multiple
      class="sr-only"
      accept={PICTURES.join()}
      aria-label="Pictures for textures"
      onchange={(event) => {
        const files = [...(event.currentTarget.files ?? [])];
        event.currentTarget.value = '';
        void importPictures(session, files);
      }}
    /></label
  >
  <DropdownMenu.Root>
    <DropdownMenu.Trigger
      class="hover:text-ink disabled:opacity-50"
      title="One of the shader in hand, over the square of uv"
      disabled={!shader}>From a strand</DropdownMenu.Trigger
    >
    <DropdownMenu.Portal>
      <DropdownMenu.Content
        class="popup max-h-(--bits-dropdown-menu-content-available-height) min-w-44 overflow-y-auto py-1"
        align="end"
        sideOffset={6}
      >
        {#if shader}
          {@const { id, name } = shader}
          {#each strands as each (each.id)}
            <DropdownMenu.Item
              class="menu-item"
              onSelect={() => void beginFromSurface(session, each.name, `${id} ${each.id}`)}
              ><span class="mono">{each.name}</span></DropdownMenu.Item
            >
          {/each}
          <DropdownMenu.Item class="menu-item" onSelect={() => void beginFromSurface(session, name, id)}
            >All that {name} shows</DropdownMenu.Item
          >
        {/if}
      </DropdownMenu.Content>
    </DropdownMenu.Portal>
  </DropdownMenu.Root>
  <button class="hover:text-ink" onclick={() => void newPartOf(session, 'texture')}>Add texture</button>
</div>
