import { toast } from 'svelte-sonner';
import { freeTitle } from '#core/edits/freeTitle.ts';
import { setPins } from '#core/edits/stageEdits.ts';
import { MOST_PINS, type Pin, type Prop } from '#core/document/project.ts';
import { middleOf } from '#core/evaluate/points/spots.ts';
import { makeMesh } from '#core/meshes/makeMesh.ts';
import type { Pinned } from '#stage/stage.ts';
import { newId } from '../../parts/newId.ts';
import type { Session } from '../state/session.svelte.ts';

const pinsOf = (session: Session): readonly Pin[] => session.stage?.body.pins ?? [];
/** A tenth of a millimetre. */
const rounded = (at: Pinned['at']): Pin['at'] =>
  at.map((x) => Math.round(x * 1e4) / 1e4 + 0) as unknown as Pin['at'];

/** Puts a pin on a prop, and reads it. */
export const addPin = (session: Session, { prop, at }: Pinned, wish?: string): void => {
  const { stage } = session;
  if (!stage) return;
  const pins = pinsOf(session);
  if (pins.length >= MOST_PINS) {
    toast(`A set has up to ${MOST_PINS} pins; take one off first.`);
    return;
  }
  const on = stage.body.props.find((each) => each.id === prop);
  const name = freeTitle(wish ?? `On ${on?.name ?? 'a prop'}`, new Set(pins.map((each) => each.name)));
  const pin: Pin = { id: `pin-${newId()}`, name, prop, at: rounded(at) };
  session.apply(setPins(stage, [...pins, pin], `Put a pin on ${on?.name ?? 'a prop'}`));
  session.settle();
  session.holdPin(pin.id);
};

/** Puts a pin on the middle of a prop’s uv. */
export const addPinTo = (session: Session, { id, mesh }: Prop): void =>
  addPin(session, { prop: id, at: middleOf(makeMesh(mesh)) });

export const changePin = (
  session: Session,
  id: string,
  change: Partial<Omit<Pin, 'id'>>,
  label: string,
  merge?: string,
): void => {
  const { stage } = session;
  if (!stage) return;
  const changed = change.at ? { ...change, at: rounded(change.at) } : change;
  session.apply(
    setPins(
      stage,
      pinsOf(session).map((each) => (each.id === id ? { ...each, ...changed } : each)),
      label,
      merge === undefined ? undefined : `pin ${id} ${merge}`,
    ),
  );
};

export const duplicatePin = (session: Session, { prop, at, name }: Pin): void =>
  addPin(session, { prop, at }, name);

export const removePin = (session: Session, { id, name }: Pin): void => {
  const { stage } = session;
  if (!stage) return;
  const pins = pinsOf(session);
  const place = pins.findIndex((each) => each.id === id);
  const left = pins.filter((each) => each.id !== id);
  session.apply(setPins(stage, left, `Take off the pin ${name}`));
  session.settle();
  if (session.pin === id) session.holdPin(left[Math.min(place, left.length - 1)]?.id ?? null);
};
