import { toast } from 'svelte-sonner';
import { freeTitle } from '#core/edits/freeTitle.ts';
import { setReferences } from '#core/edits/stageEdits.ts';
import { MOST_REFERENCES, type Reference } from '#core/document/project.ts';
import { newId } from '../../parts/newId.ts';
import { keepBlob } from '../keepBlob.ts';
import type { Session } from '../state/session.svelte.ts';

const referencesOf = (session: Session): readonly Reference[] => session.stage?.body.references ?? [];
const WIDTH = 0.3;

const add = (session: Session, wish: Omit<Reference, 'id'>): void => {
  const { stage } = session;
  const all = referencesOf(session);
  if (!stage) return;
  if (all.length >= MOST_REFERENCES) {
    toast(`A set has up to ${MOST_REFERENCES} references; take one off first.`);
    return;
  }
  const name = freeTitle(wish.name, new Set(all.map((each) => each.name)));
  const made: Reference = { ...wish, id: `reference-${newId()}`, name };
  session.apply(setReferences(stage, [...all, made], `Add reference ${name}`));
  session.settle();
  session.holdReference(made.id);
};

/** Puts a picture beside the set. @param at where it was dropped, as shares of the stage */
export const addReference = async (
  session: Session,
  file: File,
  at: Reference['at'] = [0.8, 0.3],
): Promise<void> => {
  try {
    const picture = await keepBlob(file, `The picture ${file.name}`);
    // What cannot be shown is told before it stands there.
    const shown = new Image();
    shown.src = `/api/blobs/${picture}`;
    await shown.decode().catch(() => {
      throw new Error(`${file.name} is no picture that a browser shows; drop PNG, JPEG or WebP.`);
    });
    const name = file.name.replace(/\.\w+$/, '').slice(0, 100) || 'Reference';
    add(session, { name, picture, at, width: WIDTH, fade: 1 });
  } catch (error) {
    toast.error((error as Error).message);
  }
};

export const changeReference = (
  session: Session,
  id: string,
  change: Partial<Omit<Reference, 'id'>>,
  label: string,
  merge?: string,
): void => {
  const { stage } = session;
  if (!stage) return;
  const held = (x: number, least: number, most: number): number => Math.min(Math.max(x, least), most);
  const kept: typeof change = {
    ...change,
    ...(change.width === undefined ? {} : { width: held(change.width, 0.02, 4) }),
    ...(change.fade === undefined ? {} : { fade: held(change.fade, 0, 1) }),
    // Some of it stays where it can be taken.
    ...(change.at ? { at: change.at.map((x) => held(x, 0, 1)) as [number, number] } : {}),
  };
  session.apply(
    setReferences(
      stage,
      referencesOf(session).map((each) => (each.id === id ? { ...each, ...kept } : each)),
      label,
      merge === undefined ? undefined : `reference ${id} ${merge}`,
    ),
  );
};

export const duplicateReference = (session: Session, { id: _, at, ...rest }: Reference): void =>
  add(session, { ...rest, at: [Math.min(at[0] + 0.04, 1), Math.min(at[1] + 0.04, 1)] });

export const removeReference = (session: Session, { id, name }: Reference): void => {
  const { stage } = session;
  if (!stage) return;
  session.apply(
    setReferences(
      stage,
      referencesOf(session).filter((each) => each.id !== id),
      `Take off reference ${name}`,
    ),
  );
  session.settle();
  session.holdReference(null);
};
