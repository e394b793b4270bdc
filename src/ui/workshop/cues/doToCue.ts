import { toast } from 'svelte-sonner';
import type { StageDocument } from '#core/document/project.ts';
import { MOST_CUES, MOST_TRACKS, type Cue, type Track } from '#core/document/cues.ts';
import { clipSlot, type Target } from '#core/document/targets.ts';
import { MOST_CHOICES } from '#core/document/kinds/stage.ts';
import {
  addChoice,
  changeCue,
  changeTrack,
  copyOfCue,
  freeCueName,
  removeCue,
  setCues,
} from '#core/edits/cueEdits.ts';
import { slotKey, slotOf, standsAt, type ParametersOf, type Slot } from '#core/time/slots.ts';
import { currentValue } from '#core/time/values.ts';
import { keepBlob } from '../keepBlob.ts';
import { newId } from '../../parts/newId.ts';
import type { Session } from '../state/session.svelte.ts';
import type { Cueing } from './cueing.svelte.ts';

/** What a material's parameters are, as the project has them. */
export const parametersIn =
  (session: Session): ParametersOf =>
  (material) => {
    const part = session.part(material);
    const shader = part?.kind === 'material' ? session.part(part.body.shader) : undefined;
    return shader?.kind === 'shader' ? shader.body.parameters : null;
  };

/** What stands at a slot as it is authored. */
export const authoredAt = (session: Session, slot: Slot): readonly number[] => {
  const part = slot.parameter ? session.part(slot.target.of) : undefined;
  if (slot.parameter && part?.kind === 'material')
    return currentValue(slot.parameter, session.authored(part.body.values));
  return session.stage ? standsAt(session.stage.body, slot) : [];
};

const put = (session: Session, cueing: Cueing, cue: Cue, label: string): void => {
  const { stage } = session;
  if (!stage) return;
  const cues = stage.body.cues ?? [];
  if (cues.length >= MOST_CUES) {
    toast(`A set has up to ${MOST_CUES} cues; delete one first.`);
    return;
  }
  session.apply(setCues(stage, [...cues, cue], label));
  session.settle();
  cueing.hold(cue);
};

/** Begins a cue, and asks for its name. */
export const addCue = (session: Session, cueing: Cueing): void => {
  const { stage } = session;
  if (!stage) return;
  const cue: Cue = {
    ...{ id: `cue-${newId()}`, name: freeCueName(stage, 'Cue'), length: 2, play: 'once' },
    ...{ again: 'restart', blend: 0, after: 'hold', weight: 1, priority: 0, starts: [], tracks: [] },
  };
  put(session, cueing, cue, 'Add a cue');
  cueing.name(cue.id);
};

export const duplicateCue = (session: Session, cueing: Cueing, cue: Cue): void => {
  if (session.stage) put(session, cueing, copyOfCue(session.stage, cue, newId), `Duplicate ${cue.name}`);
};

export const deleteCue = (session: Session, cue: Cue): void => {
  if (!session.stage) return;
  session.apply(removeCue(session.stage, cue));
  session.settle();
};

/** Changes a cue; a run of changes that carry the same mark is undone at once. */
export const doToCue = (
  session: Session,
  id: string,
  label: string,
  change: (cue: Cue) => Cue,
  merge?: string,
): void => {
  if (!session.stage) return;
  session.apply(changeCue(session.stage, id, label, change, merge));
  if (merge === undefined) session.settle();
};

export const doToTrack = (
  session: Session,
  cue: string,
  track: string,
  label: string,
  change: (track: Track) => Track,
  merge?: string,
): void =>
  doToCue(
    session,
    cue,
    label,
    (each) => changeTrack(each, track, change),
    merge === undefined ? undefined : `${track} ${merge}`,
  );

/** Seconds that the clip of a slot takes. */
const clipLength = ({ props }: StageDocument, { target, clip }: Slot): number => {
  const mesh = props.find(({ id }) => id === target.of)?.mesh;
  return (mesh?.kind === 'imported' && mesh.clips?.[clip ?? -1]?.length) || 0;
};

/** The picture that a texture reads as it is authored. */
const pictureNow = (session: Session, { target, parameter }: Slot): string | null => {
  const part = session.part(target.of);
  return (part?.kind === 'material' && part.body.pictures?.[parameter!.id]) || null;
};

