<script lang="ts">
  import { DropdownMenu } from 'bits-ui';
  import { toast } from 'svelte-sonner';
  import { usersOf } from '#core/document/users.ts';
  import type { PartOf } from '#core/document/project.ts';
  import { namePart, newPartOf, removePart } from '../parts/doToPart.ts';
  import type { Session } from '../state/session.svelte.ts';

  let { session }: { session: Session } = $props();
  const motifs = $derived(session.parts.filter((each): each is PartOf<'motif'> => each.kind === 'motif'));
  const open = $derived(session.openMotif);
  const users = $derived(open ? usersOf(session.parts, open.id) : []);

  /** The name that is being written, null where none is. */
  let naming = $state<string | null>(null);
  const rename = async (motif: PartOf<'motif'>) => {
    const name = naming?.trim() ?? '';
    naming = null;
    const problem = name ? await namePart(session, motif, name) : null;
    if (problem) toast.error(problem);
  };
</script>

<div class="ml-auto flex min-w-0 items-center gap-2 whitespace-nowrap">
  {#if open}
    <span class="text-second">motif</span>
    {#if naming === null}
      <button class="font-bold" data-testid="open-motif" title="Rename" onclick={() => (naming = open.name)}
        >{open.name}</button
      >
    {:else}
      <input
        class="field h-6 w-40"
        aria-label="Name of the motif"
        maxlength="120"
        {@attach (field: HTMLElement) => field.focus()}
        bind:value={naming}
        onfocus={(event) => event.currentTarget.select()}
        onblur={() => void rename(open)}
        onkeydown={(event) => {
          event.stopPropagation();
          if (event.key === 'Enter') void rename(open);
          else if (event.key === 'Escape') naming = null;
        }}
      />
    {/if}
    <span class="truncate text-third" title={users.join(', ')}
      >{users.length
        ? `used by ${users.slice(0, 2).join(', ')}${users.length > 2 ? ` and ${users.length - 2} more` : ''}`
        : 'not used yet'}</span
    >
    <button class="btn h-6" onclick={() => session.showMotif(null)}>Back to the shader</button>
  {/if}
  <DropdownMenu.Root>
    <DropdownMenu.Trigger class="text-second hover:text-ink">Motifs</DropdownMenu.Trigger>
    <DropdownMenu.Portal>
      <DropdownMenu.Content class="popup min-w-52 py-1" align="end" sideOffset={6}>
        {#each motifs as motif (motif.id)}
          <DropdownMenu.Item class="menu-item" onSelect={() => session.showMotif(motif.id)}>
            <span>{motif.name}</span><span class="text-third"
              >{usersOf(session.parts, motif.id).length || 'no'} users</span
            >
          </DropdownMenu.Item>
        {:else}
          <p class="px-3 py-1 text-second">No motifs yet: fold a strand into one from its name.</p>
        {/each}
        <DropdownMenu.Separator class="my-1 border-t border-hairline" />
        <DropdownMenu.Item class="menu-item" onSelect={() => void newPartOf(session, 'motif')}
          >New motif</DropdownMenu.Item
        >
        {#if open}
          <DropdownMenu.Item class="menu-item" onSelect={() => setTimeout(() => (naming = open.name), 30)}
            >Rename {open.name}</DropdownMenu.Item
          >
          <DropdownMenu.Item class="menu-item" onSelect={() => void removePart(session, open)}
            >Delete {open.name}</DropdownMenu.Item
          >
        {/if}
      </DropdownMenu.Content>
    </DropdownMenu.Portal>
  </DropdownMenu.Root>
</div>
