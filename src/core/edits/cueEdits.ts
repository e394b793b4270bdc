import type { Edit } from '../document/patch.ts';
import type { Cue, CueKey, PartOf, SetDrive, Track } from '../document/project.ts';
import { slopesAt, trackAt } from '../time/trackAt.ts';
import { MOST_CHOICES, type Choice } from '../document/kinds/stage.ts';
import type { Target } from '../document/targets.ts';
import { slotKey, type Slot } from '../time/slots.ts';
import { freeTitle } from './freeTitle.ts';
import { setList } from './stageEdits.ts';

type StageSet = PartOf<'stage'>;

/** Changes the cues of a set. */
export const setCues = (set: StageSet, cues: readonly Cue[], label: string): Edit =>
  setList(set, 'cues', cues, label);

/** Changes one cue. @param merge joins a run of changes, such as a drag, to one that is undone at once */
export const changeCue = (
  set: StageSet,
  id: string,
  label: string,
  change: (cue: Cue) => Cue,
  merge?: string,
): Edit => {
  const at = set.body.cues?.findIndex((each) => each.id === id) ?? -1;
  const cue = set.body.cues?.[at];
  const changed = cue && change(cue);
  return {
    ...{ label, part: set.id },
    ...(merge === undefined ? {} : { merge: `cue ${id} ${merge}` }),
    patches: changed && changed !== cue ? [{ op: 'replace', path: ['cues', at], value: changed }] : [],
  };
};

/** A name that no other cue of a set has. */
export const freeCueName = ({ body }: StageSet, wish: string): string =>
  freeTitle(wish, new Set(body.cues?.map((each) => each.name)));

/** A cue beside the one it is a copy of, under a name and ids of its own; what starts it starts both. */
export const copyOfCue = (set: StageSet, cue: Cue, newId: () => string): Cue => ({
  ...cue,
  ...{ id: `cue-${newId()}`, name: freeCueName(set, cue.name) },
  tracks: cue.tracks.map((track) => ({ ...track, id: `track-${newId()}` })),
});

const unstarted = <T extends Pick<Cue, 'starts'>>(each: T, id: string): T =>
  each.starts.some((start) => start.by === 'cue' && start.cue === id)
    ? { ...each, starts: each.starts.filter((start) => start.by !== 'cue' || start.cue !== id) }
    : each;

/** Takes a cue out, and with it what it started in other cues and in flourishes. */
export const removeCue = (set: StageSet, { id, name }: Cue): Edit => {
  const label = `Delete the cue ${name}`;
  const { cues = [], flourishes = [] } = set.body;
  const left = cues.filter((each) => each.id !== id).map((each) => unstarted(each, id));
  const showy = flourishes.map((each) => unstarted(each, id));
  const patches = showy.some((each, i) => each !== flourishes[i])
    ? setList(set, 'flourishes', showy, label).patches
    : [];
  const edit = setCues(set, left, label);
  return { ...edit, patches: [...edit.patches, ...patches] };
};

export const changeTrack = (cue: Cue, id: string, change: (track: Track) => Track): Cue => ({
  ...cue,
  tracks: cue.tracks.map((each) => (each.id === id ? change(each) : each)),
});

/** A cue of another length: what lay beyond its new end moves to it, or the keys keep their shares of it. */
export const lengthened = (cue: Cue, length: number, stretches: boolean): Cue => {
  const to = (at: number): number => (stretches ? (at / cue.length) * length : Math.min(at, length));
  const slower = stretches ? cue.length / length : 1;
  const slopes = (given: readonly number[] | undefined) => given?.map((x) => x * slower);
  return {
    ...cue,
    length,
    tracks: cue.tracks.map((track) => ({
      ...track,
      keys: track.keys.map((key) => ({
        ...key,
        at: to(key.at),
        ...(key.into ? { into: slopes(key.into)! } : {}),
        ...(key.out ? { out: slopes(key.out)! } : {}),
      })),
    })),
  };
};

/** A time on the grid of so many frames a second, to a hundredth of a millisecond; 0 is no grid. */
export const onFrame = (seconds: number, frames: number): number =>
  Math.round((frames > 0 ? Math.round(seconds * frames) / frames : seconds) * 1e5) / 1e5;

const inOrder = (keys: readonly CueKey[]): CueKey[] => [...keys].sort((a, b) => a.at - b.at);

/** Adds a key at a time, on the curve as it is, so that nothing changes but that there is one. */
export const addKeyAt = ({ keys, ...track }: Track, at: number, table?: Slot['table']): Track => {
  const before = keys.findLast((each) => each.at <= at);
  const go = before?.go ?? 'eased';
  return { ...track, keys: inOrder([...keys, { at, value: trackAt(keys, at, table), go }]) };
};

/** Keys moved by a time and a value; they stay within the cue. What is moved past others changes places with them. */
export const moveKeys = (
  { keys, ...track }: Track,
  moved: ReadonlySet<number>,
  [seconds, values]: readonly [number, readonly number[]],
  { length, frames }: { readonly length: number; readonly frames: number },
): { readonly track: Track; readonly moved: ReadonlySet<number> } => {
  const all = keys.map((key, i) => ({
    i,
    key: moved.has(i)
      ? {
          ...key,
          at: Math.min(Math.max(seconds ? onFrame(key.at + seconds, frames) : key.at, 0), length),
          value: key.value.map((x, c) => Math.round((x + (values[c] ?? 0)) * 1e5) / 1e5),
        }
      : key,
  }));
  all.sort((a, b) => a.key.at - b.key.at || a.i - b.i);
  return {
    track: { ...track, keys: all.map(({ key }) => key) },
    moved: new Set(all.flatMap(({ i }, place) => (moved.has(i) ? [place] : []))),
  };
};

