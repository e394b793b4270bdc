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
import type { FromTextureMaker, ShownStep, ToTextureMaker } from '../../../workers/texture.worker.ts';
import type { Session } from '../state/session.svelte.ts';
import { createBaking } from './baking.svelte.ts';

type Texture = PartOf<'texture'>;
/** Pixels of the longer side of what is shown while a texture is worked on, and of those that are not in hand. */
const [LARGE, SMALL] = [256, 96];

/** What a texture looks like now, step by step. */
export interface Preview {
  readonly steps: readonly ShownStep[];
  readonly seam: Seam | null;
  readonly longest: number;
}

/** Makes textures in workers: small ones of all steps while they are worked on, whole ones when they are baked. */
export const createMaking = (session: Session) => {
  let previews = $state.raw<ReadonlyMap<string, Preview>>(new Map());
  let worker: Worker | null = null;
  let asks = 0;
  /** Textures whose previews are old, and what is being asked for. */
  const old = new Map<string, string>();
  let asked: { readonly id: string; readonly ask: number; readonly longest: number } | null = null;

  /** The step that is looked at, which comes before the others. */
  let early: ShownStep | null = null;

  const recipes = $derived(recipesOf(session.parts));
  const digests = $derived(new Map(session.textures.map(({ id }) => [id, digestOf(id, recipes)])));

  const post = (message: ToTextureMaker) => worker?.postMessage(message);
  const start = () => {
    worker = new Worker(new URL('../../../workers/texture.worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<FromTextureMaker>) => {
      if (asked?.ask !== data.ask) return;
      const before = 'id' in data ? previews.get(data.id) : undefined;
      if (data.type === 'step') {
        early = data.step;
        if (before?.longest !== asked.longest) return;
        const steps = before.steps.map((each) => (each.id === data.step.id ? data.step : each));
        previews = new Map([...previews, [data.id, { ...before, steps }]]);
        return;
      }
      if (data.type === 'previewed') {
        const there = new Map(
          [...(before?.steps ?? []), ...(early ? [early] : [])].map((each) => [each.id, each]),
        );
        const steps = data.steps.flatMap((each) => ('isSame' in each ? (there.get(each.id) ?? []) : [each]));
        previews = new Map([...previews, [data.id, { steps, seam: data.seam, longest: asked.longest }]]);
      }
      asked = null;
      early = null;
      next();
    };
    worker.onerror = (event) => {
      event.preventDefault();
      toast.error(`Textures could not be made: ${event.message || 'they may be too large'}.`);
      end();
    };
    post(know());
  };
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
  const end = () => {
    worker?.terminate();
    worker = null;
    asked = null;
    early = null;
  };
  /** One is asked for at a time, the one in hand first: what is changed meanwhile is asked for once. */
  const next = () => {
    if (asked || !worker || !old.size) return;
    const hand = session.texture?.id;
    const id = hand !== undefined && old.has(hand) ? hand : old.keys().next().value!;
    old.delete(id);
    const texture = session.textures.find((each) => each.id === id);
    if (!texture) return next();
    asked = { id, ask: (asks += 1), longest: id === hand ? LARGE : SMALL };
    const { steps, holds } = texture.body;
    const looked = steps.find((each) => each.id === session.textureStep) ?? steps.at(-1);
    const first = id === hand && looked ? looked.id : null;
    post({ type: 'preview', ...asked, holds, first });
  };
  /** What previews were asked for, by texture. */
  const wanted = new Map<string, string>();
  const isOld = ({ id, body }: Texture, hand: string | undefined): boolean => {
    const longest = id === hand ? LARGE : (previews.get(id)?.longest ?? SMALL);
    const key = `${digests.get(id)} ${body.holds} ${longest}`;
    if (wanted.get(id) === key) return false;
    wanted.set(id, key);
    return true;
  };
  $effect(() => {
    void session.parts;
    untrack(baking.changed);
  });
  $effect(() => {
    if (session.tab !== 'textures') return;
    const hand = session.texture?.id;
    const stale = session.textures.filter((each) => untrack(() => isOld(each, hand)));
    void [recipes, digests];
    if (!stale.length) return;
    untrack(() => {
      if (worker) post(know());
      else start();
      for (const { id } of stale) old.set(id, id);
      next();
    });
  });

  /** Whether a texture is another, or is made of it. */
  const reaches = (id: string, other: string, seen = new Set<string>()): boolean => {
    if (id === other) return true;
    if (seen.has(id)) return false;
    seen.add(id);
    return texturesIn(recipes.get(id)?.steps ?? []).some((read) => reaches(read, other, seen));
  };

  return {
    get previews() {
      return previews;
    },
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
      end();
      baking.close();
    },
  };
};
export type Making = ReturnType<typeof createMaking>;
