import { measureTap, type TapRange } from '#core/taps/measureTap.ts';
import { paintTap } from '#core/taps/paintTap.ts';
import type { Stage } from '#stage/stage.ts';
import { createInSight } from '../parts/inSight.svelte.ts';

/** A step's small picture and what its values reach. */
export interface StepPicture {
  readonly image: ImageData;
  readonly range: TapRange;
}

export const PICTURE_SIZE = 52;

/** Rows this far beyond the edge of the score are drawn too, so that scrolling shows them at once. */
const BEYOND = '240px';

/** Keeps the small pictures of the steps in sight up to date, one round at a time, no faster than they can be drawn. */
export const createPictures = () => {
  let pictures = $state.raw<ReadonlyMap<string, StepPicture>>(new Map());
  const inSight = createInSight(BEYOND);
  let stage: Stage | null = null;
  let wanted: { material: string; of: string; keys: readonly string[] } | null = null;
  /** What the pictures are of. */
  let drawnOf = '';
  let busy = false;
  let timer: ReturnType<typeof setTimeout> | null = null;

  const round = async () => {
    timer = null;
    if (busy || !stage || !wanted) return;
    busy = true;
    const asked = wanted;
    wanted = null;
    const began = performance.now();
    const drawn = await stage.pictures(asked.material, asked.keys, PICTURE_SIZE).catch(() => []);
    // Another material may have come to be shown meanwhile: none is better than a neighbour's.
    if (drawn.length && drawnOf === asked.of) {
      const next = new Map(pictures);
      for (const { key, components, rgba } of drawn)
        next.set(key, {
          range: measureTap(rgba, components),
          image: new ImageData(paintTap(rgba, components, PICTURE_SIZE), PICTURE_SIZE, PICTURE_SIZE),
        });
      pictures = next;
    }
    busy = false;
    // Leave the page at least as much time as the pictures took.
    if (wanted) later(Math.max(60, performance.now() - began));
  };
  const later = (milliseconds: number) => {
    timer ??= setTimeout(() => void round(), milliseconds);
  };

  return {
    get all() {
      return pictures;
    },
    /** The strands whose rows can be seen. */
    get inSight() {
      return inSight.ids;
    },
    watch: inSight.watch,
    attach: (made: Stage | null) => {
      stage = made;
    },
    /** Asks for new pictures soon, by the keys of their steps; many asks in a row are one round. `of` is the score shown. */
    refresh: (material: string, of: string, keys: readonly string[], delay: number) => {
      const now = `${material} ${of}`;
      if (drawnOf !== now) pictures = new Map();
      drawnOf = now;
      wanted = { material, of: now, keys };
      later(delay);
    },
    clear: () => {
      pictures = new Map();
    },
  };
};

export type Pictures = ReturnType<typeof createPictures>;
