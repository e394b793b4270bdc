<script lang="ts">
  import { cpp, cppLanguage } from '@codemirror/lang-cpp';
  import { lintGutter, setDiagnostics } from '@codemirror/lint';
  import { basicSetup, EditorView } from 'codemirror';
  import { Dialog } from 'bits-ui';
  import { untrack } from 'svelte';
  import { placeOfStep } from '#core/edits/shaderEdits.ts';
  import { placeInText } from '#core/language/placeInText.ts';
  import { operatorOf } from '#core/lower/stepOperator.ts';
  import { editorLook } from '../parts/editorLook.ts';
  import { createPhrases, insertedBy } from '../parts/phrases.ts';
  import { focusStep } from './score/stops.ts';
  import type { Readable } from '../parts/completeName.ts';
  import { completeGlsl } from './score/completeGlsl.ts';
  import type { Session } from './state/session.svelte.ts';

  let { session, step: id, onclose }: { session: Session; step: string; onclose: () => void } = $props();
  let view: EditorView | null = null;

  const score = $derived(session.score!);
  const at = $derived.by(() => {
    try {
      return placeOfStep(score.body, id);
    } catch {
      return null;
    }
  });
  const step = $derived(at ? score.body.strands[at.strand]!.steps[at.step]! : null);
  const source = $derived(step?.code ?? '');
  const compiled = $derived(session.shaderState);
  const about = $derived(compiled ? compiled.diagnostics.filter((each) => each.step === id) : []);
  const notes = $derived(compiled ? compiled.notes.filter((each) => each.step === id) : []);
  const found = $derived(step ? operatorOf(step, session.library) : null);
  /** What the code may read from around it. */
  const around = $derived.by((): Readable[] => {
    const above = score.body.strands.slice(0, at?.strand ?? 0);
    return [
      ...score.body.parameters.map(({ name, kind }) => ({ name, detail: `parameter, ${kind}` })),
      ...above.map(({ name, note }) => ({ name, detail: note ? `strand: ${note}` : 'strand' })),
    ];
  });
  const generated = $derived(compiled?.good?.live.fragment.split('\n') ?? []);
  const steps = $derived(compiled?.good?.live.fragmentSteps ?? []);
  const written = $derived(compiled?.good?.live.written.find((each) => each.step === id));
  const isOwn = (line: number) =>
    steps[line] === id || (written && line + 1 >= written.from && line + 1 <= written.to);

  const begins = createPhrases();

  /** Made once: the editor keeps its own state, and what it reads of the session must not make it anew. */
  const mount = (parent: HTMLDivElement) => untrack(() => edit(parent));
  const edit = (parent: HTMLDivElement) => {
    view = new EditorView({
      parent,
      doc: source,
      extensions: [
        basicSetup,
        cpp(),
        cppLanguage.data.of({ autocomplete: completeGlsl(() => around) }),
        lintGutter(),
        editorLook,
        EditorView.contentAttributes.of({ 'aria-label': 'Code of the step' }),
        EditorView.updateListener.of((update) => {
          const text = update.state.doc.toString();
          if (!update.docChanged || !at || text === source) return;
          if (begins(insertedBy(update.changes), performance.now())) session.settle();
          session.apply({
            label: 'Change code',
            part: score.id,
            merge: `code ${id}`,
            patches: [{ op: 'replace', path: ['strands', at.strand, 'steps', at.step, 'code'], value: text }],
          });
        }),
      ],
    });
    view.focus();
    return () => {
      session.settle();
      view?.destroy();
    };
  };
  const showOwn = (list: HTMLElement) => {
    list.querySelector('.own')?.scrollIntoView({ block: 'center' });
  };
  // Undo, or a save from another window, changes the text under the editor.
  $effect(() => {
    const text = source;
    if (view && view.state.doc.toString() !== text)
      view.dispatch({ changes: { from: 0, to: view.state.doc.length, insert: text } });
  });
  $effect(() => {
    const list = [
      ...about
        .filter((each) => each.argument === 'code')
        .map((each) => ({ ...each, severity: 'error' as const })),
      ...notes.map((each) => ({ ...each, severity: 'info' as const })),
    ];
    if (!view) return;
    const { length } = view.state.doc;
    view.dispatch(
      setDiagnostics(
        view.state,
        list.map(({ from, to, severity, message }) => ({
          from: Math.min(from, length),
          to: Math.min(Math.max(to, from), length),
          severity,
          message,
        })),
      ),
    );
  });
  const where = (from: number) => {
    const { line, column } = placeInText(source, from);
    return `${line}:${column}`;
  };
  const go = (line: number) => {
    const to = steps[line];
    if (!to || to === id) return;
    onclose();
    setTimeout(() => focusStep(to), 50);
  };
