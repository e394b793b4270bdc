import { zlibSync } from 'fflate';
import type { Holds } from '#core/images/encodePng.ts';
import { encodePicture, type Bits, type Encoded } from '#core/images/encodePicture.ts';
import type { Size } from '#core/images/declareStep.ts';
import type { Image } from '#core/images/image.ts';
import { lookAt } from '#core/images/lookAt.ts';
import { createByteCache } from '#core/numbers/byteCache.ts';
import { createMaker, type MadeStep } from '#core/images/makeTexture.ts';
import { MOST_PIXELS, picturesIn, texturesIn, type Reading, type Recipe } from '#core/images/recipe.ts';
import { readNumbers } from '#core/images/readNumbers.ts';
import type { Part } from '#core/document/project.ts';
import { readGlb } from '#core/meshes/glb.ts';
import { arriveHeights, readHeights } from '#core/meshes/heights.ts';
import { arrive } from '#core/meshes/imported.ts';
import { createSources } from '#core/textureSources.ts';
import { seamOf, type Seam } from '#core/images/seams.ts';
import { shareShown, sizesOf } from '#core/images/sizesOf.ts';

/** To who makes textures. */
export type ToTextureMaker =
  | {
      readonly type: 'know';
      readonly recipes: readonly (readonly [id: string, recipe: Recipe])[];
      /** The shaders, materials and sets that their steps name, and what these stand on. */
      readonly parts: readonly Pick<Part, 'id' | 'kind' | 'name' | 'body'>[];
    }
  /** Small pictures of every step, so many pixels at their longer side. */
  | {
      readonly type: 'preview';
      readonly ask: number;
      readonly id: string;
      readonly longest: number;
      readonly holds: Holds;
      /** The step that is looked at: it is sent as soon as it is made. */
      readonly first: string | null;
    }
  /** One step alone, so many pixels at the longer side of what its texture comes to up to there. */
  | {
      readonly type: 'near';
      readonly ask: number;
      readonly id: string;
      readonly step: string;
      readonly longest: number;
      readonly holds: Holds;
    }
  | {
      readonly type: 'bake';
      readonly ask: number;
      readonly id: string;
      readonly holds: Holds;
      readonly bits: Bits;
    };

/** A step as it is shown. */
export interface ShownStep {
  readonly id: string;
  readonly width: number;
  readonly height: number;
  /** How large it is where it is not made small. */
  readonly whole: Size;
  readonly pixels: Uint8ClampedArray<ArrayBuffer>;
  /** The least and the greatest number of its colours. */
  readonly range: readonly [number, number];
  /** How many of them are infinite or none at all. */
  readonly broken: number;
  /** Shares of its pixels by red, green and blue, and by alpha where it counts, dark to light. */
  readonly histogram: readonly (readonly number[])[];
  readonly mistake: string | null;
  readonly note: string | null;
}
export type FromTextureMaker =
  /** The one that is looked at, before those that follow from it; it is not sent again. */
  | { readonly type: 'step'; readonly ask: number; readonly id: string; readonly step: ShownStep }
  | {
      readonly type: 'previewed';
      readonly ask: number;
      readonly id: string;
      /** Those that are what they were when they were last sent, by their ids alone. */
      readonly steps: readonly (ShownStep | { readonly id: string; readonly isSame: true })[];
      readonly seam: Seam | null;
    }
  | (Encoded & { readonly type: 'baked'; readonly ask: number; readonly milliseconds: number })
  | { readonly type: 'progress'; readonly ask: number; readonly share: number }
  | { readonly type: 'refused'; readonly ask: number; readonly why: string };

let recipes: ReadonlyMap<string, Recipe> = new Map();
let parts: Extract<ToTextureMaker, { type: 'know' }>['parts'] = [];
const brought = new Set<string>();
/** Pictures that were brought, by their SHA-256: two of the largest that textures are made of. */
const pictures = createByteCache<Image>(512 * 2 ** 20, ({ data }) => data.byteLength);
const tooLarge = new Map<string, Size>();
const known = new Map<string, MadeStep>();

/** A number for each picture that was sent, so that what was sent is known without being held. */
const numbers = new WeakMap<Image, number>();
let numbered = 0;
const numberOf = (image: Image): number => {
  const found = numbers.get(image) ?? (numbered += 1);
  numbers.set(image, found);
  return found;
};
const asSent = ({ image, mistake }: MadeStep): string => `${numberOf(image)} ${mistake}`;
/** What was sent of each texture last, by its steps. */
const sent = new Map<string, { readonly holds: Holds; readonly steps: ReadonlyMap<string, string> }>();

const answer = (message: FromTextureMaker, transfer: Transferable[] = []): void =>
  self.postMessage(message, { transfer });

