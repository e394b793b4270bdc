import { untrack } from 'svelte';
import { flourishLength } from '#core/document/flourishes.ts';
import type { Cue, CueKey, Flourish, FlourishLayer, Track } from '#core/document/project.ts';
import { onFrame } from '#core/edits/cueEdits.ts';
import type { Rehearsal } from '../rehearsal.svelte.ts';
import type { Session } from '../state/session.svelte.ts';

/** Frames a second that keys are set on; 0 sets them anywhere. */
export const FRAMES = [60, 30, 25, 24, 0] as const;
/** Pixels a second: the least and the most, and what one begins with. */
const [LEAST, MOST, FIRST] = [20, 1200, 260];

/** Pixels before the ruler’s beginning, so that keys there are whole. */
export const LEAD = 14;

/** What of the cues and flourishes is in hand, and where the playhead stands; none of it is saved. */
export const createCueing = (session: Session, rehearsal: Rehearsal) => {
  let cueId = $state<string | null>(null);
  let trackId = $state<string | null>(null);
  let keys = $state.raw<ReadonlySet<number>>(new Set());
  /** Seconds into the cue in hand, where it is scrubbed; null where the set stands as it is. */
  let scrubbed = $state<number | null>(null);
  let perSecond = $state(FIRST);
  let frames = $state<number>(30);
  /** The part that is played over and over. */
  let part = $state.raw<readonly [number, number] | null>(null);
  let copied = $state.raw<readonly CueKey[]>([]);
  let toName = $state<string | null>(null);

  let flourishId = $state<string | null>(null);
  let layerId = $state<string | null>(null);

  const cues = $derived(session.stage?.body.cues ?? []);
  const flourishes = $derived(session.stage?.body.flourishes ?? []);
  /** In hand in the place of a cue. */
  const flourish = $derived(flourishes.find((each) => each.id === flourishId) ?? null);
  const layer = $derived(flourish?.layers.find((each) => each.id === layerId) ?? null);
  const length = $derived(flourish ? flourishLength(flourish) : 0);
  const cue = $derived(cues.find((each) => each.id === cueId) ?? cues[0] ?? null);
  const track = $derived(cue?.tracks.find((each) => each.id === trackId) ?? null);
  const standing = $derived(cue ? rehearsal.standing.get(cue.id) : undefined);
  const at = $derived(
    rehearsal.running
      ? ((flourish ? rehearsal.playing.get(flourish.id) : standing?.at) ?? 0)
      : (scrubbed ?? 0),
  );

  const letGo = (): void => {
    if (scrubbed === null) return;
    scrubbed = null;
    rehearsal.scrub(null);
    rehearsal.scrubFlourish(null);
  };
  // A cue that was deleted, or is another's, is not scrubbed any more; one that was changed is shown as it is now.
  $effect(() => {
    if (scrubbed === null) return;
    void [session.materials, session.shared, session.stage?.body];
    const seconds = scrubbed;
    untrack(() => {
      if (rehearsal.running) return;
      if (flourish) rehearsal.scrubFlourish({ flourish: flourish.id, at: seconds });
      else if (cue) rehearsal.scrub({ cue: cue.id, at: seconds });
      else letGo();
    });
  });
  // A rehearsal takes the stage; when it ends, the set stands as it is authored.
  $effect(() => {
    if (rehearsal.running) scrubbed = null;
  });
  // What is changed while it is rehearsed is heard at once.
  $effect(() => {
    const wanted = session.stage?.body ?? {};
    untrack(() => rehearsal.follow(wanted));
  });
  // A part goes round.
  $effect(() => {
    if (!part || !cue || !standing?.moves) return;
    if (standing.at >= part[1] || standing.at < part[0] - 1e-6)
      rehearsal.input({ kind: 'play', cue: cue.id, at: part[0] });
  });

  return {
    get cues() {
      return cues;
    },
    /** The cue in hand. */
    get cue() {
      return cue;
    },
    get track() {
      return track;
    },
    /** The keys in hand, by their numbers in the track in hand. */
    get keys() {
      return keys;
    },
    hold: (wanted: Cue, inTrack: Track | null = null, which: Iterable<number> = []): void => {
      if (wanted.id !== cue?.id || flourish) {
        letGo();
        part = null;
      }
      flourishId = null;
      cueId = wanted.id;
      trackId = inTrack?.id ?? null;
      keys = new Set(which);
    },
    get flourishes() {
      return flourishes;
    },
    /** The flourish in hand, and its layer in hand; a cue is in hand where there is none. */
    get flourish() {
      return flourish;
    },
    get layer() {
      return layer;
    },
    holdFlourish: (wanted: Flourish, inLayer: FlourishLayer | null = null): void => {
      if (wanted.id !== flourishId) letGo();
      part = null;
      flourishId = wanted.id;
      layerId = inLayer?.id ?? null;
    },
    /** Seconds that what is in hand takes. */
    get length() {
      return flourish ? length : (cue?.length ?? 0);
    },
    get at() {
      return at;
    },
    get isScrubbed() {
      return scrubbed !== null;
    },
    /** Puts the playhead of what is in hand; the stage shows the set there. */
    scrub: (seconds: number): void => {
      if (flourish) {
        if (!rehearsal.running) scrubbed = onFrame(Math.min(Math.max(seconds, 0), length), frames);
        return;
      }
      if (!cue) return;
      const to = onFrame(Math.min(Math.max(seconds, 0), cue.length), frames);
      if (rehearsal.running) rehearsal.input({ kind: 'seek', cue: cue.id, at: to });
      else scrubbed = to;
    },
    letGo,
    /** Plays what is in hand; a cue from a time on. */
    play: (from?: number): void => {
      const played = flourish ?? cue;
      if (!played) return;
      const input = {
        ...{ kind: 'play' as const, cue: played.id },
        ...(from === undefined || flourish ? {} : { at: from }),
      };
      letGo();
      if (!rehearsal.running) rehearsal.start();
      rehearsal.input(input);
    },
    get perSecond() {
      return perSecond;
    },
    zoom: (by: number): void => {
      perSecond = Math.min(Math.max(perSecond * by, LEAST), MOST);
    },
    get frames() {
      return frames;
    },
    setFrames: (wanted: number): void => {
      frames = wanted;
    },
    get part() {
      return part;
    },
    setPart: (wanted: readonly [number, number] | null): void => {
      part = wanted;
    },
    get copied() {
      return copied;
    },
    copy: (): void => {
      if (track) copied = track.keys.filter((_, i) => keys.has(i));
    },
    get toName() {
      return toName;
    },
    name: (id: string | null): void => {
      toName = id;
    },
  };
};
export type Cueing = ReturnType<typeof createCueing>;

/** When each cue and flourish begins on the ruler: one that a cue starts begins where that does. */
export const beginsOf = (
  cues: readonly Cue[],
  flourishes: readonly Flourish[] = [],
): ReadonlyMap<string, number> => {
  const byId = new Map(cues.map((cue) => [cue.id, cue]));
  const begins = (cue: Pick<Cue, 'id' | 'starts'>, through: readonly string[]): number => {
    const start = cue.starts.find((each) => each.by === 'cue' && each.cue !== undefined);
    const before = start && byId.get(start.cue!);
    if (!before || through.includes(before.id)) return 0;
    return begins(before, [...through, cue.id]) + (start.at ?? before.length);
  };
  return new Map([...cues, ...flourishes].map((each) => [each.id, begins(each, [each.id])]));
};
