import type { Cue, Track } from '../document/cues.ts';
import { TICKS_PER_SECOND } from './tick.ts';
import { trackAt } from './trackAt.ts';
import { misfitOf, mixedAt, takenBy, type Slot } from './slots.ts';

/** What stands at a slot under the cues: what a rule gives, else what is authored. */
export type Beneath = (slot: Slot) => readonly number[];

/** A cue that was started and not let go. */
interface Running {
  readonly cue: Cue;
  /** Ticks into it: whole ones add up exactly, seconds would not. */
  at: number;
  way: 1 | -1;
  moves: boolean;
  /** Ticks since it began from its beginning, for its blend. */
  since: number;
  /** What stood at each of its tracks when it began. */
  readonly stood: Map<string, readonly number[]>;
  /** Its place among those that were started. */
  readonly turn: number;
}

/** All that a player of cues remembers, to go on from with cues that were edited. */
export interface CueSnapshot {
  readonly running: ReadonlyMap<string, Omit<Running, 'cue'>>;
  readonly turns: number;
  /** What the last tick gave, by slot. */
  readonly last: ReadonlyMap<string, { slot: Slot; value: readonly number[] }>;
}

/** A stretch that a cue went in a tick, for those that wait for a time of it. */
interface Passed {
  readonly cue: string;
  readonly from: number;
  readonly to: number;
  readonly wrapped: boolean;
  readonly ended: boolean;
}

export interface CuePlayer {
  /** @param at seconds into it; from its beginning where not told. @returns false where there is none of that id, or it refuses */
  readonly start: (id: string, at?: number) => boolean;
  readonly stop: (id: string) => void;
  /** Stands still at a time, as a playhead that is dragged. */
  readonly seek: (id: string, at: number) => void;
  /** Goes on by a tick. @returns the cues that ended in it */
  readonly advance: () => readonly string[];
  /** Where each stands that has not let go: seconds into it, and whether it goes on. */
  readonly standing: () => ReadonlyMap<string, { readonly at: number; readonly moves: boolean }>;
  readonly snapshot: () => CueSnapshot;
  /** What all of them together give, by slot; of the set alone where that is asked. */
  readonly values: (
    beneath: Beneath,
    ofSetAlone?: boolean,
  ) => ReadonlyMap<string, { slot: Slot; value: readonly number[] }>;
}

/** Seconds in ticks; a time of a whole tick is that tick. */
const ticksIn = (seconds: number): number => {
  const ticks = seconds * TICKS_PER_SECOND;
  const whole = Math.round(ticks);
  return Math.abs(ticks - whole) < 1e-6 ? whole : ticks;
};

const smooth = (t: number): number => t * t * (3 - 2 * t);

/** How far a cue has taken over from what stood before. */
const blendOf = (cue: Cue, since: number): number =>
  cue.blend > 0 ? smooth(Math.min(since / (cue.blend * TICKS_PER_SECOND), 1)) : 1;

/** Plays a clip over the others of its prop: they count for what it leaves of them. */
const playClip = (
  made: Map<string, { slot: Slot; value: readonly number[] }>,
  slot: Slot,
  seconds: number,
  share: number,
): void => {
  for (const [key, { slot: other, value }] of made)
    if (other.clip !== undefined && other.target.of === slot.target.of)
      made.set(key, { slot: other, value: [value[0]!, value[1]! * (1 - share)] });
  const before = made.get(slot.key)?.value[1] ?? 0;
  made.set(slot.key, { slot, value: [seconds, before + share] });
};

/** Where a cue is a tick later, turning and beginning again as it plays. */
const moved = (cue: Cue, at: number, way: 1 | -1): { at: number; way: 1 | -1; ended: boolean } => {
  const length = ticksIn(cue.length);
  // Back it may go at a pace of its own.
  const pace = cue.back === undefined ? 1 : cue.length / cue.back;
  let [to, going] = [way > 0 ? at + 1 : at - pace, way];
  if (cue.play === 'looped') return { at: ((to % length) + length) % length, way, ended: false };
  if (cue.play === 'there and back' && to > length)
    [to, going] = [Math.max(length - (to - length) * pace, 0), -1];
  const ended = going > 0 ? to >= length && cue.play === 'once' : to <= 0;
  return { at: Math.min(Math.max(to, 0), length), way: going, ended };
};

