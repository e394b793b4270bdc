<script lang="ts">
  import type { Step } from '#core/document/shader.ts';
  import type { Pictures } from '../pictures.svelte.ts';
  import type { ScorePart, Session } from '../state/session.svelte.ts';
  import MotifRow from './MotifRow.svelte';
  import { newStrand } from './newStrand.ts';
  import { createScoreView } from './scoreView.svelte.ts';
  import StrandRow from './StrandRow.svelte';
  import SurfaceRow from './SurfaceRow.svelte';

  interface Props {
    session: Session;
    score: ScorePart;
    pictures: Pictures;
    onexpose: (step: Step, argument: string) => void;
    oncode: (step: string) => void;
    onfold: (strand: string) => void;
  }
  let { session, score, pictures, onexpose, oncode, onfold }: Props = $props();
  // svelte-ignore state_referenced_locally
  const view = createScoreView(session, () => score);
</script>

<div class="w-max min-w-full">
  {#each score.body.strands as strand, index (strand.id)}
    <StrandRow
      {session}
      {score}
      {view}
      {pictures}
      {strand}
      {index}
      {onexpose}
      {oncode}
      onfold={() => onfold(strand.id)}
      onnew={() => newStrand(session, index + 1)}
    />
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
