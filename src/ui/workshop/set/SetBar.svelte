<script lang="ts">
  import { DropdownMenu } from 'bits-ui';
  import { MESH_KINDS, type MadeRecipe } from '#core/meshes/makeMesh.ts';
  import type { Session } from '../state/session.svelte.ts';
  import type { Bringing } from './bringModel.svelte.ts';
  import { newProp } from './doToProp.ts';

  let { session, bringing, onbring }: { session: Session; bringing: Bringing; onbring: () => void } =
    $props();
</script>

<div class="ml-auto flex items-center gap-4">
  <span class="text-third">{session.props.length > 1 ? `${session.props.length} props in hand` : ''}</span>
  {#if bringing.now}
    <span class="flex items-center gap-3 text-second" role="status" aria-label="Import">
      {bringing.now.file}, {Math.round(100 * bringing.now.share)} %
      <button class="underline hover:text-ink" onclick={bringing.cancel}>Cancel</button>
    </span>
  {/if}
  <button
    class="text-second hover:text-ink"
    title="A glTF 2.0 with the files it names, or an OBJ"
    onclick={onbring}>Import model</button
  >
  <DropdownMenu.Root>
    <DropdownMenu.Trigger class="text-second hover:text-ink">Add prop</DropdownMenu.Trigger>
    <DropdownMenu.Portal>
      <DropdownMenu.Content
        class="popup grid max-h-(--bits-dropdown-menu-content-available-height) w-[46rem] grid-cols-2 overflow-y-auto py-1"
        align="end"
        sideOffset={6}
      >
        {#each MESH_KINDS as [kind, { summary }] (kind)}
          <DropdownMenu.Item class="menu-item" onSelect={() => newProp(session, kind as MadeRecipe['kind'])}
            ><span class="w-16 flex-none font-semibold">{kind}</span><span
              class="flex-1 text-[12px] text-third">{summary}</span
            ></DropdownMenu.Item
          >
        {/each}
      </DropdownMenu.Content>
    </DropdownMenu.Portal>
  </DropdownMenu.Root>
</div>
