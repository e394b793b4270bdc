<script lang="ts">
  import { goto } from '$app/navigation';
  import { Pane, PaneGroup, PaneResizer } from 'paneforge';
  import { onDestroy } from 'svelte';
  import { toast } from 'svelte-sonner';
  import type { Parameter, Step } from '#core/document/shader.ts';
  import CommandList from './CommandList.svelte';
  import { chordOf } from './commands/chords.ts';
  import { commandFor } from './commands/command.ts';
  import { EVERYWHERE, type Desk, type Sheet } from './commands/everywhere.ts';
  import AskDialog from '../parts/AskDialog.svelte';
  import ConflictDialog from './ConflictDialog.svelte';
  import { draftFrom, draftOf, type Draft } from './parameterDrafts.ts';
  import ParametersPane from './ParametersPane.svelte';
  import {
    changeShader,
    duplicatePart,
    newPartOf,
    openPart,
    removePart,
    shiftSet,
    takeAsDefaults,
  } from './parts/doToPart.ts';
  import { createPortraits } from './parts/portraits.svelte.ts';
  import { addPinTo } from './pins/doToPin.ts';
  import { watchPins } from './pins/watchPins.svelte.ts';
  import { createPictures } from './pictures.svelte.ts';
  import { createRehearsal } from './rehearsal.svelte.ts';
  import { createSweeping } from './sweep/sweeping.svelte.ts';
  import { createComparing } from './compare/comparing.svelte.ts';
  import { createChecking } from './checks/checking.svelte.ts';
  import { createPlotting } from './plot/plotting.svelte.ts';
  import { addCue } from './cues/doToCue.ts';
  import { createCueing } from './cues/cueing.svelte.ts';
  import { addFlourish } from './flourishes/doToFlourish.ts';
  import { importPictures, isPicture } from './textures/beginFrom.ts';
  import { createMaking } from './textures/making.svelte.ts';
  import { createTaking } from './takes/taking.svelte.ts';
  import Score from './score/Score.svelte';
  import { sessionHere } from './ProjectSession.svelte';
  import { createBringing } from './set/bringModel.svelte.ts';
  import { addReference } from './references/doToReference.ts';
  import { doToProps, dressProps, newProp } from './set/doToProp.ts';
  import StagePane from './StagePane.svelte';
  import Later from '../parts/Later.svelte';
  import TopBar from './TopBar.svelte';

  const session = sessionHere();
  const rehearsal = createRehearsal(session, (sentence) => toast.error(sentence));
  const pictures = createPictures();
  const pins = watchPins(session);
  const sweeping = createSweeping(session, pins);
  const plotting = createPlotting(session, pins, rehearsal);
  const cueing = createCueing(session, rehearsal);
  const making = createMaking(session);
  const taking = createTaking(session, rehearsal);
  const comparing = createComparing(session, rehearsal, taking);
  const checking = createChecking(session, pins, rehearsal);
  const portraits = createPortraits(session);
  onDestroy(() => {
    taking.close();
    rehearsal.stop();
    sweeping.close();
    pins.close();
    checking.close();
    making.close();
    portraits.close();
  });
  let open = $state<'commands' | 'history' | 'keys' | 'contact sheet' | null>(null);

  /** The project's list, and the part in it whose name is being written. */
  let parts = $state(false);
  let naming = $state<string | null>(null);

  let draft = $state.raw<Draft | null>(null);
  /** The code step that is edited, the strand that is folded, and the file that is imported. */
  let coding = $state<string | null>(null);
  let folding = $state<string | null>(null);
  let importing = $state.raw<{ readonly file: File | null } | null>(null);
  /** Proposes a parameter for a number in the score. */
  const expose = (step: Step, argument: string) => {
    draft = draftFrom(session.document!, session.library, step, argument) ?? draft;
  };
  const editParameter = (parameter: Parameter | null) => {
    draft = draftOf(session.document!, parameter);
  };

  const typing = (target: EventTarget | null) =>
    target instanceof HTMLElement &&
    (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName));

  const desk: Desk = {
    session,
    rehearsal,
    go: (path) => void goto(path),
    open: (sheet: Sheet) => {
      if (sheet === 'parameter') editParameter(null);
      else if (sheet === 'import') importing = { file: null };
      else if (sheet === 'parts') parts = !parts;
      else open = open === sheet ? null : sheet;
    },
    doToPart: (part, deed) => {
      if (deed === 'open') openPart(session, part);
      else if (deed === 'duplicate') void duplicatePart(session, part);
      else if (deed === 'delete') void removePart(session, part);
      else if (deed === 'earlier' || deed === 'later') shiftSet(session, part, deed === 'earlier' ? -1 : 1);
      else {
        naming = part.id;
        parts = true;
      }
    },
    doToProps: (deed) => doToProps(session, deed),
    newProp: (kind) => newProp(session, kind),
    bringModel: () => chooser?.click(),
    bringReference: () => pictureChooser?.click(),
    dress: (material) => dressProps(session, session.props, material),
    pinProp: (prop) => addPinTo(session, prop),
    sweep: sweeping.begin,
    recordTake: taking.record,
    addCue: () => {
      session.showTab('cues');
      addCue(session, cueing);
    },
    addFlourish: () => {
      session.showTab('cues');
      addFlourish(session, cueing);
    },
    playFlourish: (flourish) => {
      cueing.holdFlourish(flourish);
      cueing.play();
    },
    playCue: (cue) => {
      cueing.hold(cue);
      cueing.play();
    },
    comparing,
    begin: (kind) => void newPartOf(session, kind),
    useShader: (shader) => changeShader(session, shader),
    makeDefaults: () => takeAsDefaults(session),
  };
  /** The one button that has its keys while rehearsing. */
  const isStop = (target: EventTarget | null) =>
    target instanceof HTMLElement && target.closest('[data-rehearse]') !== null;

  const inDialog = (target: EventTarget | null) =>
    target instanceof HTMLElement && target.closest('[role=dialog]') !== null;

  const onkeydown = (event: KeyboardEvent) => {
    const { target } = event;
    const heard = EVERYWHERE.filter(
      (each) =>
        (each.overDialogs || !inDialog(target)) &&
        (each.whileTyping || !typing(target)) &&
        (each.whileRehearsing || !rehearsal.running),
    );
    const command = commandFor(heard, chordOf(event), desk);
    if (command) {
      // What else hears Escape, such as a menu, goes on hearing it.
      if (event.key !== 'Escape') event.preventDefault();
      if (!(command.whileHeld && event.repeat)) command.run(desk);
    } else if (
      rehearsal.running &&
      !inDialog(target) &&
      !typing(target) &&
      !event.ctrlKey &&
      !event.metaKey &&
      !(isStop(target) && (event.key === 'Enter' || event.key === ' '))
    ) {
      // While rehearsing, keys are the player's: Space must not press whatever button has the focus.
      if (event.code !== 'Tab') event.preventDefault();
      event.stopPropagation();
      if (!event.repeat) rehearsal.key('down', event.code);
    }
  };
  const bringing = createBringing(session);
  let chooser = $state<HTMLInputElement>();
  let pictureChooser = $state<HTMLInputElement>();
  /** Pictures dropped on the stage stand where they were dropped; others beside it. */
  const refer = (files: readonly File[], event?: DragEvent) => {
    const on = document.querySelector('[data-testid=stage]')?.getBoundingClientRect();
    const [x, y] =
      on && event ? [(event.clientX - on.left) / on.width, (event.clientY - on.top) / on.height] : [2, 2];
    const at: [number, number] | undefined = x >= 0 && x <= 1 && y >= 0 && y <= 1 ? [x, y] : undefined;
    for (const file of files) void addReference(session, file, at);
  };
  const ondrop = (event: DragEvent) => {
    const files = [...(event.dataTransfer?.files ?? [])];
    if (!files.length) return;
    // Left alone, the browser would leave the workshop to show the file.
    event.preventDefault();
    const file = files.find((each) => /\.(glsl|frag|fs|txt)$/i.test(each.name));
    if (file) importing = { file };
    else if (files.some((each) => /\.(glb|gltf|obj)$/i.test(each.name))) void bringing.bring(files);
    else if (session.tab === 'textures' && files.every(isPicture)) void importPictures(session, files);
    else if (files.every((each) => each.type.startsWith('image/')) && session.stage) refer(files, event);
    else
      toast.error(
        `${files[0]!.name} is not read here; drop GLSL, as .glsl, .frag, .fs or .txt, a model, as .glb, .gltf or .obj, or a picture: on the Textures tab it begins a texture, elsewhere it is looked at beside the set.`,
      );
  };
  const onkeyup = (event: KeyboardEvent) => {
    if (comparing.isHeld) comparing.hold(false);
    if (!rehearsal.running || typing(event.target) || isStop(event.target)) return;
    if (event.code !== 'Tab') event.preventDefault();
    rehearsal.key('up', event.code);
  };
