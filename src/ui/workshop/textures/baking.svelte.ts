import type { Seam } from '#core/images/seams.ts';
import { bitsOf, type Bits } from '#core/images/encodePicture.ts';
import type { PartOf } from '#core/document/project.ts';
import { bakedChanges } from '#core/edits/textureEdits.ts';
import type { FromTextureMaker, ToTextureMaker } from '../../../workers/texture.worker.ts';
import { keepBlob } from '../keepBlob.ts';
import { startMaker } from './startMaker.ts';
import type { Session } from '../state/session.svelte.ts';

type Texture = PartOf<'texture'>;
export type Baked = Extract<FromTextureMaker, { type: 'baked' }>;
/** How long nothing may change before what is another now is baked by itself. */
const QUIET_MS = 500;

/** What textures are made of, and what tells how each is made now. */
export interface Making {
  readonly know: () => Extract<ToTextureMaker, { type: 'know' }>;
  readonly digestOf: (texture: string) => string | undefined;
  /** Tells what came of what was asked for, in a sentence. */
  readonly tell: (sentence: string, isWrong?: boolean) => void;
}
interface Job {
  readonly id: string;
  /** What tells how it was made when it was begun. */
  readonly of: string | undefined;
  /** Nobody asked for it: the texture was changed. */
  readonly isByItself: boolean;
  readonly end: (made: Baked | Error | null) => void;
}

/**
 * Makes textures at their whole size, in a worker of their own, so that small pictures go on meanwhile: one at a time,
 * when that is asked for, and by itself once one that was baked is another.
 */
