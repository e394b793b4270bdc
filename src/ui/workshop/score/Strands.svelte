<script lang="ts">
  import { untrack } from 'svelte';
  import type { Step, Strand } from '#core/document/shader.ts';
  import type { Checking } from '../checks/checking.svelte.ts';
  import type { PinWatch } from '../pins/watchPins.svelte.ts';
  import type { Pictures } from '../pictures.svelte.ts';
  import type { ScorePart, Session } from '../state/session.svelte.ts';
  import MotifRow from './MotifRow.svelte';
  import { newStrand } from './newStrand.ts';
  import { createRowsInSight } from './rowsInSight.svelte.ts';
  import { createScoreView } from './scoreView.svelte.ts';
  import Palette from './Palette.svelte';
  import { addStop, bringsStops } from './stops.ts';
  import StrandRow from './StrandRow.svelte';
  import SurfaceRow from './SurfaceRow.svelte';

  interface Props {
    session: Session;
    score: ScorePart;
    pictures: Pictures;
    pins: PinWatch;
    checking: Checking;
    onexpose: (step: Step, argument: string) => void;
    oncode: (step: string) => void;
    onfold: (strand: string) => void;
  }
  let { session, score, pictures, pins, checking, onexpose, oncode, onfold }: Props = $props();
  // svelte-ignore state_referenced_locally
  const view = createScoreView(session, () => score);

  /** A score of more steps than this is long: of its rows only those near what is seen are in the page. */
  const LONG = 240;
  /** So many rows are there before the first look at what is in sight. */
  const AT_FIRST = 5;
  /** How tall a row is that was never in the page, in pixels. */
  const ROW = 83;
  const isLong = $derived(score.body.strands.reduce((sum, { steps }) => sum + steps.length, 0) > LONG);
  // svelte-ignore state_referenced_locally
  const rows = createRowsInSight(score.body.strands.slice(0, AT_FIRST).map(({ id }) => id));
  let brought = $state.raw<string | null>(null);
  const strandWith = (step: string | null): string | null =>
    (step !== null && score.body.strands.find(({ steps }) => steps.some(({ id }) => id === step))?.id) ||
    null;
  const strandNamed = (id: string | null) => score.body.strands.find((each) => each.id === id)?.id;
  const inHand = $derived(strandWith(session.selected));
  const isThere = (strand: Strand): boolean =>
    !isLong || rows.isNear(strand.id) || strand.id === inHand || strand.id === brought;
  // A strand that is to be named, or to be given a step, has to be there.
  $effect.pre(() => {
    brought = session.asking?.strand ?? strandNamed(session.toName) ?? untrack(() => brought);
  });
  const brings = bringsStops((key) => {
    brought = strandWith(key) ?? score.body.strands.find(({ id }) => addStop(id) === key)?.id ?? null;
  });
</script>

<div class="w-max min-w-full" {@attach brings}>
  {#each score.body.strands as strand, index (strand.id)}
    {@const isIn = isThere(strand)}
    <div
      role="presentation"
      onfocusin={() => (brought = strand.id)}
      {@attach isLong && ((row) => rows.watch(row, strand.id))}
      style:height={isIn ? null : `${rows.heightOf(strand.id) ?? ROW}px`}
    >
      {#if isIn}
        <StrandRow
          {session}
          {score}
          {view}
          {pictures}
          {pins}
          {checking}
          {strand}
          {index}
          {onexpose}
          {oncode}
          onfold={() => onfold(strand.id)}
          onnew={() => newStrand(session, index + 1)}
        />
      {:else}
        <section class="sr-only" aria-label="Strand {strand.name}"></section>
      {/if}
    </div>
  {:else}
    <p class="p-4 text-second">
      A strand is a named value, built left to right by steps. Begin with <button
        class="underline"
        onclick={() => newStrand(session)}>the first strand</button
      >, then let {score.kind === 'motif' ? 'an output of the motif' : 'an output of the surface'} read it.
    </p>
  {/each}
  {#if score.kind === 'shader'}
    <SurfaceRow {session} {pictures} />
  {:else}
    <MotifRow {session} {pictures} motif={score} />
  {/if}
</div>
<Palette {session} {score} {oncode} />
