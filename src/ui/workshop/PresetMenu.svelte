<script lang="ts">
  import { DropdownMenu } from 'bits-ui';
  import { applyPreset, keepPreset, removePreset } from '#core/edits/materialEdits.ts';
  import type { PartOf } from '#core/document/project.ts';
  import type { Session } from './state/session.svelte.ts';

  let { session, material }: { session: Session; material: PartOf<'material'> } = $props();
  let naming = $state<string | null>(null);
  const presets = $derived(material.body.presets ?? []);
  const isNow = (values: unknown) => JSON.stringify(values) === JSON.stringify(material.body.values);
  const now = $derived(presets.find((each) => isNow(each.values))?.name ?? null);
  const keep = () => {
    const name = naming?.trim();
    naming = null;
    if (name) session.apply(keepPreset(material.id, material.body, name));
  };
</script>

{#if naming !== null}
  <input
    class="field h-6 w-40"
    bind:value={naming}
    aria-label="Name of the preset"
    placeholder="Name of the preset"
    maxlength="64"
    {@attach (field: HTMLElement) => field.focus()}
    onblur={keep}
    onkeydown={(event) => {
      event.stopPropagation();
      if (event.key === 'Enter') keep();
      if (event.key === 'Escape') naming = null;
    }}
  />
{:else}
  <DropdownMenu.Root>
    <DropdownMenu.Trigger class="max-w-40 truncate text-second hover:text-ink"
      >{now ? `Preset: ${now}` : 'Presets'}</DropdownMenu.Trigger
    >
    <DropdownMenu.Portal>
      <DropdownMenu.Content class="popup min-w-44 py-1" align="end" sideOffset={4}>
        {#each presets as preset (preset.name)}
          <DropdownMenu.Item
            class="menu-item"
            onSelect={() => session.apply(applyPreset(material.id, preset))}
          >
            <span>{preset.name}</span>{#if preset.name === now}<span class="text-third">now</span>{/if}
          </DropdownMenu.Item>
        {:else}
          <p class="px-3 py-1 text-second">No presets yet.</p>
        {/each}
        <DropdownMenu.Separator class="my-1 border-t border-hairline" />
        <DropdownMenu.Item class="menu-item" onSelect={() => setTimeout(() => (naming = ''), 30)}
          >Keep these values…</DropdownMenu.Item
        >
        {#if now}
          <DropdownMenu.Item
            class="menu-item"
            onSelect={() => session.apply(removePreset(material.id, material.body, now))}
            >Delete {now}</DropdownMenu.Item
          >
        {/if}
      </DropdownMenu.Content>
    </DropdownMenu.Portal>
  </DropdownMenu.Root>
{/if}
