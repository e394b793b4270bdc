import { measureTap, type TapRange } from '#core/analyse/measureTap.ts';
import { paintTap } from '#core/images/paintTap.ts';
import type { Stage } from '#stage/createStage.ts';

/** A step's small picture and what its values reach. */
export interface StepPicture {
  readonly image: ImageData;
  readonly range: TapRange;
}

export const PICTURE_SIZE = 52;

/** Keeps the small pictures of steps up to date, one round at a time, no faster than they can be drawn. */
export const createPictures = () => {
  let pictures = $state.raw<ReadonlyMap<number, StepPicture>>(new Map());
  let stage: Stage | null = null;
  let wanted: { material: string; taps: readonly number[] } | null = null;
  let busy = false;
  let timer: ReturnType<typeof setTimeout> | null = null;

  const round = async () => {
    timer = null;
    if (busy || !stage || !wanted) return;
    busy = true;
    const asked = wanted;
    wanted = null;
    const began = performance.now();
    const drawn = await stage.pictures(asked.material, asked.taps, PICTURE_SIZE).catch(() => []);
    if (drawn.length)
      pictures = new Map(
        drawn.map(({ tap, components, rgba }) => [
          tap,
          {
            range: measureTap(rgba, components),
            image: new ImageData(paintTap(rgba, components, PICTURE_SIZE), PICTURE_SIZE, PICTURE_SIZE),
          },
        ]),
      );
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
    attach: (made: Stage | null) => {
      stage = made;
    },
    /** Asks for new pictures soon; many asks in a row are one round. */
    refresh: (material: string, taps: readonly number[], delay: number) => {
      wanted = { material, taps };
      later(delay);
    },
    clear: () => {
      pictures = new Map();
    },
  };
};

export type Pictures = ReturnType<typeof createPictures>;
