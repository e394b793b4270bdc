import { bitsOf, endingOf, type Bits } from '#core/images/encodePicture.ts';
import { toast } from 'svelte-sonner';
import { untrack } from 'svelte';
import { recipesOf, shownBy } from '#core/document/recipes.ts';
import { namedBy } from '#core/images/declareStep.ts';
import { digestOf, texturesIn, wordsIn } from '#core/images/recipe.ts';
import { lossIn } from '#core/images/lossIn.ts';
import type { Seam } from '#core/images/seams.ts';
import type { PartOf } from '#core/document/project.ts';
import { downloadBlob } from '../../parts/download.ts';
import type { ShownStep } from '../../../workers/texture.worker.ts';
import { createInSight } from '../../parts/inSight.svelte.ts';
import type { Session } from '../state/session.svelte.ts';
import { createBaking } from './baking.svelte.ts';
import { createNearing, type Near } from './nearing.ts';
import { createPreviewing, type Preview } from './previewing.ts';

type Texture = PartOf<'texture'>;
/** Pixels of the longer side of what is shown while a texture is worked on, and of those that are not in hand. */
const [LARGE, SMALL] = [256, 96];
/** How long the one in hand is left before pictures of the others are begun: they would take its processor. */
const QUIET_MS = 1000;
/** How long nothing may change before what is looked at nearer is made larger. */
const NEAR_MS = 300;
/** Rows this far beyond the edge are made too. */
const BEYOND = '120px';