</script>

<svelte:window
  onkeydowncapture={onkeydown}
  onkeyupcapture={onkeyup}
  onblur={() => {
    comparing.hold(false);
    rehearsal.releaseKeys();
  }}
/>

<div
  class="flex h-screen flex-col"
  role="presentation"
  ondragover={(event) => event.dataTransfer?.types.includes('Files') && event.preventDefault()}
  {ondrop}
>
  <TopBar
    {session}
    {rehearsal}
    {portraits}
    {checking}
    onopen={(what) => (open = what)}
    bind:parts
    bind:naming
    onpart={desk.doToPart}
  />
  <PaneGroup direction="vertical" autoSaveId="wicked-veil.rows" class="min-h-0 flex-1">
    <Pane defaultSize={51.4} minSize={20}>
      <PaneGroup direction="horizontal" autoSaveId="wicked-veil.columns">
        <Pane defaultSize={63.5} minSize={30}
          ><StagePane
            {session}
            {rehearsal}
            {pictures}
            {pins}
            {comparing}
            {taking}
            {checking}
            {making}
            onsheet={() => (open = 'contact sheet')}
          /></Pane
        >
        <PaneResizer class="pane-resizer w-px cursor-ew-resize bg-rule" aria-label="Width of the stage" />
        <Pane defaultSize={36.5} minSize={24}
          >{#if sweeping.parameter}<Later
              bring={() => import('./sweep/SweepPane.svelte')}
              {session}
              {sweeping}
              {checking}
            />{:else if session.tab === 'textures' && session.texture}<Later
              bring={() => import('./textures/TextureSettings.svelte')}
              {session}
              {making}
            />{:else}<ParametersPane
              {session}
              {rehearsal}
              onedit={editParameter}
              onsweep={sweeping.begin}
            />{/if}</Pane
        >
      </PaneGroup>
    </Pane>
    <PaneResizer class="pane-resizer h-px cursor-ns-resize bg-rule" aria-label="Height of the stage" />
    <Pane defaultSize={48.6} minSize={15}
      ><Score
        {session}
        {rehearsal}
        {pictures}
        {pins}
        {plotting}
        {cueing}
        {making}
        {comparing}
        {taking}
        {checking}
        {portraits}
        onexpose={expose}
        oncode={(step) => (coding = step)}
        onfold={(strand) => (folding = strand)}
        onimport={() => (importing = { file: null })}
        {bringing}
        onbring={() => chooser?.click()}
      /></Pane
    >
  </PaneGroup>
</div>
<input
  bind:this={chooser}
  type="file"
  multiple
  hidden
  accept=".glb,.gltf,.obj,.bin,.png,.jpg,.jpeg,.webp"
  aria-label="Files of the model"
  onchange={(event) => {
    const files = [...(event.currentTarget.files ?? [])];
    event.currentTarget.value = '';
    if (files.length) void bringing.bring(files);
  }}
/>
<input
  bind:this={pictureChooser}
  type="file"
  multiple
  hidden
  accept="image/*"
  aria-label="Reference pictures"
  onchange={(event) => {
    const files = [...(event.currentTarget.files ?? [])];
    event.currentTarget.value = '';
    refer(files);
  }}
/>
<ConflictDialog {session} />
<AskDialog />
{#if coding}
  {#key coding}<Later
      bring={() => import('./CodeDialog.svelte')}
      {session}
      step={coding}
      onclose={() => (coding = null)}
    />{/key}
{/if}
{#if folding}
  {#key folding}<Later
      bring={() => import('./FoldDialog.svelte')}
      {session}
      strand={folding}
      onclose={() => (folding = null)}
    />{/key}
{/if}
{#if importing}
  <Later
    bring={() => import('./ImportDialog.svelte')}
    {session}
    file={importing.file}
    onclose={() => (importing = null)}
  />
{/if}
{#if open === 'commands'}
  <CommandList {desk} onclose={() => (open = null)} />
{:else if open === 'history'}
  <Later bring={() => import('./HistoryDialog.svelte')} {session} onclose={() => (open = null)} />
{:else if open === 'contact sheet'}
  <Later
    bring={() => import('./sheet/SheetDialog.svelte')}
    {session}
    seen={pins.seenFrom()}
    onclose={() => (open = null)}
  />
{:else if open === 'keys'}
  <Later bring={() => import('./ShortcutsDialog.svelte')} onclose={() => (open = null)} />
{/if}
{#if draft}
  {#key draft}<Later
      bring={() => import('./ParameterDialog.svelte')}
      {session}
      {draft}
      onclose={() => (draft = null)}
    />{/key}
{/if}
