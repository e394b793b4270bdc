<script lang="ts">
  import { goto, invalidateAll } from '$app/navigation';
  import { onMount } from 'svelte';
  import { toast } from 'svelte-sonner';
  import Mark from '../parts/Mark.svelte';
  import ThemeButton from '../parts/ThemeButton.svelte';
  import ProjectTile from './ProjectTile.svelte';

  interface Summary {
    readonly id: string;
    readonly name: string;
    readonly updatedAt: string;
  }
  interface Props {
    projects: readonly Summary[];
    /** Sets of the playhouse that a project can begin from. */
    starters: readonly { readonly id: string; readonly name: string }[];
  }
  let { projects, starters }: Props = $props();
  /** The page comes drawn from the server: a press before anything answers it would be lost without a word. */
  let answers = $state(false);
  onMount(() => {
    answers = true;
  });
  let wanted = $state('');
  let naming = $state<{ id: string | null; name: string; from: string } | null>(null);
  let importing = $state<string | null>(null);
  let chooser: HTMLInputElement;
  let refusal = $state<string | null>(null);
  const found = $derived(
    projects.filter((each) => each.name.toLowerCase().includes(wanted.trim().toLowerCase())),
  );

  const call = async (
    path: string,
    method: string,
    body?: object,
  ): Promise<{ id?: string; name?: string } | null> => {
    try {
      const isFile = body instanceof Blob;
      const response = await fetch(path, {
        method,
        ...(body === undefined
          ? {}
          : {
              headers: { 'content-type': isFile ? 'application/zip' : 'application/json' },
              body: isFile ? body : JSON.stringify(body),
            }),
      });
      const answer = (await response.json()) as { id?: string; name?: string; message?: string };
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
    const { id, name, from } = naming;
    const answer = id
      ? await call(`/api/projects/${id}`, 'PATCH', { name })
      : await call('/api/projects', 'POST', { name, ...(from ? { from } : {}) });
    if (!answer) return;
    naming = null;
    if (id) await invalidateAll();
    else await goto(`/projects/${answer.id}`);
  };
  const duplicate = async ({ id, name }: Summary) => {
    if (await call(`/api/projects/${id}/copy`, 'POST')) await invalidateAll();
    else toast.error(refusal ?? `${name} could not be duplicated.`);
  };
  const take = async (file: File | undefined) => {
    if (!file) return;
    if (!/\.zip$/i.test(file.name)) {
      toast.error(`${file.name} is not read here; a project comes as the .zip it was exported to.`);
      return;
    }
    importing = file.name;
    const made = await call('/api/projects/archive', 'POST', file);
    importing = null;
    if (!made) {
      toast.error(refusal ?? `${file.name} could not be imported.`, { duration: 12000 });
      return;
    }
    await invalidateAll();
    toast(`${made.name} is imported.`);
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

<div
  class="h-screen overflow-y-auto"
  role="presentation"
  ondragover={(event) => event.dataTransfer?.types.includes('Files') && event.preventDefault()}
  ondrop={(event) => {
    if (!event.dataTransfer?.files.length) return;
    event.preventDefault();
    void take(event.dataTransfer.files[0]);
  }}
>
  <fieldset class="contents" disabled={!answers}>
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
        <button class="btn" onclick={() => chooser.click()} disabled={importing !== null}
          >{importing === null ? 'Import' : 'Importing…'}</button
        >
        <button class="btn" onclick={() => (naming = { id: null, name: '', from: '' })}>New project</button>
        <input
          class="hidden"
          type="file"
          accept=".zip,application/zip"
          aria-label="Project to import"
          bind:this={chooser}
          onchange={(event) => {
            void take(event.currentTarget.files?.[0]);
            event.currentTarget.value = '';
          }}
        />
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
            onkeydown={(event) => event.key === 'Escape' && (naming = null)}
          />
          {#if naming.id === null}
            <select class="field w-64" aria-label="Begins with" bind:value={naming.from}>
              <option value="">one card on a stage</option>
              {#each starters as each (each.id)}<option value={each.id}>the playhouse’s {each.name}</option
                >{/each}
            </select>
          {/if}
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
            onrename={() => (naming = { id: project.id, name: project.name, from: '' })}
            onduplicate={() => void duplicate(project)}
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
  </fieldset>
</div>
