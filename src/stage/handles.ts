import type { PerspectiveCamera, Scene, WebGLRenderer } from 'three';
import type { OrbitControls } from 'three/addons/controls/OrbitControls.js';
import type { CutPlane } from './field/createField.ts';
import type { CutView } from './field/cutView.ts';
import type { createHand } from './hand.ts';
import type { Cut, Hand, StageEvents } from './stage.ts';

type Made = ReturnType<typeof createHand>;

/** What is dragged on a stage. Most stages hold nothing (a tile of the wall, a picture of a part): it is brought when it is. */
export const createHandles = (
  camera: PerspectiveCamera,
  canvas: HTMLCanvasElement,
  controls: OrbitControls,
  stands: Parameters<typeof createHand>[3],
  events: Pick<StageEvents, 'onPlaced' | 'onSettled' | 'onCut'> & { readonly invalidate: () => void },
) => {
  const { invalidate } = events;
  let disposed = false;
  let hand: Made | null = null;
  let held: Hand = { ids: [], mode: 'move', snap: false };
  let plane: CutView | null = null;
  let [isReaching, isCutting] = [false, false];
  const reach = async (): Promise<void> => {
    isReaching = true;
    const { createHand } = await import('./hand.ts');
    if (disposed) return;
    hand = createHand(camera, canvas, controls, stands, {
      onPlaced: (places) => events.onPlaced?.(places),
      onSettled: () => events.onSettled?.(),
      invalidate,
    });
    hand.set(held);
    canvas.dataset['hand'] = 'ready';
  };
  const bringPlane = async (): Promise<void> => {
    isCutting = true;
    const { createCutView } = await import('./field/cutView.ts');
    if (disposed) return;
    plane = createCutView(camera, canvas, controls, { onDragged: (at) => events.onCut?.(at), invalidate });
    invalidate();
  };
  let isCut = false;
  return {
    hold: (wanted: Hand): void => {
      held = wanted;
      if (hand) hand.set(wanted);
      else if (wanted.ids.length && !isReaching) void reach();
    },
    /** Places the plane of distances; null leaves it away. @returns what it is drawn from, once that is here */
    cut: (cut: Cut | null, made: CutPlane | null): Scene | null => {
      isCut = cut !== null && made !== null && plane !== null;
      plane?.setActive(isCut);
      if (cut && !isCutting) void bringPlane();
      if (!cut || !made || !plane) return null;
      plane.place(cut, made);
      return plane.scene;
    },
    follow: (): void => hand?.follow(),
    /** Whether the pointer is on a handle, or drags one. */
    isBusy: (): boolean => Boolean(hand?.isHeld || hand?.isDragging || (isCut && plane?.isHeld)),
    /** Draws them over the finished picture, onto the canvas. */
    draw: (renderer: WebGLRenderer): void => {
      hand?.draw(renderer, camera);
      if (isCut) plane?.drawHandle(renderer);
    },
    dispose: (): void => {
      disposed = true;
      hand?.dispose();
      plane?.dispose();
    },
  };
};
