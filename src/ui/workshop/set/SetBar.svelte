<script lang="ts">
  import { DropdownMenu } from 'bits-ui';
  import { MESH_KINDS, type MeshRecipe } from '#core/meshes/makeMesh.ts';
  import type { Session } from '../state/session.svelte.ts';
  import { newProp } from './doToProp.ts';

  let { session }: { session: Session } = $props();
</script>

<div class="ml-auto flex items-center gap-4">
  <span class="text-third">{session.props.length > 1 ? `${session.props.length} props in hand` : ''}</span>
  <DropdownMenu.Root>
    <DropdownMenu.Trigger class="text-second hover:text-ink">Add prop</DropdownMenu.Trigger>
    <DropdownMenu.Portal>
      <DropdownMenu.Content
        class="popup grid max-h-(--bits-dropdown-menu-content-available-height) w-[46rem] grid-cols-2 overflow-y-auto py-1"
        align="end"
        sideOffset={6}
      >
        {#each MESH_KINDS as [kind, { summary }] (kind)}
          <DropdownMenu.Item class="menu-item" onSelect={() => newProp(session, kind as MeshRecipe['kind'])}
            ><span class="w-16 flex-none font-semibold">{kind}</span><span
              class="flex-1 text-[12px] text-third">{summary}</span
            ></DropdownMenu.Item
          >
        {/each}
      </DropdownMenu.Content>
    </DropdownMenu.Portal>
  </DropdownMenu.Root>
</div>