export const createBaking = (
  session: Pick<Session, 'textures' | 'materials' | 'follow' | 'commit' | 'inTurn'>,
  { know, digestOf, tell }: Making,
) => {
  let job = $state.raw<Job | null>(null);
  let progress = $state(0);
  /** How much is seen of the edges of what was made whole, by what it was made like. */
  let seams = $state.raw<ReadonlyMap<string, Seam>>(new Map());
  /** Why textures could not be baked by themselves. */
  let refusals = $state.raw<ReadonlyMap<string, string>>(new Map());
  let worker: Worker | null = null;
  let isClosed = false;
  let timer: ReturnType<typeof setTimeout> | undefined;
  /** What each texture was made like when it was baked, tried or first seen: what changes after that is baked. */
  const seen = new Map<string, string | undefined>();
  /** Those that were baked here by themselves: what is undone elsewhere may bring an old picture of them back. */
  const followed = new Set<string>();

  const receive = (data: FromTextureMaker): void => {
    if (data.type === 'progress') progress = data.share;
    else if (data.type === 'baked') job?.end(data);
    else if (data.type === 'refused') job?.end(new Error(data.why));
  };
  const broke = (why: string): void =>
    stop(new Error(`It could not be made: ${why || 'it may be too large'}.`));
  /** Ends what is under way: what it had made so far is let go. */
  const stop = (why: Error | null = null): void => {
    worker?.terminate();
    worker = null;
    job?.end(why);
  };
  /** @returns null where it was ended before it was made @throws Error that says why it could not be made */
  const make = (texture: Texture, bits: Bits, isByItself: boolean): Promise<Baked | null> =>
    new Promise((resolve, reject) => {
      progress = 0;
      worker ??= startMaker(receive, broke);
      const begun: Job = {
        ...{ id: texture.id, of: digestOf(texture.id), isByItself },
        end: (made) => {
          if (job === begun) job = null;
          if (made instanceof Error) return reject(made);
          if (made && begun.of !== undefined) seams = new Map([...seams, [begun.of, made.seam]]);
          resolve(made);
        },
      };
      job = begun;
      worker.postMessage(know());
      const { holds } = texture.body;
      worker.postMessage({ type: 'bake', ask: 0, id: texture.id, holds, bits } satisfies ToTextureMaker);
    });
  /** What was asked for goes before what is baked by itself, which is begun again afterwards. */
  const makeAsked = async (texture: Texture, bits: Bits): Promise<Baked | null> => {
    if (job?.isByItself) seen.set(job.id, undefined);
    stop();
    try {
      return await make(texture, bits, false);
    } finally {
      later();
    }
  };
  const refuse = (id: string, why: string | null): void => {
    const { [id]: _, ...others } = Object.fromEntries(refusals);
    refusals = new Map(Object.entries(why === null ? others : { ...others, [id]: why }));
  };

  /** Bakes what is another than when it was baked, and lets what reads it read what it came to. */
  const catchUp = (): void => {
    timer = undefined;
    if (job && !job.isByItself) return;
    // The newest wins.
    if (job && digestOf(job.id) !== job.of) stop();
    for (const texture of session.textures) {
      const { id, body } = texture;
      const of = digestOf(id);
      const before = seen.get(id);
      if (body.baked && of !== undefined && body.bakedOf === of) {
        if (followed.has(id)) session.follow(bakedChanges(texture, session.materials, body.baked, of));
      } else if (seen.has(id) && before !== of && body.baked && !body.byHand) {
        if (!job) void bakeByItself(texture);
        continue;
      }
      seen.set(id, of);
    }
  };
  const bakeByItself = async (texture: Texture): Promise<void> => {
    const of = digestOf(texture.id);
    seen.set(texture.id, of);
    refuse(texture.id, null);
    try {
      const made = await make(texture, bitsOf(texture.body.bits), true);
      if (!made) return;
      const sha = await keepBlob(made.file, texture.name);
      const now = session.textures.find(({ id }) => id === texture.id);
      if (now && of !== undefined && digestOf(now.id) === of) {
        followed.add(now.id);
        session.follow(bakedChanges(now, session.materials, sha, of));
        // While it is being saved as a whole nothing follows: then it is begun again.
        const after = session.textures.find(({ id }) => id === now.id);
        if (after?.body.bakedOf !== of) seen.set(now.id, undefined);
      }
    } catch (error) {
      refuse(texture.id, (error as Error).message);
    }
    later();
  };
  const later = (): void => {
    clearTimeout(timer);
    if (!isClosed) timer = setTimeout(catchUp, QUIET_MS);
  };

  return {
    /** The texture that is being baked. */
    get baking() {
      return job?.id ?? null;
    },
    /** Whether one that was asked for is. */
    get isAsked() {
      return job !== null && !job.isByItself;
    },
    /** How much of it is made. */
    get progress() {
      return progress;
    },
    get seams() {
      return seams;
    },
    get refusals() {
      return refusals;
    },
    make: makeAsked,
    /** Bakes a texture at its whole size: it and the materials that read it have the new picture. */
    bake: async (texture: Texture): Promise<void> => {
      const of = digestOf(texture.id);
      if (of === undefined) return;
      seen.set(texture.id, of);
      refuse(texture.id, null);
      try {
        const made = await makeAsked(texture, bitsOf(texture.body.bits));
        if (!made) return;
        const { file, loss, milliseconds } = made;
        const sha = await keepBlob(file, texture.name);
        const isKept = await session.inTurn(async () => {
          const now = session.textures.find(({ id }) => id === texture.id);
          const changes = now ? bakedChanges(now, session.materials, sha, of) : [];
          if (changes.length) await session.commit(`Bake ${texture.name}`, changes);
          return now !== undefined;
        });
        if (!isKept) return;
        tell(`${texture.name} was baked in ${(milliseconds / 1000).toFixed(1)} s.${loss ? ` ${loss}` : ''}`);
      } catch (error) {
        tell((error as Error).message, true);
      }
    },
    /** To be called whenever anything of the project is another. */
    changed: later,
    /** Ends it; by itself it is not begun again before its texture is another. */
    cancel: (): void => stop(),
    close: (): void => {
      isClosed = true;
      clearTimeout(timer);
      stop();
    },
  };
};
