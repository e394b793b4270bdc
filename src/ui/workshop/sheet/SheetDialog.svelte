<script lang="ts">
  import { Dialog } from 'bits-ui';
  import { onDestroy, untrack } from 'svelte';
  import { createStage } from '#stage/createStage.ts';
  import type { Seen, Stage } from '#stage/stage.ts';
  import { setValues } from '#core/edits/materialEdits.ts';
  import { download } from '../../parts/download.ts';
  import { drawSet } from '../../parts/drawSet.ts';
  import { dragValue, settleValue } from '../dragValue.ts';
  import { sceneryNow } from '../state/looks.ts';
  import type { Session } from '../state/session.svelte.ts';
  import { cellsOver, choicesIn, sheetParameters, type Cell, type Over } from './cells.ts';
  import { composeSheet } from './composeSheet.ts';

  /** A grid of pictures of the set, each as it would be with another value, preset, choice or operator. */
  let { session, seen, onclose }: { session: Session; seen: Seen | null; onclose: () => void } = $props();

  const WIDTH = 320;
  const HEIGHT = 180;
  const COUNTS = [2, 3, 4, 5, 6];

  const shader = $derived(session.openMotif ? null : session.shader);
  const parameters = $derived(shader ? sheetParameters(shader) : []);
  const choices = $derived(shader ? choicesIn(session, shader) : []);
  const presets = $derived(session.material?.body.presets ?? []);
  const step = $derived(
    shader?.body.strands.flatMap(({ steps }) => steps).find(({ id }) => id === session.selected) ?? null,
  );
  const first = untrack((): Over | null =>
    parameters[0]
      ? { kind: 'parameter', first: parameters[0].name, second: null, count: 3 }
      : presets.length
        ? { kind: 'presets' }
        : choices[0]
          ? { kind: 'choice', ...choices[0] }
          : null,
  );
  let over = $state.raw<Over | null>(first);
  interface Drawn {
    readonly cell: Cell;
    /** The picture's address; null where it does not work. */
    readonly url: string | null;
  }
  let drawn = $state.raw<readonly Drawn[]>([]);
  let busy = $state(false);
  let trouble = $state<string | null>(null);
  let round = 0;
  let stage: Stage | null = null;
  const forget = (): void => {
    for (const { url } of drawn) if (url) URL.revokeObjectURL(url);
    drawn = [];
  };
  onDestroy(() => {
    round += 1;
    forget();
    stage?.dispose();
  });

  const draw = async (wanted: Over): Promise<void> => {
    const mine = (round += 1);
    forget();
    const scenery = sceneryNow(session);
    const id = session.material?.id;
    const now = scenery?.looks.find(({ material }) => material === id);
    trouble = null;
    if (!scenery || !now) {
      trouble = `${session.material?.name ?? 'This material'} stands nowhere on ${session.stage?.name ?? 'a set'}, or does not work yet.`;
      return;
    }
    try {
      stage ??= createStage({}, false);
    } catch {
      trouble = 'The browser gives no further picture to draw on.';
      return;
    }
    busy = true;
    for (const cell of cellsOver(session, now, wanted)) {
      const { look } = cell;
      let url: string | null = null;
      if (typeof look !== 'string') {
        const looks = scenery.looks.map((each) => (each.material === id ? look : each));
        const blob = await drawSet(stage, scenery.set, looks, [WIDTH, HEIGHT], seen).catch(() => null);
        if (blob) url = URL.createObjectURL(blob);
      } else await new Promise((next) => requestAnimationFrame(next));
      if (mine !== round) {
        if (url) URL.revokeObjectURL(url);
        return;
      }
      drawn = [...drawn, { cell, url }];
    }
    busy = false;
  };
  $effect(() => {
    if (over) {
      const wanted = over;
      untrack(() => void draw(wanted));
    }
  });
  const cancel = (): void => {
    round += 1;
    busy = false;
  };

  const take = ({ take: taken, label }: Cell): void => {
    if ('edit' in taken) session.apply(taken.edit);
    else if (session.material && taken.values.every(([{ scope }]) => scope !== 'shared'))
      session.apply(setValues(session.material.id, taken.values, `Set ${label}`));
    else for (const [parameter, value] of taken.values) dragValue(session, parameter, value);
    settleValue(session);
    onclose();
  };
  const columns = $derived(
    over?.kind === 'parameter' ? over.count : Math.min(Math.max(Math.ceil(Math.sqrt(drawn.length)), 3), 6),
  );
  const total = $derived(over?.kind === 'parameter' ? over.count ** 2 : null);
  const valueOf = (now: Over | null): string =>
    now === null
      ? ''
      : now.kind === 'parameter'
        ? `parameter ${now.first}`
        : now.kind === 'choice'
          ? `choice ${now.step} ${now.input}`
          : now.kind;
  const choose = (value: string): void => {
    const [kind, one, two] = value.split(' ');
    if (kind === 'parameter') {
      const before = over?.kind === 'parameter' ? over : { second: null, count: 3 };
      over = { kind, first: one!, second: before.second === one ? null : before.second, count: before.count };
    } else if (kind === 'choice') over = { kind, step: one!, input: two! };
    else if (kind === 'operator' && step) over = { kind, step: step.id };
    else if (kind === 'presets') over = { kind };
  };
