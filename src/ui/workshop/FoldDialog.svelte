<script lang="ts">
  import { newId as freshId } from '../parts/newId.ts';
  import { Dialog } from 'bits-ui';
  import { toast } from 'svelte-sonner';
  import { EditRefusal } from '#core/edits/foldExpression.ts';
  import { foldStrands } from '#core/edits/motifEdits.ts';
  import { newPart } from '#core/document/project.ts';
  import { parameterType } from '#core/lower/stepOperator.ts';
  import type { Type } from '#core/program/types.ts';
  import type { Session } from './state/session.svelte.ts';

  let { session, strand, onclose }: { session: Session; strand: string; onclose: () => void } = $props();
  const shader = $derived(session.score?.kind === 'shader' ? session.score : null);
  // The dialog begins from where it was asked and lives on by itself.
  // svelte-ignore state_referenced_locally
  let chosen = $state<string[]>([strand]);
  // svelte-ignore state_referenced_locally
  let name = $state(session.document?.strands.find((each) => each.id === strand)?.name ?? 'motif');

  const typeOf = (wanted: string): Type | null => {
    const parameter = shader?.body.parameters.find((each) => each.name === wanted);
    if (parameter) return parameterType(parameter.kind);
    const at = shader?.body.strands.find((each) => each.name === wanted);
    return (
      session.shaderState?.good?.program.taps.findLast((tap) => tap.strand === at?.id)?.value.type ?? null
    );
  };
  const newId = () => freshId();
  const folded = $derived.by(() => {
    if (!shader) return null;
    try {
      return { ...foldStrands(shader.id, shader.body, new Set(chosen), typeOf, newId), refusal: null };
    } catch (error) {
      if (!(error instanceof EditRefusal)) throw error;
      return { motif: null, edit: null, refusal: error.message };
    }
  });
  const take = async () => {
    if (!folded?.motif) return;
    const id = `motif-${newId()}`;
    try {
      const { label, part, patches } = folded.edit(id);
      await session.commit(label, [
        { op: 'add', part: newPart('motif', id, name.trim(), folded.motif) },
        { op: 'change', id: part, patches },
      ]);
      onclose();
    } catch (error) {
      toast.error((error as Error).message);
    }
  };
  const taken = $derived(session.parts.some((each) => each.kind === 'motif' && each.name === name.trim()));
  const problem = $derived(
    folded?.refusal ??
      (!name.trim() ? 'It needs a name.' : taken ? `There is a motif “${name.trim()}” already.` : null),
  );
</script>

<Dialog.Root open onOpenChange={(open) => !open && onclose()}>
  <Dialog.Portal>
    <Dialog.Overlay class="fixed inset-0 z-40 bg-black/30" />
    <Dialog.Content
      class="popup fixed top-1/2 left-1/2 w-[30rem] -translate-1/2 p-5"
      onkeydown={(event) => event.key !== 'Escape' && event.stopPropagation()}
    >
      <Dialog.Title class="text-[15px] font-semibold">Fold into a motif</Dialog.Title>
      <Dialog.Description class="mt-1 mb-3 text-second"
        >What the strands read from outside becomes the motif’s inputs; what is read of them, its outputs.</Dialog.Description
      >
      <label class="mb-3 grid grid-cols-[5rem_1fr] items-center gap-2"
        >Name <input class="field" bind:value={name} maxlength="120" /></label
      >
      <div class="max-h-56 overflow-y-auto border border-hairline p-2">
        {#each shader?.body.strands ?? [] as each (each.id)}
          <label class="flex items-center gap-2 py-0.5">
            <input type="checkbox" class="accent-ink" value={each.id} bind:group={chosen} />
            <span class="font-semibold">{each.name}</span>
            <span class="truncate text-third">{each.note}</span>
          </label>
        {/each}
      </div>
      {#if folded?.motif}
        <p class="mono mt-3 text-second">
          {name.trim() || 'motif'}({folded.motif.parameters
            .map((each) => `${each.name}: ${each.kind}`)
            .join(', ')}) →
          {folded.motif.outputs.map((each) => each.name).join(', ')}
        </p>
      {/if}
      <div class="mt-4 flex items-center justify-end gap-2">
        <span class="mr-auto text-[12.5px] text-oxblood" role="alert">{problem ?? ''}</span>
        <button class="btn" onclick={onclose}>Cancel</button>
        <button class="btn bg-ink! text-sheet!" disabled={problem !== null} onclick={() => void take()}
          >Fold</button
        >
      </div>
    </Dialog.Content>
  </Dialog.Portal>
</Dialog.Root>
