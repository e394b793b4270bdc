<script lang="ts">
  import { goto, invalidateAll } from '$app/navigation';
  import { toast } from 'svelte-sonner';
  import Mark from '../parts/Mark.svelte';
  import ThemeButton from '../parts/ThemeButton.svelte';
  import ProjectTile from './ProjectTile.svelte';

  interface Summary {
    readonly id: string;
    readonly name: string;
    readonly updatedAt: string;
  }
  let { projects }: { projects: readonly Summary[] } = $props();
  let wanted = $state('');
  let naming = $state<{ id: string | null; name: string } | null>(null);
  let refusal = $state<string | null>(null);
  const found = $derived(
    projects.filter((each) => each.name.toLowerCase().includes(wanted.trim().toLowerCase())),
  );

  const call = async (path: string, method: string, body?: unknown): Promise<{ id?: string } | null> => {
    try {
      const response = await fetch(path, {
        method,
        ...(body === undefined
          ? {}
          : { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
      });
      const answer = (await response.json()) as { id?: string; message?: string };
      if (response.ok) return answer;
      refusal = answer.message ?? 'The server refused this.';
    } catch {
      refusal = 'The server cannot be reached; nothing was changed.';
    }
    return null;
  };
  const commit = async () => {
    if (!naming) return;
    refusal = null;
    const { id, name } = naming;
    const answer = id
      ? await call(`/api/projects/${id}`, 'PATCH', { name })
      : await call('/api/projects', 'POST', { name });
    if (!answer) return;
    naming = null;
    if (id) await invalidateAll();
    else await goto(`/projects/${answer.id}`);
  };
  const remove = async ({ id, name }: Summary) => {
    if (!(await call(`/api/projects/${id}`, 'DELETE'))) {
      toast.error(refusal ?? 'It could not be deleted.');
      return;
    }
    await invalidateAll();
    toast(`${name} was deleted.`, {
      duration: 12000,
      action: {
        label: 'Undo',
        onClick: () => void call(`/api/projects/${id}`, 'POST').then(() => invalidateAll()),
      },
    });
  };
</script>

<div class="h-screen overflow-y-auto">
  <header class="flex h-11 items-center gap-3 border-b border-rule bg-sheet px-4">
    <Mark />
    <h1 class="text-[14px] font-semibold">Wicked Veil</h1>
    <input
      class="field ml-6 w-64"
      type="search"
      placeholder="Search projects"
      aria-label="Search projects"
      bind:value={wanted}
    />
    <div class="ml-auto flex items-center gap-3">
      <ThemeButton />
      <button class="btn" onclick={() => (naming = { id: null, name: '' })}>New project</button>
    </div>
  </header>
  <main class="mx-auto max-w-[1200px] px-6 py-6">
    {#if naming}
      <form
        class="mb-6 flex flex-wrap items-center gap-2"
        onsubmit={(event) => {
          event.preventDefault();
          void commit();
        }}
      >
        <input
          class="field w-72"
          aria-label="Name of the project"
          placeholder="Name of the project"
          bind:value={naming.name}
          {@attach (field: HTMLInputElement) => {
            field.focus();
            field.select();
          }}
          maxlength="120"
        />
        <button class="btn" type="submit" disabled={!naming.name.trim()}
          >{naming.id ? 'Rename' : 'Make it'}</button
        >
        <button class="btn" type="button" onclick={() => (naming = null)}>Cancel</button>
        {#if refusal}<p class="w-full text-oxblood" role="alert">{refusal}</p>{/if}
      </form>
    {/if}
    <div class="grid grid-cols-3 gap-5">
      {#each found as project (project.id)}
        <ProjectTile
          {project}
          ondelete={() => void remove(project)}
          onrename={() => (naming = { id: project.id, name: project.name })}
        />
      {/each}
    </div>
    {#if !found.length}
      <p class="text-second">
        {#if projects.length}No project is called “{wanted}”.{:else}No projects yet. Make the first one with <b
            >New project</b
          >.{/if}
      </p>
    {/if}
  </main>
</div>
