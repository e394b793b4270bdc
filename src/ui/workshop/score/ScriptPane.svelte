<script lang="ts">
  import { thingNames } from '#core/document/things.ts';
  import { javascript, javascriptLanguage } from '@codemirror/lang-javascript';
  import { lintGutter, setDiagnostics } from '@codemirror/lint';
  import { basicSetup, EditorView } from 'codemirror';
  import { onMount } from 'svelte';
  import { editorLook } from '../../parts/editorLook.ts';
  import { createPhrases, insertedBy } from '../../parts/phrases.ts';
  import { completeScript } from './completeScript.ts';
  import type { Rehearsal } from '../rehearsal.svelte.ts';
  import type { Session } from '../state/session.svelte.ts';

  let { session, rehearsal }: { session: Session; rehearsal: Rehearsal } = $props();
  let host: HTMLDivElement;
  let view: EditorView | null = null;
  let swap: ReturnType<typeof setTimeout> | undefined;
  /** Materials and their parameters, as completion offers them. */
  const known = $derived(
    session.materials.map((part) => {
      const shader = session.part(part.body.shader);
      return { name: part.name, parameters: shader?.kind === 'shader' ? shader.body.parameters : [] };
    }),
  );
  /** What of the set can be named. */
  const things = $derived({
    prop: session.stage ? thingNames(session.stage.body, 'prop') : [],
    cue: session.stage ? thingNames(session.stage.body, 'cue') : [],
    flourish: session.stage ? thingNames(session.stage.body, 'flourish') : [],
  });
  const source = $derived(session.script?.body.source ?? '');

  /** The line of a mistake, and its script where several play. */
  const where = (id: string, line: number): string => {
    const name = session.played.length > 1 ? (session.part(id)?.name ?? '') : '';
    const told = line ? `${name ? 'line' : 'Line'} ${line}` : '';
    return name || told ? `${[name, told].filter(Boolean).join(', ')}: ` : '';
  };

  const begins = createPhrases();

  onMount(() => {
    view = new EditorView({
      parent: host,
      doc: source,
      extensions: [
        basicSetup,
        javascript(),
        javascriptLanguage.data.of({
          autocomplete: completeScript(
            () => known,
            () => things,
          ),
        }),
        lintGutter(),
        editorLook,
        EditorView.contentAttributes.of({ 'aria-label': 'Script' }),
        EditorView.updateListener.of((update) => {
          const part = session.script;
          const text = update.state.doc.toString();
          if (!update.docChanged || !part || text === part.body.source) return;
          if (begins(insertedBy(update.changes), performance.now())) session.settle();
          session.apply({
            label: 'Change script',
            part: part.id,
            merge: 'script',
            patches: [{ op: 'replace', path: ['source'], value: text }],
          });
          // Once typing pauses, what was wrong is forgotten, and a rehearsal goes on with the changed script.
          clearTimeout(swap);
          swap = setTimeout(() => rehearsal.swap(part.id, text), 500);
        }),
      ],
    });
    return () => view?.destroy();
  });

  // Undo elsewhere, or a reload, changes the text under the editor.
  $effect(() => {
    const text = source;
    if (view && view.state.doc.toString() !== text)
      view.dispatch({ changes: { from: 0, to: view.state.doc.length, insert: text } });
  });
  $effect(() => {
    const mistake = rehearsal.mistakes.get(session.script?.id ?? '');
    if (!view) return;
    const { doc } = view.state;
    const line = mistake && mistake.line >= 1 && mistake.line <= doc.lines ? doc.line(mistake.line) : null;
    const list =
      mistake && line
        ? [
            {
              from: Math.min(line.from + Math.max(mistake.column - 1, 0), line.to),
              to: line.to,
              severity: 'error' as const,
              message: mistake.message,
            },
          ]
        : [];
    view.dispatch(setDiagnostics(view.state, list));
  });
</script>

<div class="flex h-full">
  <div class="min-w-0 flex-1 overflow-hidden" bind:this={host}></div>
  <aside class="flex w-80 flex-none flex-col border-l border-rule bg-page" aria-label="Log">
    <div class="border-b border-hairline px-3 py-1.5 font-semibold">Log</div>
    <div class="mono min-h-0 flex-1 overflow-auto px-3 py-2 whitespace-pre-wrap" role="log">
      {#each rehearsal.mistakes as [id, mistake] (id)}
        <p class="mb-1 font-sans text-[13px] text-oxblood" role="alert">
          {where(id, mistake.line)}{mistake.message}
        </p>
      {/each}
      {#each rehearsal.logs as line, i (i)}<div>{line}</div>{:else}
        {#if !rehearsal.mistakes.size}<p class="font-sans text-[13px] text-third">
            What the script logs appears here while rehearsing.
          </p>{/if}
      {/each}
    </div>
  </aside>
</div>