</script>

<Dialog.Root open onOpenChange={(open) => !open && onclose()}>
  <Dialog.Portal>
    <Dialog.Overlay class="fixed inset-0 z-40 bg-black/30" />
    <Dialog.Content
      class="popup fixed top-1/2 left-1/2 z-50 flex h-[92vh] w-[76rem] max-w-[96vw] -translate-1/2 flex-col p-5"
    >
      <div class="flex items-baseline gap-4">
        <Dialog.Title class="text-[15px] font-semibold">Contact sheet</Dialog.Title>
        <label class="flex items-baseline gap-1.5 text-second"
          >over <select
            class="max-w-64 bg-transparent text-ink"
            aria-label="What the sheet goes through"
            value={valueOf(over)}
            onchange={(event) => choose(event.currentTarget.value)}
          >
            {#if parameters.length}
              <optgroup label="a parameter">
                {#each parameters as { name } (name)}<option value="parameter {name}">{name}</option>{/each}
              </optgroup>
            {/if}
            {#if presets.length}<option value="presets">presets of {session.material?.name}</option>{/if}
            {#if choices.length}
              <optgroup label="a choice">
                {#each choices as { step: of, input, word } (of + input)}<option value="choice {of} {input}"
                    >{word}</option
                  >{/each}
              </optgroup>
            {/if}
            {#if step}<option value="operator">another operator for {step.operator}</option>{/if}
          </select></label
        >
        {#if over?.kind === 'parameter'}
          {@const now = over}
          <label class="flex items-baseline gap-1.5 text-second"
            >and <select
              class="max-w-40 bg-transparent text-ink"
              aria-label="A second parameter, down the sheet"
              value={now.second ?? ''}
              onchange={(event) => (over = { ...now, second: event.currentTarget.value || null })}
            >
              <option value="">nothing else</option>
              {#each parameters.filter(({ name }) => name !== now.first) as { name } (name)}<option
                  value={name}>{name}</option
                >{/each}
            </select></label
          >
          <label class="flex items-baseline gap-1.5 text-second"
            ><select
              class="bg-transparent text-ink"
              aria-label="How many pictures"
              value={now.count}
              onchange={(event) => (over = { ...now, count: Number(event.currentTarget.value) })}
            >
              {#each COUNTS as n (n)}<option value={n}>{n * n}</option>{/each}
            </select> pictures</label
          >
        {/if}
        <span class="ml-auto text-third" role="status"
          >{busy ? `${drawn.length}${total ? ` of ${total}` : ''}` : `${drawn.length} pictures`}</span
        >
        {#if busy}<button class="text-second underline hover:text-ink" onclick={cancel}>Cancel</button>{/if}
        <button
          class="btn"
          disabled={busy || !drawn.length}
          onclick={() =>
            void composeSheet(drawn, columns, [WIDTH, HEIGHT]).then(
              (blob) => blob && download(`${shader?.name ?? 'sheet'}.png`, 'image/png', blob),
            )}>PNG</button
        >
        <Dialog.Close class="btn">Close</Dialog.Close>
      </div>
      <Dialog.Description class="pt-1 pb-2 text-[12px] text-third">
        The set as the stage is seen now. A click takes the picture’s values; it can be undone.
      </Dialog.Description>
      {#if !over}
        <p class="text-second">This shader has no parameter, preset or choice to go through.</p>
      {/if}
      {#if trouble}<p class="text-oxblood" role="alert">{trouble}</p>{/if}
      <div
        class="grid min-h-0 flex-1 content-start gap-2.5 overflow-y-auto"
        style="grid-template-columns: repeat({columns}, minmax(0, 1fr))"
      >
        {#each drawn as { cell, url }, i (i)}
          <button
            class="group flex flex-col text-left disabled:opacity-100"
            disabled={typeof cell.look === 'string'}
            title={typeof cell.look === 'string' ? cell.look : 'Take it'}
            onclick={() => take(cell)}
          >
            {#if url}
              <img
                class="aspect-video w-full border border-hairline object-cover group-hover:border-ink"
                src={url}
                alt={cell.label}
              />
            {:else}
              <span
                class="grid aspect-video w-full place-items-center border border-hairline bg-well p-2 text-[12px] text-third"
                >{typeof cell.look === 'string' ? cell.look : 'It could not be drawn.'}</span
              >
            {/if}
            <span class="flex items-baseline gap-2 pt-0.5"
              ><span class="truncate">{cell.label}</span><span class="mono ml-auto flex-none text-third"
                >{cell.cost}</span
              ></span
            >
          </button>
        {/each}
      </div>
    </Dialog.Content>
  </Dialog.Portal>
</Dialog.Root>
