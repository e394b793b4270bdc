<script lang="ts">
  import { newId as freshId } from '../parts/newId.ts';
  import { Dialog } from 'bits-ui';
  import { toast } from 'svelte-sonner';
  import { showShader } from '#core/edits/partEdits.ts';
  import type { Imported } from '#core/import/importGlsl.ts';
  import type { Session } from './state/session.svelte.ts';

  type Props = {
    session: Session;
    /** A dropped file. */
    file: File | null;
    onclose: () => void;
  };
  let { session, file, onclose }: Props = $props();
  let text = $state('');
  let name = $state('Imported shader');
  let chosen = $state<Record<string, string>>({});
  let made = $state.raw<Imported | null>(null);
  let busy = $state(false);

  const FILE_LIMIT = 4 * 1024 * 1024;
  $effect(() => {
    if (!file) return;
    name = file.name.replace(/\.\w+$/, '') || name;
    if (file.size > FILE_LIMIT) {
      made = {
        document: null,
        problems: [
          { line: 1, column: 1, message: `${file.name} is larger than ${FILE_LIMIT / 1048576} MB.` },
        ],
      };
      return;
    }
    void file.text().then((read) => (text = read));
  });

  let round = 0;
  const read = async (source: string, varyings: Record<string, string>) => {
    const mine = (round += 1);
    busy = true;
    // The importer is only fetched when something is imported.
    const { importGlsl } = await import('#core/import/importGlsl.ts');
    const result = source.trim() ? importGlsl(source, varyings) : null;
    if (mine !== round) return;
    made = result;
    busy = false;
  };
  let pause: ReturnType<typeof setTimeout> | undefined;
  $effect(() => {
    const [source, varyings] = [text, { ...chosen }];
    clearTimeout(pause);
    pause = setTimeout(() => void read(source, varyings), 150);
  });

  const take = async () => {
    // What was typed last may not have been read yet; what is imported is what stands here.
    clearTimeout(pause);
    await read(text, { ...chosen });
    if (!made?.document) return;
    try {
      const called = name.trim() || 'Imported shader';
      const { document } = made;
      await session.inTurn(async () => {
        const { changes, material } = showShader(session.parts, called, document, session.stage, freshId);
        await session.commit(`Import ${called}`, changes);
        session.showMaterial(material);
      });
      onclose();
    } catch (error) {
      toast.error((error as Error).message);
    }
  };
  const parameters = $derived(made?.document?.parameters ?? []);
</script>

<Dialog.Root open onOpenChange={(open) => !open && onclose()}>
  <Dialog.Portal>
    <Dialog.Overlay class="fixed inset-0 z-40 bg-black/30" />
    <Dialog.Content
      class="popup fixed top-1/2 left-1/2 flex h-[80vh] w-[60rem] max-w-[94vw] -translate-1/2 flex-col p-5"
      onkeydown={(event) => event.key !== 'Escape' && event.stopPropagation()}
    >
      <Dialog.Title class="text-[15px] font-semibold">Import GLSL</Dialog.Title>
      <Dialog.Description class="mt-1 mb-3 text-second"
        >A fragment shader, ES 3.00 or 1.00. Its uniforms become parameters, what the vertex stage handed over
        becomes strands, its body becomes code.</Dialog.Description
      >
      <div class="grid min-h-0 flex-1 grid-cols-[minmax(0,3fr)_minmax(0,2fr)] gap-4">
        <textarea
          class="mono field h-full resize-none p-2 leading-[1.5]"
          bind:value={text}
          spellcheck="false"
          placeholder="Paste a fragment shader here, or drop a file on the workshop."
          aria-label="GLSL to import"></textarea>
        <div class="min-h-0 overflow-y-auto">
          <label class="mb-1 block text-second" for="import-name">Name</label>
          <input id="import-name" class="field mb-4 w-full" bind:value={name} maxlength="120" />
          {#if made && !made.document}
            {#each made.problems as problem, i (i)}
              <p class="text-oxblood" role="alert">
                <b class="mono">{problem.line}:{problem.column}</b>
                {problem.message}
              </p>
            {/each}
          {:else if made?.document}
            {#if made.varyings.length}
              <h3 class="font-semibold">Handed over by the vertex stage</h3>
              <p class="mb-2 text-[12px] text-second">
                What each reads here; the guess is by its name and type.
              </p>
              {#each made.varyings as varying (varying.name)}
                <label class="mb-1 grid grid-cols-[8rem_1fr] items-center gap-2">
                  <span class="mono truncate" title={varying.name}>{varying.type} {varying.name}</span>
                  <input
                    class="field mono"
                    value={chosen[varying.name] ?? varying.guess}
                    aria-label="{varying.name} reads"
                    spellcheck="false"
                    onchange={(event) =>
                      (chosen = {
                        ...chosen,
                        [varying.name]: event.currentTarget.value.trim() || varying.guess,
                      })}
                  />
                </label>
              {/each}
            {/if}
            <h3 class="mt-4 font-semibold">
              {parameters.length} parameter{parameters.length === 1 ? '' : 's'}, {made.document.strands
                .length} strand{made.document.strands.length === 1 ? '' : 's'}
            </h3>
            <p class="mono text-second">{parameters.map((each) => each.name).join(', ') || 'no uniforms'}</p>
            {#each made.notes as note (note)}<p class="mt-2 text-second">{note}</p>{/each}
          {/if}
        </div>
      </div>
      <div class="mt-4 flex items-center justify-end gap-2">
        {#if busy}<span class="mr-auto text-third">Reading…</span>{/if}
        <button class="btn" onclick={onclose}>Cancel</button>
        <button class="btn bg-ink! text-sheet!" disabled={!made?.document} onclick={() => void take()}
          >Import</button
        >
      </div>
    </Dialog.Content>
  </Dialog.Portal>
</Dialog.Root>
