<script lang="ts">
  import Ellipsis from '@lucide/svelte/icons/ellipsis';
  import { DropdownMenu } from 'bits-ui';
  import type { PartOf } from '#core/document/project.ts';
  import type { Parameter } from '#core/document/shader.ts';
  import { makeDefaults } from '#core/edits/partEdits.ts';
  import { changeShader, duplicatePart, takeAsDefaults } from './parts/doToPart.ts';
  import type { Session } from './state/session.svelte.ts';

  interface Props {
    session: Session;
    material: PartOf<'material'>;
    onsweep: (parameter: Parameter) => void;
  }
  let { session, material, onsweep }: Props = $props();
  const swept = $derived(
    session.shader?.body.parameters.filter(({ kind }) => kind === 'float' || kind === 'int') ?? [],
  );
  const shaders = $derived(session.parts.filter((each): each is PartOf<'shader'> => each.kind === 'shader'));
  const defaults = $derived(session.shader ? makeDefaults(material, session.shader) : []);
</script>

<DropdownMenu.Root>
  <DropdownMenu.Trigger class="text-third hover:text-ink" aria-label="More for {material.name}"
    ><Ellipsis size={15} /></DropdownMenu.Trigger
  >
  <DropdownMenu.Portal>
    <DropdownMenu.Content class="popup min-w-56 py-1" align="end" sideOffset={4}>
      <DropdownMenu.Sub>
        <DropdownMenu.SubTrigger class="menu-item"
          ><span>Use another shader</span><span class="text-third">›</span></DropdownMenu.SubTrigger
        >
        <DropdownMenu.SubContent class="popup max-h-80 min-w-48 overflow-y-auto py-1" sideOffset={2}>
          {#each shaders as shader (shader.id)}
            <DropdownMenu.Item
              class="menu-item"
              disabled={shader.id === material.body.shader}
              onSelect={() => changeShader(session, shader)}
              ><span>{shader.name}</span>{#if shader.id === material.body.shader}<span class="text-third"
                  >now</span
                >{/if}</DropdownMenu.Item
            >
          {/each}
        </DropdownMenu.SubContent>
      </DropdownMenu.Sub>
      <DropdownMenu.Sub>
        <DropdownMenu.SubTrigger class="menu-item" disabled={!swept.length}
          ><span>Sweep</span><span class="text-third">›</span></DropdownMenu.SubTrigger
        >
        <DropdownMenu.SubContent class="popup max-h-80 min-w-40 overflow-y-auto py-1" sideOffset={2}>
          {#each swept as parameter (parameter.id)}
            <DropdownMenu.Item class="menu-item" onSelect={() => onsweep(parameter)}
              >{parameter.name}</DropdownMenu.Item
            >
          {/each}
        </DropdownMenu.SubContent>
      </DropdownMenu.Sub>
      <DropdownMenu.Item
        class="menu-item"
        disabled={!defaults.length}
        onSelect={() => takeAsDefaults(session)}>Make these values the defaults</DropdownMenu.Item
      >
      <DropdownMenu.Item class="menu-item" onSelect={() => void duplicatePart(session, material)}
        >Duplicate the material</DropdownMenu.Item
      >
    </DropdownMenu.Content>
  </DropdownMenu.Portal>
</DropdownMenu.Root>
