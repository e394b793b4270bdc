<script lang="ts">
  import { whenOf } from '../parts/when.ts';
  import { DropdownMenu } from 'bits-ui';
  import Ellipsis from '@lucide/svelte/icons/ellipsis';
  import { onMount } from 'svelte';
  import { thumbnailOf } from './thumbnails.ts';

  interface Props {
    project: { readonly id: string; readonly name: string; readonly updatedAt: string };
    ondelete: () => void;
    onrename: () => void;
    onduplicate: () => void;
  }
  let { project, ondelete, onrename, onduplicate }: Props = $props();
  let tile: HTMLElement;
  let picture = $state<string | null>(null);
  let failed = $state(false);

  onMount(() => {
    const leaving = new AbortController();
    // Only tiles that come into view are drawn.
    const observer = new IntersectionObserver(async ([entry]) => {
      if (!entry!.isIntersecting) return;
      observer.disconnect();
      const made = await thumbnailOf(project, leaving.signal).catch(() => null);
      if (leaving.signal.aborted) return;
      picture = made ? URL.createObjectURL(made) : null;
      failed = !made;
    });
    observer.observe(tile);
    return () => {
      leaving.abort();
      observer.disconnect();
      if (picture) URL.revokeObjectURL(picture);
    };
  });
  const when = $derived(whenOf(project.updatedAt));
</script>

<article class="group border border-rule bg-sheet hover:border-ink" bind:this={tile}>
  <a href="/projects/{project.id}" class="block" aria-label="Open {project.name}">
    <div
      class="flex aspect-[16/9] items-center justify-center overflow-hidden bg-surround text-[12px] text-[#8a8a8a]"
    >
      {#if picture}<img src={picture} alt="" class="h-full w-full object-cover" />{:else}{failed
          ? 'no picture'
          : 'drawing…'}{/if}
    </div>
  </a>
  <div class="flex items-start gap-2 px-3 py-2.5">
    <div class="min-w-0 flex-1">
      <a href="/projects/{project.id}" class="block truncate text-[14px] font-semibold">{project.name}</a>
      <p class="text-[12px] text-third">changed {when} UTC</p>
    </div>
    <DropdownMenu.Root>
      <DropdownMenu.Trigger class="text-third hover:text-ink" aria-label="More for {project.name}"
        ><Ellipsis size={16} /></DropdownMenu.Trigger
      >
      <DropdownMenu.Portal>
        <DropdownMenu.Content class="popup min-w-36 py-1" align="end" sideOffset={4}>
          <DropdownMenu.Item class="menu-item" onSelect={onrename}>Rename</DropdownMenu.Item>
          <DropdownMenu.Item class="menu-item" onSelect={onduplicate}>Duplicate</DropdownMenu.Item>
          <DropdownMenu.Item class="menu-item">
            {#snippet child({ props })}<a {...props} href="/api/projects/{project.id}/archive" download
                >Export as .zip</a
              >{/snippet}
          </DropdownMenu.Item>
          <DropdownMenu.Item class="menu-item" onSelect={ondelete}>Delete</DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  </div>
</article>