</script>

<Dialog.Root open onOpenChange={(open) => !open && onclose()}>
  <Dialog.Portal>
    <Dialog.Overlay class="fixed inset-0 z-40 bg-black/20" />
    <Dialog.Content
      class="popup fixed top-1/2 left-1/2 flex h-[82vh] w-[74rem] max-w-[94vw] -translate-1/2 flex-col"
      onOpenAutoFocus={(event) => event.preventDefault()}
      escapeKeydownBehavior="ignore"
    >
      <div class="flex h-11 flex-none items-center gap-3 border-b border-rule px-4">
        <Dialog.Title class="text-[14px] font-semibold">Code</Dialog.Title>
        <Dialog.Description class="mono truncate text-second">
          {found && found.kind === 'code'
            ? `${found.signature.name}(${Object.entries(found.signature.inputs)
                .map(([name, input]) => `${input.type} ${name}`)
                .join(', ')})`
            : 'GLSL ES 3.00: the last function gives inputs and output'}
        </Dialog.Description>
        <button class="btn ml-auto" onclick={onclose}>Done</button>
      </div>
      <div class="grid min-h-0 flex-1 grid-cols-[minmax(0,6fr)_minmax(0,5fr)]">
        <div class="min-h-0 overflow-hidden" {@attach mount}></div>
        <div class="flex min-h-0 flex-col border-l border-rule bg-page">
          <div class="flex-none border-b border-hairline px-3 py-1 text-[12px] text-third">
            Generated fragment; a line leads to its step
          </div>
          <div
            class="mono min-h-0 flex-1 overflow-auto py-2 text-[11px] leading-[1.5]"
            {@attach showOwn}
            data-testid="generated"
          >
            {#each generated as text, line (line)}
              <button
                class="generated"
                class:own={isOwn(line)}
                class:linked={steps[line]}
                tabindex={steps[line] ? 0 : -1}
                onclick={() => go(line)}>{text || ' '}</button
              >
            {/each}
          </div>
        </div>
      </div>
      <div
        class="max-h-28 flex-none overflow-y-auto border-t border-hairline px-4 py-2 text-[12.5px]"
        role="status"
        aria-label="What the code says"
      >
        {#each about as mistake, i (i)}
          <p class="text-oxblood">
            {#if mistake.argument === 'code'}<b class="mono">{where(mistake.from)}</b>{/if}
            {mistake.message}
          </p>
        {/each}
        {#each notes as note, i (i)}<p class="text-second">
            <b class="mono">{where(note.from)}</b>
            {note.message}
          </p>{/each}
        {#if !about.length && !notes.length}<p class="text-third">
            Nothing is wrong; it runs in every back end.
          </p>{/if}
      </div>
    </Dialog.Content>
  </Dialog.Portal>
</Dialog.Root>

<style>
  .generated {
    display: block;
    width: 100%;
    padding: 0 12px;
    color: var(--third);
    text-align: left;
    white-space: pre;
    cursor: default;
  }
  .generated.linked {
    color: var(--second);
    cursor: pointer;
  }
  .generated.linked:hover {
    background: var(--well);
    color: var(--ink);
  }
  .generated.own {
    background: var(--limelight-wash);
    color: var(--ink);
  }
</style>