/** Makes textures in workers: small ones of all steps while they are worked on, whole ones when they are baked. */
export const createMaking = (session: Session) => {
  let previews = $state.raw<ReadonlyMap<string, Preview>>(new Map());
  /** How much of the one in hand is made, where that takes long. */
  let underWay = $state.raw<{ readonly id: string; readonly share: number } | null>(null);
  /** How much is made of what is looked at nearer. */
  let nearUnderWay = $state.raw<typeof underWay>(null);
  /** What is looked at nearer than small pictures show, and what was made of it. */
  let looked = $state.raw<Near | null>(null);
  let nearest = $state.raw<{ readonly as: string; readonly step: ShownStep } | null>(null);
  const recipes = $derived(recipesOf(session.parts));
  const inSight = createInSight(BEYOND);
  const digests = $derived(new Map(session.textures.map(({ id }) => [id, digestOf(id, recipes)])));

  /** What the steps of textures name besides textures, with what that stands on. */
  const named = () => {
    const all = new Map(session.parts.map((each) => [each.id, each]));
    const steps = session.textures.flatMap(({ body }) => body.steps);
    const ids = (kind: 'surface' | 'prop') =>
      new Set(steps.flatMap((step) => wordsIn(step, kind)).map((word) => namedBy(word).id));
    return [
      ...new Set([
        ...[...ids('surface')].flatMap((id) => shownBy(all, id)),
        ...[...ids('prop')].flatMap((id) => all.get(id) ?? []),
      ]),
    ];
  };
  const know = () => ({ type: 'know', recipes: [...recipes], parts: named() }) as const;
  const baking = createBaking(session, {
    ...{ know, digestOf: (id) => digests.get(id) },
    tell: (sentence, isWrong) => void (isWrong ? toast.error(sentence) : toast(sentence)),
  });
  /** Whether a texture is another, or is made of it. */
  const reaches = (id: string, other: string, seen = new Set<string>()): boolean => {
    if (id === other) return true;
    if (seen.has(id)) return false;
    seen.add(id);
    return texturesIn(recipes.get(id)?.steps ?? []).some((read) => reaches(read, other, seen));
  };
  /** Whether lines are cast through a mesh for it, which takes long. */
  const isSlow = (id: string): boolean =>
    session.textures.some(
      (each) => each.body.steps.some((step) => wordsIn(step, 'prop').length) && reaches(id, each.id),
    );
  /** What each texture was asked for as last, and whether as large as one in hand is shown. */
  const wanted = new Map<string, { readonly as: string; readonly large: boolean }>();
  const isOld = ({ id, body }: Texture, large: boolean): boolean => {
    const as = `${digests.get(id)} ${body.holds}`;
    const before = wanted.get(id);
    if (before?.as === as && (before.large || !large)) return false;
    wanted.set(id, { as, large });
    return true;
  };
  const show = (id: string, preview: Preview): void => {
    previews = new Map([...previews, [id, preview]]);
  };
  /** What tells apart the maps of meshes that a texture is made of, itself or by others. */
  const castsOf = (id: string): readonly string[] =>
    session.textures
      .filter((each) => reaches(id, each.id))
      .flatMap(({ id: of, body }) =>
        body.steps
          .filter((step) => !step.off && wordsIn(step, 'prop').length)
          .map((step) =>
            JSON.stringify([
              ...[body.size, step.numbers, step.words],
              wordsIn(step, 'prop').map((word) => recipes.get(of)?.reads?.get(word)?.is),
            ]),
          ),
      );
  /** Of those that are being made, which maps of meshes are cast for them. */
  const cast = new Map<string, readonly string[]>();
  const isCastStill = (id: string): boolean => {
    const now = castsOf(id);
    return (cast.get(id) ?? []).every((each) => now.includes(each));
  };
  const common = {
    know,
    failed: (why: string, id?: string) => {
      if (id !== undefined) wanted.delete(id);
      const what = id === undefined ? 'Textures' : (session.part(id)?.name ?? 'A texture');
      toast.error(`${what} could not be made: ${why || 'it may be too large'}`);
    },
  };
  const textureOf = (id: string) => session.textures.find((each) => each.id === id)?.body;
  /** The one in hand, which waits for none of the others. */
  const held = createPreviewing({
    ...{ ...common, show },
    first: (waiting) => waiting.find((id) => id === session.texture?.id) ?? waiting[0]!,
    isWanted: (id) => id === session.texture?.id && isCastStill(id),
    left: (id) => leave(id),
    progress: (id, share) => (underWay = share === null ? null : { id, share }),
    askOf: (id) => {
      const body = textureOf(id);
      if (!body) return null;
      cast.set(id, castsOf(id));
      const { steps, holds } = body;
      const looked = steps.find((each) => each.id === session.textureStep) ?? steps.at(-1);
      return { longest: LARGE, holds, first: looked?.id ?? null };
    },
  });
  /** Set while the one in hand has just been changed. */
  let busy: ReturnType<typeof setTimeout> | undefined;
  const waitForHand = (): void => {
    clearTimeout(busy);
    busy = setTimeout(() => {
      busy = undefined;
      others.next();
    }, QUIET_MS);
  };
  /** All others that can be seen, the slow ones last; what was asked for large since is left to that. */
  const others = createPreviewing({
    ...common,
    isWanted: (id) => !wanted.get(id)?.large,
    mayBegin: () => busy === undefined,
    show: (id, preview) => wanted.get(id)?.large || show(id, preview),
    first: (waiting) => waiting.find((id) => !isSlow(id)) ?? waiting[0]!,
    askOf: (id) => {
      const body = textureOf(id);
      if (!body || wanted.get(id)?.large) return null;
      if (inSight.ids.has(id)) return { longest: SMALL, holds: body.holds, first: null };
      // Once it can be seen again it is.
      wanted.delete(id);
      return null;
    },
  });
  /** What is not in hand any more is made among the others. */
  const leave = (id: string): void => {
    wanted.delete(id);
    const texture = session.textures.find((each) => each.id === id);
    if (texture && isOld(texture, false)) others.want([id]);
  };
  const nearing = createNearing({
    know,
    show: (step, as) => (nearest = { as, step }),
    progress: (id, share) => (nearUnderWay = share === null ? null : { id, share }),
    failed: common.failed,
  });
  /** What tells apart what a step of a texture looks like. */
  const looksAs = (id: string, step: string): string => `${digests.get(id)} ${textureOf(id)?.holds} ${step}`;
  $effect(() => {
    const near = session.tab === 'textures' ? looked : null;
    const body = near && textureOf(near.id);
    // A picture stands a moment longer than the step that it is of.
    const ask = body?.steps.some(({ id }) => id === near?.step) ? { ...near!, holds: body.holds } : null;
    const as = near ? looksAs(near.id, near.step) : '';
    const timer = setTimeout(() => nearing.want(ask, as), NEAR_MS);
    return () => clearTimeout(timer);
  });
  $effect(() => {
    void session.parts;
    untrack(baking.changed);
  });
  $effect(() => {
    if (session.tab !== 'textures') return;
    const hand = session.texture?.id;
    const seen = inSight.ids;
    const near = session.textures.filter(({ id }) => id === hand || seen.has(id));
    const stale = near.filter((each) => untrack(() => isOld(each, each.id === hand)));
    void [recipes, digests];
    const ids = stale.map(({ id }) => id);
    untrack(() => {
      if (hand !== undefined && ids.includes(hand)) waitForHand();
      held.want(ids.filter((id) => id === hand));
      others.want(ids.filter((id) => id !== hand));
    });
  });

  return {
    get previews() {
      return previews;
    },
    /** Which rows can be seen: only theirs are made, and the one in hand. */
    watch: inSight.watch,
    get underWay() {
      return underWay;
    },
    get nearUnderWay() {
      return nearUnderWay;
    },
    /** Has a step made larger, once it is looked at nearer for a moment. */
    look: (near: Near | null): void => {
      if (JSON.stringify(near) !== JSON.stringify(looked)) looked = near;
    },
    /** A step as it was made larger, where it is what it was then. */
    nearOf: (id: string, step: string): ShownStep | null =>
      nearest?.as === looksAs(id, step) ? nearest.step : null,
    baking,
    /** Whether a texture is not what its materials read. */
    isStale: ({ id, body }: Texture): boolean => body.bakedOf !== digests.get(id),
    /** How much is seen of its edges: of the whole, where it was made as it is now, else of what is shown. */
    seamOf: ({ id }: Texture): { readonly seam: Seam; readonly isWhole: boolean } | null => {
      const whole = baking.seams.get(digests.get(id) ?? '');
      if (whole) return { seam: whole, isWhole: true };
      const { seam, steps } = previews.get(id) ?? { seam: null, steps: [] };
      const last = steps.at(-1);
      return seam && last ? { seam, isWhole: last.width === last.whole[0] } : null;
    },
    /** What of its last step, as it is shown, the bits that it is kept in lose. */
    lossOf: (texture: Texture): string | null => {
      const last = previews.get(texture.id)?.steps.at(-1);
      if (!last) return null;
      const [low, high] = last.range;
      return lossIn({ low, high, broken: last.broken }, bitsOf(texture.body.bits));
    },
    /** Hands a texture over as a file. */
    download: async (texture: Texture, bits: Bits): Promise<void> => {
      try {
        const made = await baking.make(texture, bits);
        if (!made) return;
        const { file, loss } = made;
        const ending = endingOf(bits);
        downloadBlob(
          `${texture.name}.${ending}`,
          new Blob([file], { type: ending === 'exr' ? 'image/x-exr' : 'image/png' }),
        );
        if (loss) toast(`${texture.name}: ${loss}`);
      } catch (error) {
        toast.error((error as Error).message);
      }
    },
    /** Other textures that a texture may read without being made of itself. */
    othersFor: (texture: Texture): readonly Texture[] =>
      session.textures.filter(({ id }) => !reaches(id, texture.id)),
    reaches,
    close: () => {
      clearTimeout(busy);
      held.end();
      others.end();
      nearing.end();
      baking.close();
    },
  };
};
export type Making = ReturnType<typeof createMaking>;
