import { toast } from 'svelte-sonner';
import type { Part, PartOf } from '#core/document/project.ts';
import type { StarterKind } from '#core/document/starter.ts';
import type { PartChange } from '#core/edits/changeParts.ts';
import {
  beginPart,
  copyOfPart,
  deletePart,
  KIND_WORDS,
  makeDefaults,
  moveSet,
  renamePart,
  useShader,
  type Begun,
} from '#core/edits/partEdits.ts';
import { newId } from '../../parts/newId.ts';
import type { Session } from '../state/session.svelte.ts';

const refuse = (sentence: string): null => {
  toast.error(sentence);
  return null;
};

/** Has changes to several parts done as one deed. @returns whether they were */
export const commitDeed = (
  session: Session,
  label: string,
  changes: readonly PartChange[],
): Promise<boolean> =>
  session.commit(label, changes).then(
    () => true,
    (error: unknown) => refuse((error as Error).message) !== null,
  );

/** Shows a part where it is worked on. */
export const openPart = (session: Session, part: Part): void => {
  switch (part.kind) {
    case 'stage':
      return session.showSet(part.id);
    case 'material':
      session.showMaterial(part.id);
      return session.showTab('strands');
    case 'motif':
      session.showMotif(part.id);
      return session.showTab('strands');
    case 'script':
      return session.showScript(part.id);
    case 'shader': {
      const material = session.materials.find((each) => each.body.shader === part.id);
      if (material) return openPart(session, material);
      toast(`No material is of ${part.name} yet, so that there is nothing to show it on.`, {
        action: { label: 'Make one', onClick: () => void beginMaterialOf(session, part.id) },
      });
      return;
    }
    case 'texture':
      session.holdTexture(part.id);
      return session.showTab('textures');
    case 'take':
      if (session.stage?.id !== part.body.set) session.showSet(part.body.set);
      return session.showTab('cues');
    case 'shared':
      toast('Shared values stand in the panel, with the parameters that read them.');
  }
};

const openById = (session: Session, id: string): void => {
  const part = session.part(id);
  if (part) openPart(session, part);
};

/** What a part has become while its turn was waited for. */
const asItIs = (session: Session, part: Part): Part => session.part(part.id) ?? part;

/**
 * Takes in what is begun, and opens it; after what is still being saved, so that nothing that was brought is lost for that.
 * @param begin from the parts as they then are; a sentence where it cannot be
 * @returns its id, null where it could not be
 */
export const take = (session: Session, label: string, begin: () => Begun | string): Promise<string | null> =>
  session.inTurn(async () => {
    const begun = begin();
    if (typeof begun === 'string') return refuse(begun);
    if (!(await commitDeed(session, label, begun.changes))) return null;
    openById(session, begun.id);
    return begun.id;
  });

const beginMaterialOf = async (session: Session, shader: string): Promise<void> => {
  const part = session.part(shader);
  if (part?.kind !== 'shader') return;
  const around = { shader: part, material: null, stage: session.stage };
  await take(session, `New material of ${part.name}`, () =>
    beginPart('material', session.parts, around, newId),
  );
};

/** Begins a part and opens it. @returns its id, null where it could not be begun */
export const newPartOf = (session: Session, kind: StarterKind): Promise<string | null> => {
  const { shader, material, stage } = session;
  return take(session, `New ${KIND_WORDS[kind]}`, () =>
    beginPart(kind, session.parts, { shader, material, stage }, newId),
  );
};

export const duplicatePart = (session: Session, part: Part): Promise<string | null> =>
  take(session, `Duplicate ${part.name}`, () => copyOfPart(session.parts, asItIs(session, part), newId));

/** @returns a sentence where it cannot be called that; null once it is */
export const namePart = (session: Session, part: Part, name: string): Promise<string | null> =>
  session.inTurn(async () => {
    const changes = renamePart(session.parts, asItIs(session, part), name);
    if (typeof changes === 'string') return changes;
    if (changes.length) await commitDeed(session, `Rename ${part.name}`, changes);
    return null;
  });

/** Takes a part out, and what has no meaning without it; says what that was, and how to have it back. */
export const removePart = (session: Session, part: Part): Promise<void> =>
  session.inTurn(async () => {
    const deletion = deletePart(session.parts, asItIs(session, part));
    if (typeof deletion === 'string') return void refuse(deletion);
    if (!(await commitDeed(session, `Delete ${part.name}`, deletion.changes))) return;
    const too = deletion.with.slice(0, 3).join(', ');
    const more = deletion.with.length > 3 ? ` and ${deletion.with.length - 3} more` : '';
    toast(`${part.name} is deleted${too ? `, and with it ${too}${more}` : ''}.`, {
      action: { label: 'Undo', onClick: session.undo },
    });
  });

/** Lets the material in hand be of another shader. */
export const changeShader = (session: Session, shader: PartOf<'shader'>): void => {
  const { material } = session;
  if (material)
    void commitDeed(
      session,
      `${material.name} is of ${shader.name}`,
      useShader(material, shader, session.shader),
    );
};

/** Makes what the material in hand stands at its shader’s defaults. */
export const takeAsDefaults = (session: Session): void => {
  const { material, shader } = session;
  const changes = material && shader ? makeDefaults(material, shader) : [];
  if (changes.length) void commitDeed(session, `Values of ${material!.name} as defaults`, changes);
};

/** Moves a set among the sets. */
export const shiftSet = (session: Session, part: Part, way: -1 | 1): void => {
  const changes = part.kind === 'stage' ? moveSet(session.parts, part, way) : [];
  if (changes.length) void commitDeed(session, `Move ${part.name}`, changes);
};
