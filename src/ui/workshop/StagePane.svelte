<script lang="ts">
  import { rawTrails } from '#core/time/drawnLayers.ts';
  import { materialsOn } from '#core/document/materialsOn.ts';
  import { onMount, untrack } from 'svelte';
  import { tapKey } from '#core/compileShader.ts';
  import { setNow } from '#core/time/setNow.ts';
  import { numbersFor, tablesFor } from '#core/time/values.ts';
  import { layersOn } from './flourishes/layersOn.ts';
  import { setStage } from '#core/edits/stageEdits.ts';
  import StageNotices from './set/StageNotices.svelte';
  import StageStrips from './set/StageStrips.svelte';
  import RehearsalNotes from './set/RehearsalNotes.svelte';
  import { createStageHands, placeProps } from './set/stageHands.ts';
  import { createStage } from '#stage/createStage.ts';
  import type { Reach, Seen, Stage, StageMaterial } from '#stage/stage.ts';
  import Later from '../parts/Later.svelte';
  import type { Checking } from './checks/checking.svelte.ts';
  import type { Comparing } from './compare/comparing.svelte.ts';
  import type { Making } from './textures/making.svelte.ts';
  import { picturesNow } from './picturesOf.ts';
  import type { Pictures } from './pictures.svelte.ts';
  import PinLayer from './pins/PinLayer.svelte';
  import type { PinWatch } from './pins/watchPins.svelte.ts';
  import type { Rehearsal } from './rehearsal.svelte.ts';
  import type { Session } from './state/session.svelte.ts';
  import type { Taking } from './takes/taking.svelte.ts';
  import { stageView } from './state/views.ts';
  import { wantsOf } from './wantsOf.ts';
  import StageCanvas from './set/StageCanvas.svelte';
  import ViewStrip from './ViewStrip.svelte';

  interface Props {
    session: Session;
    rehearsal: Rehearsal;
    pictures: Pictures;
    pins: PinWatch;
    comparing: Comparing;
    taking: Taking;
    checking: Checking;
    making: Making;
    /** Asks for a contact sheet. */
    onsheet: () => void;
  }
  let { session, rehearsal, pictures, pins, comparing, taking, checking, making, onsheet }: Props = $props();

  let pane: HTMLDivElement;
  let stage = $state.raw<Stage | null>(null);
  let trouble = $state<string | null>(null);
  /** Materials that are left out since the graphics card gave up over them. */
  let muted = $state.raw<readonly string[]>([]);
  /** How far the baking of distances has come. */
  let baking = $state.raw<{ readonly done: number; readonly of: number } | null>(null);
  /** The box in which distances are looked at. */
  let reach = $state.raw<Reach>(null);
  /** Pictures that have arrived and programs that were linked, so that step pictures follow them. */
  let arrived = $state(0);
  let [width, height] = $state([1, 1]);

  onMount(() => {
    let made: Stage;
    try {
      made = createStage({
        onTrouble: (sentence) => (trouble = sentence),
        onMuted: (ids) => (muted = ids),
        onBaking: (now) => (baking = now),
        // Told as the stage takes in a set: from inside an effect.
        onLeftOut: (props) => queueMicrotask(() => session.noteLeftOut(props)),
        onRefused: (id, compiled, log) => {
          const part = session.part(id);
          const motif = id === session.material?.id ? session.openMotif : null;
          const shader = motif?.id ?? (part?.kind === 'material' ? part.body.shader : id);
          // Told from inside an effect, it is taken in once that is done.
          queueMicrotask(() => {
            const left = session.noteRefusal(shader, compiled, log);
            if (left !== null) trouble = `The graphics driver refused this shader: ${left}.`;
          });
        },
        onChanged: () => (arrived += 1),
        onFrame: () => {
          pins.look();
          rehearsal.look(made.player());
        },
        onPlaced: (places) => placeProps(session, places),
        onSettled: () => session.settle(),
        onCut: (at) => session.setCut({ at: Math.round(at * 1000) / 1000 }),
        onReach: (now) => JSON.stringify(now) !== JSON.stringify(reach) && (reach = now),
      });
    } catch {
      trouble =
        'This browser gives no WebGL 2, which the stage needs. Turn on graphics acceleration, or open the project in another browser; strands and parameters can still be edited here.';
      return;
    }
    const observer = new ResizeObserver(([entry]) => {
      ({ width, height } = entry!.contentRect);
      if (width && height) made.resize(width, height, window.devicePixelRatio || 1);
    });
    observer.observe(pane);
    [width, height] = [pane.clientWidth, pane.clientHeight];
    made.resize(pane.clientWidth, pane.clientHeight, window.devicePixelRatio || 1);
    stage = made;
    pictures.attach(made);
    pins.attach(made);
    taking.attach(made);
    return () => {
      observer.disconnect();
      pictures.attach(null);
      pins.attach(null);
      taking.attach(null);
      made.dispose();
    };
  });

  /** The set the camera stands in. */
  let shownSet: string | null = null;
  const stageBody = $derived(session.stage?.body ?? null);
  /** Materials whose shader has worked at least once; a new object only when a program or setting changed. */
  let stood: ReadonlyMap<string, StageMaterial> = new Map();
  const materials = $derived.by(() => {
    const now = new Map<string, StageMaterial>();
    // What stands on the set, and what is in hand: the rest of the project is not linked.
    const wanted = new Set(session.stage && materialsOn(session.stage.body));
    if (session.material) wanted.add(session.material.id);
    for (const part of session.materials) {
      if (!wanted.has(part.id)) continue;
      const state = session.shaders.get(part.body.shader);
      if (state?.good) now.set(part.id, { shader: state.good, settings: state.settings });
    }
    // A motif that is worked on lies on the prop of the material it was opened from.
    const open = session.openMotif && session.shaders.get(session.openMotif.id);
    if (open?.good && session.material)
      now.set(session.material.id, { shader: open.good, settings: open.settings });
    const same =
      now.size === stood.size &&
      [...now].every(
        ([id, each]) => stood.get(id)?.shader === each.shader && stood.get(id)?.settings === each.settings,
      );
    if (!same) stood = now;
    return stood;
  });

  /** Whether shaders of what stands on the set have not been answered for yet. */
  const awaitsMore = (): boolean => {
    const on = materialsOn(session.stage!.body);
    return session.materials.some(
      ({ id, body: { shader } }) => on.has(id) && session.part(shader) && !session.shaders.has(shader),
    );
  };

  $effect(() => {
    if (!stage || !stageBody) return;
    stage.setScene(setNow(stageBody, rehearsal.moved), materials, untrack(awaitsMore));
    const { id } = untrack(() => session.stage!);
    if (shownSet !== id) stage.resetCamera();
    shownSet = id;
  });

  $effect(() => {
    if (!stage) return;
    for (const part of session.materials) {
      // What another set brings with it has its numbers as soon as it stands there.
      if (!materials.has(part.id)) continue;
      const motif = session.openMotif && part.id === session.material?.id ? session.openMotif : null;
      const shader = motif ?? session.part(part.body.shader);
      if (shader?.kind !== 'shader' && shader?.kind !== 'motif') continue;
      const state = session.shaders.get(shader.id);
      if (!state?.good) continue;
      const authored = session.authored(motif ? {} : part.body.values);
      const declared = shader.body.parameters;
      const driven = session.values.of(part.id);
      const parameters = numbersFor(declared, authored, driven);
      // While a shader is broken its last good program may still read a parameter that is gone.
      for (const each of state.good.program.parameters)
        if (!parameters.has(each.name)) parameters.set(each.name, [0, 0, 0, 0]);
      stage.setNumbers(part.id, {
        parameters,
        knobs: state.knobs,
        tables: tablesFor(declared, authored, driven),
        pictures: picturesNow(part, declared, stageBody?.choices, driven),
      });
    }
  });

  $effect(() => stage?.setLayers(layersOn(session, rehearsal.layers)));
  $effect(() => {
    stage?.hold({
      ids: rehearsal.running ? [] : session.props,
      mode: session.handles,
      snap: session.snap,
      lines: session.showsRaw ? rawTrails(session.stage?.body.flourishes ?? [], rehearsal.layers) : [],
    });
  });
  $effect(() => {
    const { framing } = session;
    if (!stage || !framing) return;
    stage.frame(framing);
    untrack(() => session.askFrame(null));
  });
  $effect(() => {
    if (!stage || !session.takingView) return;
    const seen = stage.seen();
    const to = (x: number) => Math.round(x * 1e3) / 1e3;
    untrack(() => {
      session.askTakeView(false);
      const set = session.stage;
      if (!set) return;
      const [position, target] = [seen.position, seen.target].map(
        (each) => each.map(to) as [number, number, number],
      ) as [[number, number, number], [number, number, number]];
      session.apply(
        setStage(set.id, 'camera', { ...set.body.camera, position, target }, 'Take the camera from the view'),
      );
      session.settle();
    });
  });
  // Another pin is read, or one was moved: the frame need not be another for that.
  $effect(() => {
    void [session.pin, session.stage?.body.pins];
    untrack(() => pins.look());
  });
  // svelte-ignore state_referenced_locally
  const hands = createStageHands(session, () => stage, rehearsal);

  $effect(() => stage?.walk(session.walking));
  // Who looks has a place from the first tick on.
  $effect(() => {
    if (stage && rehearsal.running) rehearsal.look(stage.player());
  });
  $effect(() => rehearsal.hold(session.values.held));
  // While it is rehearsed all keys are the player’s, and the walker’s among them.
  $effect(() => {
    const here = stage;
    const heard = (code: string, down: boolean) => {
      here?.walkKey(code, down);
      // What hears the key next knows where the walker is by then.
      if (here) rehearsal.look(here.player());
    };
    rehearsal.hearKeys(here ? heard : null);
    return () => rehearsal.hearKeys(null);
  });
  /** Where the set was looked at from before a cue took the camera. */
  let before: Seen | null = null;
  $effect(() => {
    const moves = rehearsal.moved?.camera;
    if (!stage || !stageBody || (!moves && !before)) return;
    const { camera } = stageBody;
    before ??= stage.seen();
    stage.film(moves ? { ...camera, ...moves } : { ...camera, ...before });
    if (!moves) before = null;
  });
  $effect(() => {
    stage?.setTime(rehearsal.time);
  });
  $effect(() => {
    const taps = session.shaderState?.good?.taps;
    stage?.setView(
      stageView(
        session.shown,
        session.material?.id ?? null,
        (strand, step) => taps?.get(tapKey(strand, step)) ?? 0,
        checking.byMaterial,
        session.cut,
      ),
    );
  });

  // Step pictures follow whatever the stage follows.
  $effect(() => {
    const good = session.shaderState?.good;
    void [
      materials,
      session.shaderState?.knobs,
      session.material?.body,
      session.shared?.body,
      session.values.driven,
      stageBody,
      arrived,
    ];
    if (!stage || !good || !session.material) return;
    const { id } = session.material;
    // Only what can be seen is drawn: forty strands scroll as smoothly as four.
    const keys = [...good.taps.keys()].filter((key) => pictures.inSight.has(key.slice(0, key.indexOf('/'))));
    const of = session.score?.id ?? '';
    untrack(() => pictures.refresh(id, of, keys, rehearsal.running ? 150 : 30));
  });

  const broken = $derived((session.shaderState?.diagnostics.length ?? 0) > 0);
  const wants = $derived.by(() => {
    const program = session.shaderState?.good?.program;
    return program ? wantsOf(program) : null;
  });
  const tapped = $derived.by(() => {
    const { shown } = session;
    if (shown.kind !== 'tap') return null;
    const strand = session.document?.strands.find((each) => each.id === shown.strand);
    const step = strand?.steps.find((each) => each.id === shown.step);
    return strand && step ? `${strand.name} · ${step.operator}` : `surface · ${shown.step}`;
  });
