import { tick as rendered } from 'svelte';
import { toast } from 'svelte-sonner';
import { newPart, type PartOf } from '#core/document/project.ts';
import { fileName } from '#core/handover/archive.ts';
import { freePartName } from '#core/edits/partEdits.ts';
import {
  compareMarks,
  createTimeline,
  isShape,
  type Standing,
  type Difference,
  type ExportedTake,
  type Timeline,
} from '#core/time/takes.ts';
import { TICKS_PER_SECOND } from '#core/time/tick.ts';
import type { Played } from '#script/playTake.ts';
import { bringRigs, missingRigs } from '../bringRigs.ts';
import type { PlayedScript } from '#script/protocol.ts';
import { startOf } from '#script/startOf.ts';
import { createEngineWatch, LOOK_MS, stuckMessage } from '#script/watchEngine.ts';
import type { Stage } from '#stage/stage.ts';
import type { FromTakePlayer, ToTakePlayer } from '#script/answerTake.ts';
import { downloadBlob } from '../../parts/download.ts';
import { newId } from '../../parts/newId.ts';
import { commitDeed } from '../parts/doToPart.ts';
import type { Rehearsal } from '../rehearsal.svelte.ts';
import type { Session } from '../state/session.svelte.ts';
import { pngSink, webmSink } from './frameSinks.ts';

type Take = PartOf<'take'>;
export const SPEEDS = [0.1, 0.25, 0.5, 1, 2, 4] as const;