/** Takes keys out; one is left. */
export const removeKeys = ({ keys, ...track }: Track, gone: ReadonlySet<number>): Track => {
  const left = keys.filter((_, i) => !gone.has(i));
  return { ...track, keys: left.length ? left : keys.slice(0, 1) };
};

/** Puts copied keys where the playhead stands, the first of them there; what lies beyond the end is left out. */
export const pasteKeys = (
  { keys, ...track }: Track,
  copied: readonly CueKey[],
  at: number,
  length: number,
  table?: Slot['table'],
): Track => {
  const from = copied[0]?.at ?? 0;
  const size = keys[0]?.value.length ?? 0;
  const pasted = copied.flatMap((key) => {
    const to = onFrame(key.at - from + at, 0);
    const fits = key.value.length === size || (table && key.value.length % 4 === 0);
    return fits && to <= length ? [{ ...key, at: to }] : [];
  });
  const taken = new Set(pasted.map((key) => key.at));
  return { ...track, keys: inOrder([...keys.filter((key) => !taken.has(key.at)), ...pasted]) };
};

export const changeKey = ({ keys, ...track }: Track, i: number, change: Partial<CueKey>): Track => ({
  ...track,
  keys: keys.map((key, k) => (k === i ? { ...key, ...change } : key)),
});

/** Gives a key slopes of its own, as it has them now; or lets them be found again, so that nothing overshoots. */
export const freeSlopes = (track: Track, i: number, own: boolean): Track => {
  if (own) return changeKey(track, i, slopesAt(track.keys, i));
  const { into: _, out: __, ...key } = track.keys[i]!;
  return { ...track, keys: track.keys.with(i, key) };
};

/** Feeds a parameter by a rule; of several for one parameter the last. */
export const setDrive = (set: StageSet, drive: SetDrive, label: string, merge?: string): Edit => {
  const list = set.body.drives ?? [];
  const feeds = (each: SetDrive) => each.material === drive.material && each.parameter === drive.parameter;
  const known = list.some(feeds);
  return setList(
    set,
    'drives',
    known ? list.map((each) => (feeds(each) ? drive : each)) : [...list, drive],
    label,
    merge === undefined ? undefined : `drive ${drive.id} ${merge}`,
  );
};

export const removeDrive = (set: StageSet, id: string, label: string): Edit =>
  setList(
    set,
    'drives',
    (set.body.drives ?? []).filter((each) => each.id !== id),
    label,
  );

const isOf = ({ kind, of, what }: Target, { material, parameter }: Choice): boolean =>
  kind === 'parameter' && of === material && what === parameter;

/** Adds a picture that a texture can be chosen from. @returns null where there are as many as there may be */
export const addChoice = (set: StageSet, target: Target, picture: string): Edit | null => {
  const list = set.body.choices ?? [];
  const label = 'Add a picture to choose';
  const own = list.find((each) => isOf(target, each));
  if (!own)
    return setList(
      set,
      'choices',
      [...list, { material: target.of, parameter: target.what, pictures: [picture] }],
      label,
    );
  if (own.pictures.length >= MOST_CHOICES) return null;
  const more = { ...own, pictures: [...own.pictures, picture] };
  return setList(
    set,
    'choices',
    list.map((each) => (each === own ? more : each)),
    label,
  );
};

/** Takes a picture out of those to choose from; keys that chose it choose the one before it. One is left. */
export const removeChoice = (set: StageSet, target: Target, place: number): Edit => {
  const label = 'Take a picture out';
  const { choices = [], cues = [] } = set.body;
  const left = choices.map((each) =>
    isOf(target, each) && each.pictures.length > 1
      ? { ...each, pictures: each.pictures.filter((_, i) => i !== place) }
      : each,
  );
  const lower = (x: number): number => (Math.round(x) >= place ? Math.max(x - 1, 0) : x);
  const followed = cues.map((cue) => ({
    ...cue,
    tracks: cue.tracks.map((track) =>
      slotKey(track.target) === slotKey(target)
        ? { ...track, keys: track.keys.map((key) => ({ ...key, value: key.value.map(lower) })) }
        : track,
    ),
  }));
  const edit = setList(set, 'choices', left, label);
  return { ...edit, patches: [...edit.patches, ...setCues(set, followed, label).patches] };
};

/** Gives the way back a curve of its own, which begins as that of the way there. */
export const splitTrack = (cue: Cue, id: string, newId: () => string): Cue => ({
  ...cue,
  tracks: cue.tracks.flatMap((each): Track[] =>
    each.id === id && !each.side
      ? [
          { ...each, side: 'there' },
          { ...each, id: `track-${newId()}`, side: 'back' },
        ]
      : [each],
  ),
});
/** Lets a curve count both ways, in place of what its target had on the other. */
export const joinTrack = (cue: Cue, { id, target }: Track): Cue => ({
  ...cue,
  tracks: cue.tracks.flatMap((each): Track[] => {
    const { side: _, ...both } = each;
    if (each.id === id) return [both];
    return each.side && slotKey(each.target) === slotKey(target) ? [] : [each];
  }),
});