</script>

<div class="relative h-full w-full overflow-hidden bg-surround" bind:this={pane}>
  <!-- What is heard here is done to the canvas, which has the keys and tells its name. -->
  <div
    class="h-full w-full transition-opacity"
    class:opacity-60={broken}
    class:cursor-crosshair={session.pinning}
    role="presentation"
    {...hands}
  >
    {#if stage}
      <StageCanvas {stage} id="stage" label="The stage" isCompiling={session.isCompiling} takesKeys />
    {/if}
  </div>
  {#if comparing.other || comparing.isHeld}
    <Later
      bring={() => import('./compare/CompareLayer.svelte')}
      {session}
      {comparing}
      costs={checking.byMaterial}
      seen={() => stage?.seen() ?? null}
      frames={pins.frames}
      time={rehearsal.time}
      {width}
      {height}
    />
  {/if}
  {#if session.tab === 'textures'}
    <Later bring={() => import('./textures/TextureLayer.svelte')} {session} {making} />
  {/if}
  {#if session.stage?.body.references?.length}
    <Later bring={() => import('./references/ReferenceLayer.svelte')} {session} {width} {height} />
  {/if}
  <PinLayer {session} {pins} {width} {height} />
  <div class="pointer-events-none absolute top-2 left-3 flex items-center text-[12px] text-[#b8b8b8]">
    {#if session.sets.length > 1}
      <select
        class="set pointer-events-auto"
        aria-label="Set on the stage"
        value={session.stage?.id}
        onchange={(event) => session.showSet(event.currentTarget.value)}
      >
        {#each session.sets as each (each.id)}<option value={each.id}>{each.name}</option>{/each}
      </select>
    {:else}
      <span class="px-1">{session.stage?.name ?? 'No set'}</span>
    {/if}
    <span>{tapped ? ` · tap: ${tapped}` : ''}</span>
  </div>
  {#if !session.stage}
    <p class="absolute inset-0 grid place-items-center text-[#b8b8b8]">
      There is no set in this project. Begin one from the project’s list, under New.
    </p>
  {/if}
  {#if rehearsal.running}
    <RehearsalNotes {session} {rehearsal} recording={taking.recording} />
  {/if}
  <StageStrips {session} {rehearsal} onwalk={() => stage?.canvas.focus({ preventScroll: true })} />
  <StageNotices {session} {trouble} {muted} {baking} {wants} oncancelbaking={() => stage?.cancelBaking()} />
  {#if session.histogram && tapped !== null && stage}
    <Later
      bring={() => import('./HistogramPanel.svelte')}
      read={() => stage?.readTap() ?? Promise.resolve(null)}
      frames={pins.frames}
    />
  {/if}
  {#if session.tab !== 'textures'}
    <ViewStrip
      {session}
      {comparing}
      {checking}
      {onsheet}
      {reach}
      tapped={tapped !== null}
      onreset={() => {
        session.setWalking(false);
        stage?.resetCamera();
      }}
    />
  {/if}
</div>

<style>
  .set {
    max-width: 16rem;
    padding: 2px 4px;
    border-radius: 4px;
    background: #1118;
    color: #d8d8d8;
  }
  .set option {
    background: #222;
  }
</style>