/** Takes: recorded, played again, looked at tick by tick and compared. */
export const createTaking = (session: Session, rehearsal: Rehearsal) => {
  let recording = $state(false);
  /** The take that is played or was, how far that is, and what came of it. */
  let openId = $state<string | null>(null);
  let share = $state<number | null>(null);
  let played = $state.raw<Played | null>(null);
  let timeline = $state.raw<Timeline | null>(null);
  let tick = $state(0);
  let speed = $state<number>(1);
  let playing = $state(false);
  /** What another take drives in the same ticks. */
  let other = $state.raw<{ readonly id: string; readonly timeline: Timeline } | null>(null);
  let worker: Worker | null = null;
  let looks: ReturnType<typeof setInterval> | undefined;
  let stage: Stage | null = null;
  /** How far the frames are that are made pictures of; null where none are. */
  let drawn = $state<number | null>(null);

  const takes = $derived(
    session.parts.filter((each): each is Take => each.kind === 'take' && each.body.set === session.stage?.id),
  );
  const take = $derived(takes.find((each) => each.id === openId) ?? null);
  const differences = $derived<readonly Difference[]>(
    take && played ? compareMarks(take.body.marks, played.marks) : [],
  );

  const end = (): void => {
    clearInterval(looks);
    worker?.terminate();
    worker = null;
    share = null;
  };
  const show = (): void => {
    if (take && timeline) rehearsal.show({ name: take.name, tick, standing: timeline.at(tick) });
  };
  const close = (): void => {
    end();
    playing = false;
    if (openId !== null) rehearsal.show(null);
    [openId, played, timeline, other] = [null, null, null, null];
  };
  const work = (of: Take, onPlayed: (made: Played) => void): void => {
    end();
    share = 0;
    worker = new Worker(new URL('../../../workers/take.worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<FromTakePlayer>) => {
      if ('share' in data) share = data.share;
      else if ('entered' in data) watch.hear(data.entered);
      else {
        end();
        if ('played' in data) onPlayed(data.played);
        else toast.error(data.refused);
      }
    };
    const watch = createEngineWatch();
    looks = setInterval(() => {
      const stuck = watch.look();
      if (!stuck) return;
      end();
      const name = scripts[stuck.script]?.name;
      toast.error(`${name === undefined ? '' : `${name}: `}${stuckMessage(stuck)}`);
    }, LOOK_MS);
    worker.onerror = (event) => {
      end();
      toast.error(`The take could not be played: ${event.message}.`);
    };
    const { ticks, inputs, seed } = of.body;
    const mine = worker;
    let scripts: readonly PlayedScript[] = [];
    const begin = () => {
      const start = startOf(session.parts, of.body.set);
      ({ scripts } = start);
      mine.postMessage(structuredClone({ take: { ticks, inputs, seed }, start }) satisfies ToTakePlayer);
    };
    const set = session.part(of.body.set);
    void bringRigs(missingRigs(set?.kind === 'stage' ? set.body.props : []))
      .catch((error: unknown) => toast.error((error as Error).message))
      .then(begin);
  };

  // Ticks pass as the clock does, at the speed that is asked for.
  $effect(() => {
    if (!playing || !timeline || !take) return;
    const { ticks } = take.body;
    let frame = 0;
    let last = performance.now();
    let owed = 0;
    const step = (now: number): void => {
      owed += ((now - last) / 1000) * TICKS_PER_SECOND * speed;
      last = now;
      const whole = Math.floor(owed);
      if (whole) {
        owed -= whole;
        tick = Math.min(tick + whole, ticks - 1);
        show();
      }
      if (tick >= ticks - 1) playing = false;
      else frame = requestAnimationFrame(step);
    };
    frame = requestAnimationFrame(step);
    return () => cancelAnimationFrame(frame);
  });
  // A rehearsal takes the stage; a take of another set, or one that was deleted, leaves it.
  $effect(() => {
    if (openId !== null && !take) close();
    if (rehearsal.running && openId !== null) close();
    if (!rehearsal.running) recording = false;
  });

  /** Keeps what was rehearsed so far as a take, and stops. */
  const keep = async (): Promise<void> => {
    const set = session.stage;
    const tape = await rehearsal.tape();
    recording = false;
    rehearsal.stop();
    if ('why' in tape) return void toast(tape.why);
    if (!set) return;
    await session.inTurn(() => {
      const name = freePartName(session.parts, 'take', `Take ${takes.length + 1}`);
      const part = newPart('take', `take-${newId()}`, name, {
        ...{ format: 'wicked-veil/take', version: 1, set: set.id },
        ...tape,
      });
      return commitDeed(session, `Keep ${name}`, [{ op: 'add', part }]);
    });
  };

  return {
    get takes() {
      return takes;
    },
    get recording() {
      return recording;
    },
    /** Rehearses from the beginning, to be kept; while that runs, keeps it. */
    record: (): void => {
      if (rehearsal.running) return void keep();
      close();
      rehearsal.start();
      recording = true;
    },
    keep,
    get take() {
      return take;
    },
    get share() {
      return share;
    },
    get played() {
      return played;
    },
    get differences() {
      return differences;
    },
    /** Plays a take again with the set as it is now, and shows its beginning. */
    open: (wanted: Take): void => {
      close();
      rehearsal.stop();
      openId = wanted.id;
      work(wanted, (made) => {
        played = made;
        timeline = createTimeline(made.changes);
        tick = 0;
        show();
      });
    },
    close,
    cancel: (): void => {
      end();
      if (!played) openId = null;
    },
    get tick() {
      return tick;
    },
    seek: (to: number): void => {
      if (!take) return;
      tick = Math.min(Math.max(Math.round(to), 0), take.body.ticks - 1);
      show();
    },
    get playing() {
      return playing;
    },
    play: (on: boolean): void => {
      if (on && take && tick >= take.body.ticks - 1) tick = 0;
      playing = on;
    },
    get speed() {
      return speed;
    },
    setSpeed: (wanted: number): void => {
      speed = wanted;
    },
    get other() {
      return other && takes.find((each) => each.id === other!.id);
    },
    /** What the other take drives in this tick. */
    get beside(): Standing | null {
      return other?.timeline.at(tick) ?? null;
    },
    /** Plays another take too, to stand beside the first. */
    compare: (id: string): void => {
      other = null;
      const wanted = takes.find((each) => each.id === id);
      if (wanted) work(wanted, (made) => (other = { id, timeline: createTimeline(made.changes) }));
    },
    /** What is driven now, and what the other take drives in the same tick. */
    get rows() {
      const [mine, theirs] = [timeline?.at(tick), other?.timeline.at(tick)];
      // A shape is more numbers than can be read.
      const keys = [...new Set([...(mine?.keys() ?? []), ...(theirs?.keys() ?? [])])]
        .filter((key) => !isShape(key))
        .sort();
      return keys.map((key) => ({ key, mine: mine?.get(key) ?? null, theirs: theirs?.get(key) ?? null }));
    },
    /** Takes what is the same now for what was recorded. */
    accept: (): void => {
      if (!take || !played) return;
      session.apply({
        ...{ label: `Take ${take.name} as it is now`, part: take.id },
        patches: [{ op: 'replace', path: ['marks'], value: played.marks }],
      });
      session.settle();
    },
    attach: (made: Stage | null): void => {
      stage = made;
    },
    get drawn() {
      return drawn;
    },
    stopDrawing: (): void => {
      drawn = null;
    },
    /** Draws a take frame by frame, each at its own tick however long that takes, and hands over PNGs or a film of them. */
    drawFrames: async (perSecond: number, as: 'png' | 'webm'): Promise<void> => {
      if (!take || !timeline || !stage || drawn !== null) return;
      const { name, body } = take;
      const count = Math.max(Math.floor((body.ticks * perSecond) / TICKS_PER_SECOND), 1);
      const before = tick;
      playing = false;
      drawn = 0;
      try {
        const sink = as === 'png' ? pngSink(fileName(name)) : await webmSink(perSecond);
        for (let i = 0; i < count; i += 1) {
          tick = Math.min(Math.round((i * TICKS_PER_SECOND) / perSecond), body.ticks - 1);
          show();
          await rendered();
          const picture = await stage?.snapshot();
          // Given up, or left: nothing is handed over.
          if (drawn === null || !picture || take?.name !== name) break;
          await sink.add(picture, i);
          drawn = (i + 1) / count;
        }
        const made = await sink.finish(drawn !== null && drawn >= 1);
        if (made) downloadBlob(`${fileName(name)}${made.ending}`, made.blob);
      } catch (error) {
        toast.error((error as Error).message);
      }
      drawn = null;
      tick = before;
      show();
    },
    exported: (): ExportedTake | null =>
      take && played
        ? {
            ...{ format: 'wicked-veil/take-values', version: 1, ticksPerSecond: TICKS_PER_SECOND },
            ...{ inputs: take.body.inputs, changes: played.changes },
          }
        : null,
  };
};
export type Taking = ReturnType<typeof createTaking>;