/** Plays the cues of a set, tick by tick, and starts what waits for them. @param slotFor what a track drives; null where it drives nothing any more */
export const createCuePlayer = (
  cues: readonly Cue[],
  slotFor: (track: Track) => Slot | null,
  onEndless: (sentence: string) => void,
  /** What else cues start, and who starts it. */
  others: {
    readonly waiting: readonly Pick<Cue, 'id' | 'starts' | 'off'>[];
    readonly start: (id: string) => void;
  } = { waiting: [], start: () => undefined },
  before: CueSnapshot | null = null,
): CuePlayer => {
  const byId = new Map(cues.map((cue) => [cue.id, cue]));
  const slots = new Map(
    cues.flatMap((cue) =>
      cue.tracks.map((track) => {
        const slot = slotFor(track);
        const fits = slot && misfitOf(slot, track.keys[0]?.value.length ?? 0) === null;
        return [track, fits ? slot : null] as const;
      }),
    ),
  );
  /** Of each cue, those that it starts, and when. */
  const followers = new Map<string, { readonly cue: string; readonly at: number | null }[]>();
  for (const { id, starts, off } of [...cues, ...others.waiting])
    for (const { by, cue, at } of starts)
      if (by === 'cue' && cue !== undefined && !off)
        followers.set(cue, [
          ...(followers.get(cue) ?? []),
          { cue: id, at: at === undefined ? null : ticksIn(at) },
        ]);

  // Cues that are still there go on from where they are, within the length they have now.
  const running = new Map<string, Running>(
    [...(before?.running ?? [])].flatMap(([id, each]): [string, Running][] => {
      const cue = byId.get(id);
      if (!cue) return [];
      return [[id, { ...each, cue, at: Math.min(each.at, ticksIn(cue.length)), stood: new Map(each.stood) }]];
    }),
  );
  let turns = before?.turns ?? 0;
  let last = before?.last ?? new Map<string, { slot: Slot; value: readonly number[] }>();
  let told = false;

  const start = (id: string, from = 0): boolean => {
    const cue = byId.get(id);
    if (!cue) return false;
    const now = running.get(id);
    if (now && (now.moves || cue.again === 'turn round')) {
      if (cue.again === 'refuse') return false;
      if (cue.again === 'turn round' && from === 0) {
        now.way = now.way > 0 ? -1 : 1;
        now.moves = true;
        return true;
      }
    }
    turns += 1;
    const stood = new Map<string, readonly number[]>();
    for (const track of cue.tracks) {
      const slot = slots.get(track);
      const before = slot && last.get(slot.key);
      if (before) stood.set(track.id, before.value);
    }
    running.set(id, {
      // Begun from somewhere within, it stands as it would there.
      ...{ cue, way: 1, moves: true, since: from > 0 ? Infinity : 0, stood, turn: turns },
      at: ticksIn(Math.min(Math.max(from, 0), cue.length)),
    });
    return true;
  };

  const one = (each: Running): readonly Passed[] => {
    const [from, before] = [each.at, each.way];
    const { at, way, ended } = moved(each.cue, from, each.way);
    [each.at, each.way] = [at, way];
    each.since += 1;
    if (ended) each.moves = false;
    const { id: cue, play } = each.cue;
    const length = ticksIn(each.cue.length);
    const wrapped = play === 'looped' && (before > 0 ? at < from : at > from);
    const stretch = { cue, wrapped, ended };
    return before === way
      ? [{ ...stretch, from, to: at }]
      : [
          { ...stretch, from, to: length, ended: false },
          { ...stretch, from: length, to: at },
        ];
  };
  /** Those that wait for what a cue has passed. */
  const due = ({ cue, from, to, wrapped, ended }: Passed): string[] =>
    (followers.get(cue) ?? []).flatMap((each) => {
      if (each.at === null) return ended ? [each.cue] : [];
      const { at } = each;
      const [low, high] = [Math.min(from, to), Math.max(from, to)];
      const passed = wrapped ? at > high || at <= low : at !== from && at >= low && at <= high;
      return passed ? [each.cue] : [];
    });
  /** Those that wait for the beginning of a cue that starts. */
  const dueAt = (cue: string, at: number): string[] =>
    (followers.get(cue) ?? []).flatMap((each) => (each.at === at ? [each.cue] : []));

  const begun = new Set<string>();
  /** Starts a cue, and those that wait for its beginning. */
  const startAll = (ids: readonly string[], by: readonly string[]): void => {
    for (const id of ids) {
      if (!byId.has(id)) {
        others.start(id);
        continue;
      }
      if (begun.has(id)) {
        const names = [...by, id].map((each) => byId.get(each)?.name ?? each);
        if (by.includes(id) && !told) {
          told = true;
          onEndless(`Cues start each other without end: ${names.join(' → ')}. Each is started once a tick.`);
        }
        continue;
      }
      begun.add(id);
      if (!start(id)) continue;
      const { at } = running.get(id)!;
      startAll(dueAt(id, at), [...by, id]);
    }
  };

  return {
    start: (id, at) => {
      if (at !== undefined) return start(id, at);
      const before = running.get(id)?.turn;
      const did = start(id);
      begun.add(id);
      if (did && running.get(id)?.turn !== before) startAll(dueAt(id, 0), [id]);
      return did;
    },
    stop: (id) => void running.delete(id),
    seek: (id, at) => {
      if (!running.has(id)) start(id, at);
      const now = running.get(id);
      if (!now) return;
      now.at = ticksIn(Math.min(Math.max(at, 0), now.cue.length));
      now.since = Infinity;
      now.moves = false;
    },
    advance: () => {
      begun.clear();
      const ended: string[] = [];
      const passed: Passed[] = [];
      for (const each of [...running.values()]) {
        if (!each.moves) continue;
        passed.push(...one(each));
        if (each.moves) continue;
        ended.push(each.cue.id);
        if (each.cue.after === 'let go') running.delete(each.cue.id);
      }
      for (const each of passed) startAll(due(each), [each.cue]);
      return ended;
    },
    standing: () =>
      new Map([...running].map(([id, { at, moves }]) => [id, { at: at / TICKS_PER_SECOND, moves }])),
    snapshot: () => ({
      running: new Map([...running].map(([id, { cue: _, ...each }]) => [id, { ...each }])),
      ...{ turns, last },
    }),
    values: (beneath, ofSetAlone = false) => {
      const made = new Map<string, { slot: Slot; value: readonly number[] }>();
      const order = [...running.values()].sort((a, b) => a.cue.priority - b.cue.priority || a.turn - b.turn);
      for (const { cue, at, way, since, stood } of order)
        for (const track of cue.tracks) {
          const slot = slots.get(track);
          if (track.side && (track.side === 'there') !== way > 0) continue;
          if (!slot || (ofSetAlone && slot.parameter)) continue;
          if (slot.clip !== undefined) {
            const seconds = trackAt(track.keys, at / TICKS_PER_SECOND)[0]!;
            playClip(made, slot, seconds, blendOf(cue, since) * cue.weight);
            continue;
          }
          const under = made.get(slot.key)?.value ?? beneath(slot);
          const blend = blendOf(cue, since);
          const from = stood.get(track.id) ?? under;
          const own = mixedAt(slot, from, trackAt(track.keys, at / TICKS_PER_SECOND, slot.table), blend);
          made.set(slot.key, { slot, value: mixedAt(slot, under, own, cue.weight) });
        }
      const taken = new Map<string, { slot: Slot; value: readonly number[] }>();
      for (const [key, { slot, value }] of made) taken.set(key, { slot, value: takenBy(slot, value) });
      if (!ofSetAlone) last = taken;
      return taken;
    },
  };
};