const bringPicture = async (sha: string): Promise<void> => {
  if (pictures.has(sha) || tooLarge.has(sha)) return;
  const found = await fetch(`/api/blobs/${sha}/numbers`);
  if (!found.ok) return;
  const bytes = await found.arrayBuffer();
  // Floats of more than can be made would be four times as many bytes.
  const [width, height] = new Uint32Array(bytes, 0, 2) as unknown as Size;
  if (width * height > MOST_PIXELS) tooLarge.set(sha, [width, height]);
  else pictures.set(sha, readNumbers(bytes));
};
/** Brings what a shader’s material reads, or a mesh is made of. */
const bring = async ({ what, blob }: Reading['brings'][number]): Promise<void> => {
  if (what === 'picture') return bringPicture(blob);
  // Faces of letters came with the makers themselves.
  if (what === 'letters' || brought.has(blob)) return;
  const found = await fetch(`/api/blobs/${blob}${what === 'heights' ? '/heights' : ''}`);
  if (!found.ok) return;
  const bytes = await found.arrayBuffer();
  if (what === 'heights') arriveHeights(blob, readHeights(bytes));
  else arrive(blob, readGlb(new Uint8Array(bytes)));
  brought.add(blob);
};
/** Brings the pictures that a texture and those it reads are made of. */
const bringFor = async (id: string, seen = new Set<string>()): Promise<void> => {
  const recipe = recipes.get(id);
  if (!recipe || seen.has(id)) return;
  seen.add(id);
  await Promise.all([
    ...picturesIn(recipe.steps).map(bringPicture),
    ...[...(recipe.reads?.values() ?? [])].flatMap((each) => each.brings.map(bring)),
  ]);
  for (const other of texturesIn(recipe.steps)) await bringFor(other, seen);
};
const pictureAt = (sha: string): Image => {
  const large = tooLarge.get(sha);
  if (large)
    throw new Error(
      `This picture is ${large.join(' × ')} pixels; textures are made of at most ${MOST_PIXELS / 2 ** 20} million.`,
    );
  const found = pictures.get(sha);
  if (!found) throw new Error('The picture that this reads is not kept here any more.');
  return found;
};

const sizeOfPicture = (sha: string): Size | null => {
  const found = pictures.get(sha);
  return found ? [found.width, found.height] : null;
};

const shown = ({ id, image, mistake }: MadeStep, whole: Size, holds: Holds): ShownStep => {
  const { width, height, note = null } = image;
  const { pixels, histogram, low, high, broken } = lookAt(image, holds);
  return { id, width, height, whole, pixels, histogram, mistake, note, range: [low, high], broken };
};

const make = async (data: Exclude<ToTextureMaker, { type: 'know' }>): Promise<void> => {
  const recipe = recipes.get(data.id);
  if (!recipe) return answer({ type: 'refused', ask: data.ask, why: 'There is no such texture.' });
  await bringFor(data.id);
  const began = performance.now();
  let told = 0;
  const sources = createSources(parts, pictureAt, (share) => {
    if (Math.abs(share - told) < 0.01) return;
    told = share;
    answer({ type: 'progress', ask: data.ask, share });
  });
  if (data.type === 'preview') {
    const sizes = sizesOf(data.id, recipes, sizeOfPicture);
    const scale = shareShown(sizes, data.longest);
    const wholeOf = (step: string): Size => sizes[recipe.steps.findIndex(({ id }) => id === step)]!;
    const before = sent.get(data.id);
    const isSent = (step: MadeStep): boolean =>
      before?.holds === data.holds && before.steps.get(step.id) === asSent(step);
    const maker = createMaker(recipes, sources, { known });
    const steps = maker.steps(data.id, scale, (made) => {
      if (made.id !== data.first || isSent(made)) return;
      const step = shown(made, wholeOf(made.id), data.holds);
      answer({ type: 'step', ask: data.ask, id: data.id, step }, [step.pixels.buffer]);
    });
    const last = steps.at(-1);
    sent.set(data.id, { holds: data.holds, steps: new Map(steps.map((each) => [each.id, asSent(each)])) });
    const made = steps.map((each) =>
      isSent(each) || each.id === data.first
        ? { id: each.id, isSame: true as const }
        : shown(each, wholeOf(each.id), data.holds),
    );
    return answer(
      { type: 'previewed', ask: data.ask, id: data.id, steps: made, seam: last ? seamOf(last.image) : null },
      made.flatMap((each) => ('pixels' in each ? [each.pixels.buffer] : [])),
    );
  }
  if (data.type === 'near') {
    const at = recipe.steps.findIndex(({ id }) => id === data.step);
    if (at < 0) return answer({ type: 'refused', ask: data.ask, why: 'There is no such step.' });
    const until = new Map([...recipes, [data.id, { ...recipe, steps: recipe.steps.slice(0, at + 1) }]]);
    const sizes = sizesOf(data.id, until, sizeOfPicture);
    const steps = createMaker(until, sources, { known }).steps(data.id, shareShown(sizes, data.longest));
    const step = shown(steps[at]!, sizes[at]!, data.holds);
    return answer({ type: 'step', ask: data.ask, id: data.id, step }, [step.pixels.buffer]);
  }
  // Whole ones are large: only what is being made is held.
  const made = encodePicture(createMaker(recipes, sources, { most: 0 }).rows(data.id), data, zlibSync);
  answer({ type: 'baked', ask: data.ask, ...made, milliseconds: performance.now() - began }, [
    made.file.buffer,
  ]);
};

self.onmessage = ({ data }: MessageEvent<ToTextureMaker>) => {
  if (data.type === 'know') {
    recipes = new Map(data.recipes);
    for (const id of sent.keys()) if (!recipes.has(id)) sent.delete(id);
    parts = data.parts;
    return;
  }
  make(data).catch((error: unknown) =>
    answer({ type: 'refused', ask: data.ask, why: (error as Error).message }),
  );
};
