<script lang="ts">
  import { Tabs } from 'bits-ui';
  import type { Step } from '#core/document/shader.ts';
  import type { Portraits } from '../parts/portraits.svelte.ts';
  import type { PinWatch } from '../pins/watchPins.svelte.ts';
  import PlotBar from '../plot/PlotBar.svelte';
  import type { Plotting } from '../plot/plotting.svelte.ts';
  import type { Pictures } from '../pictures.svelte.ts';
  import type { Rehearsal } from '../rehearsal.svelte.ts';
  import type { Session } from '../state/session.svelte.ts';
  import Later from '../../parts/Later.svelte';
  import MotifBar from './MotifBar.svelte';
  import type { Checking } from '../checks/checking.svelte.ts';
  import TextureBar from '../textures/TextureBar.svelte';
  import type { Making } from '../textures/making.svelte.ts';
  import { newStrand } from './newStrand.ts';
  import type { Bringing } from '../set/bringModel.svelte.ts';
  import CueBar from '../cues/CueBar.svelte';
  import type { Comparing } from '../compare/comparing.svelte.ts';
  import type { Cueing } from '../cues/cueing.svelte.ts';
  import type { Taking } from '../takes/taking.svelte.ts';
  import SetBar from '../set/SetBar.svelte';
  import ScriptBar from './ScriptBar.svelte';
  import Strands from './Strands.svelte';
  import { TABS, type Tab } from '../state/views.ts';

  interface Props {
    session: Session;
    rehearsal: Rehearsal;
    pictures: Pictures;
    pins: PinWatch;
    plotting: Plotting;
    cueing: Cueing;
    making: Making;
    taking: Taking;
    comparing: Comparing;
    checking: Checking;
    portraits: Portraits;
    onexpose: (step: Step, argument: string) => void;
    oncode: (step: string) => void;
    /** Asks to fold strands into a motif, beginning from the one named. */
    onfold: (strand: string) => void;
    onimport: () => void;
    bringing: Bringing;
    /** Asks for the files of a model. */
    onbring: () => void;
  }
  let {
    session,
    rehearsal,
    pictures,
    pins,
    plotting,
    cueing,
    making,
    taking,
    comparing,
    checking,
    portraits,
    onexpose,
    oncode,
    onfold,
    onimport,
    bringing,
    onbring,
  }: Props = $props();
  const tab = $derived(session.tab);
  /** Once opened, the script's editor stays, and with it what can be undone there. */
  let scriptSeen = $state(false);
  $effect(() => {
    if (tab === 'script') scriptSeen = true;
  });

  // A strand that is to be named is one to be seen.
  $effect(() => {
    if (session.toName) session.showTab('strands');
  });
</script>

<Tabs.Root bind:value={() => tab, (wanted) => session.showTab(wanted as Tab)} class="flex h-full flex-col">
  <div class="flex h-[34px] flex-none items-center border-b border-rule bg-sheet pr-3.5">
    <Tabs.List class="flex h-full px-3.5" aria-label="Score">
      {#each TABS as { tab, name } (tab)}
        <Tabs.Trigger value={tab} class="score-tab"
          >{name}{tab === 'script' && rehearsal.mistakes.size
            ? ' !'
            : ''}{#if tab === 'checks' && checking.open.length}&nbsp;<b class="text-oxblood"
              >{checking.open.length}</b
            >{/if}</Tabs.Trigger
        >
      {/each}
    </Tabs.List>
    {#if tab === 'strands' && session.score}
      <MotifBar {session} />
      <label class="ml-4 flex items-center gap-1.5 text-second" title="Long strands go on in a second line"
        ><input
          type="checkbox"
          class="accent-ink"
          checked={session.wraps}
          onchange={(event) => session.setWraps(event.currentTarget.checked)}
        /> Wrap</label
      >
      <label
        class="ml-4 flex items-center gap-1.5 text-second"
        title="Each step shows its share of a pixel’s operations"
        ><input
          type="checkbox"
          class="accent-ink"
          checked={session.costs}
          onchange={(event) => session.setCosts(event.currentTarget.checked)}
        /> Costs</label
      >
      <button class="ml-4 whitespace-nowrap text-second hover:text-ink" onclick={onimport}>Import GLSL</button
      >
      <button class="ml-4 whitespace-nowrap text-second hover:text-ink" onclick={() => newStrand(session)}
        >Add strand</button
      >
    {:else if tab === 'stage'}
      <SetBar {session} {bringing} {onbring} />
    {:else if tab === 'cues'}
      <CueBar {session} {rehearsal} {cueing} {taking} />
    {:else if tab === 'script'}
      <ScriptBar {session} />
    {:else if tab === 'textures'}
      <TextureBar {session} />
    {:else if tab === 'plot'}
      <PlotBar {session} {plotting} />
    {/if}
  </div>
  <Tabs.Content value="strands" class="min-h-0 flex-1 overflow-auto">
    {#if session.score}
      <Strands {session} score={session.score} {pictures} {pins} {checking} {onexpose} {oncode} {onfold} />
    {:else}
      <p class="p-4 text-second">
        {session.parts.some(({ kind }) => kind === 'shader')
          ? 'No material is left to show a shader with. Open a shader in the list of parts, and make a material for it there.'
          : 'This project has no shader yet. Begin one in the list of parts.'}
      </p>
    {/if}
  </Tabs.Content>
  <Tabs.Content value="stage" class="min-h-0 flex-1 overflow-auto">
    {#if tab === 'stage'}<Later bring={() => import('../set/SetRows.svelte')} {session} {portraits} />{/if}
  </Tabs.Content>
  <Tabs.Content value="cues" class="min-h-0 flex-1">
    {#if tab === 'cues'}<Later
        bring={() => import('../cues/CuesPane.svelte')}
        {session}
        {rehearsal}
        {cueing}
        {taking}
        {comparing}
      />{/if}
  </Tabs.Content>
  <Tabs.Content value="textures" class="min-h-0 flex-1">
    {#if tab === 'textures'}<Later
        bring={() => import('../textures/TexturesPane.svelte')}
        {session}
        {making}
      />{/if}
  </Tabs.Content>
  <Tabs.Content value="plot" class="min-h-0 flex-1">
    {#if tab === 'plot'}<Later
        bring={() => import('../plot/PlotPane.svelte')}
        {session}
        {rehearsal}
        {pins}
        {plotting}
      />{/if}
  </Tabs.Content>
  <Tabs.Content value="checks" class="min-h-0 flex-1">
    {#if tab === 'checks'}<Later
        bring={() => import('../checks/ChecksPane.svelte')}
        {session}
        {checking}
        {pins}
      />{/if}
  </Tabs.Content>
  <Tabs.Content value="script" class="min-h-0 flex-1">
    {#if scriptSeen}
      <!-- The editor is heavy, and most of the work is done without it. -->
      {#key session.script?.id}
        <Later bring={() => import('./ScriptPane.svelte')} {session} {rehearsal} />
      {/key}
    {/if}
  </Tabs.Content>
</Tabs.Root>