/** A slot that a curve can be added to: a texture that nothing is chosen from yet begins with its own picture. */
export const addableSlot = (session: Session, set: StageDocument, target: Target): Slot | null => {
  const found = slotOf(target, set, parametersIn(session));
  if (!('why' in found)) return found;
  const parameter = parametersIn(session)(target.of)?.find((each) => each.id === target.what);
  if (target.kind !== 'parameter' || parameter?.kind !== 'texture') return null;
  const slot: Slot = {
    ...{ key: slotKey(target), target, name: parameter.name, size: 1, whole: true, parameter },
    pictures: [],
  };
  return pictureNow(session, slot) === null ? null : slot;
};

/** Keeps a picture, and lets a texture be chosen from it too; the keys in hand choose it. */
export const addPicture = async (
  session: Session,
  slot: Slot,
  file: File,
  onAdded: (place: number) => void,
): Promise<void> => {
  try {
    const sha = await keepBlob(file, file.name);
    const { stage } = session;
    const own = stage?.body.choices?.find(
      ({ material, parameter }) => material === slot.target.of && parameter === slot.target.what,
    );
    const known = own?.pictures.indexOf(sha) ?? -1;
    if (known >= 0) return onAdded(known);
    const edit = stage && addChoice(stage, slot.target, sha);
    if (!edit)
      return void toast(`A texture is chosen from up to ${MOST_CHOICES} pictures; take one out first.`);
    session.apply(edit);
    onAdded(own?.pictures.length ?? 0);
  } catch (error) {
    toast.error((error as Error).message);
  }
};

/** Lets a cue drive something more: from what stands there now to the same at its end. */
export const addTrack = (session: Session, cueing: Cueing, cue: Cue, slot: Slot): void => {
  if (cue.tracks.length >= MOST_TRACKS) {
    toast(`A cue has up to ${MOST_TRACKS} curves; delete one first.`);
    return;
  }
  const { stage } = session;
  if (!stage) return;
  const begun = slot.pictures ? pictureNow(session, slot) : null;
  const value = begun ? [Math.max(slot.pictures!.indexOf(begun), 0)] : authoredAt(session, slot);
  const go = slot.pictures ? 'held' : slot.clip === undefined ? 'eased' : 'straight';
  // A clip plays at its own pace, as far as the cue goes.
  const plays = slot.clip === undefined ? null : Math.min(clipLength(stage.body, slot), cue.length);
  const track: Track = {
    ...{ id: `track-${newId()}`, target: slot.target },
    keys: [
      { at: 0, value, go },
      { at: plays ?? cue.length, value: plays === null ? value : [plays], go },
    ],
  };
  const label = `Let ${cue.name} drive ${slot.name}`;
  const edit = changeCue(stage, cue.id, label, (each) => ({ ...each, tracks: [...each.tracks, track] }));
  const first = begun && !slot.pictures!.length ? addChoice(stage, slot.target, begun) : null;
  session.apply({ ...edit, patches: [...edit.patches, ...(first?.patches ?? [])] });
  session.settle();
  cueing.hold(cue, track);
};

/** All that a cue may drive of a set, under the names of what it belongs to. */
export const targetsIn = (
  session: Session,
  set: StageDocument,
): readonly { readonly of: string; readonly kind: string; readonly targets: readonly Target[] }[] => {
  const worn = new Set(set.props.map((each) => each.material));
  const parametersOf = parametersIn(session);
  return [
    ...session.materials
      .filter(({ id }) => worn.has(id))
      .map(({ id, name }) => ({
        ...{ of: name, kind: 'material' },
        targets: (parametersOf(id) ?? []).map((each): Target => ({
          kind: 'parameter',
          of: id,
          what: each.id,
        })),
      })),
    ...set.props.map(({ id, name, mesh }) => ({
      ...{ of: name, kind: 'prop' },
      targets: [
        ...['position', 'rotation', 'scale'],
        ...((mesh.kind === 'imported' && mesh.clips) || []).map((_, i) => clipSlot(i)),
      ].map((what): Target => ({ kind: 'prop', of: id, what })),
    })),
    ...set.lights.map((_, i) => ({
      ...{ of: `Light ${i + 1}`, kind: '' },
      targets: (['position', 'color', 'intensity'] as const).map((what): Target => ({
        kind: 'light',
        of: String(i),
        what,
      })),
    })),
    {
      ...{ of: 'Camera', kind: '' },
      targets: (['position', 'target', 'fieldOfView'] as const).map((what): Target => ({
        kind: 'camera',
        of: '',
        what,
      })),
    },
  ];
};
