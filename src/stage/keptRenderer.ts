import { WebGLRenderer } from 'three';

/** What keeps a program linked as long as it is not disposed of. */
export interface Holder {
  readonly dispose: () => void;
}
/** A renderer, on a canvas of its own, and what still holds the programs of who had it before. */
export interface Kept {
  readonly renderer: WebGLRenderer;
  readonly held: readonly Holder[];
}

/** The one that was left last, if it was not taken up again. */
let left: Kept | null = null;

const end = ({ renderer }: Kept): void => {
  renderer.dispose();
  // A browser has few contexts, and would take the oldest away: the one that is looked at.
  renderer.forceContextLoss();
};

/**
 * A renderer to draw with: the one that the last stage left, so that programs which both have are not linked again;
 * dispose of what is held once the new stage has its own.
 * @throws Error where the browser has no WebGL 2
 */
export const takeRenderer = (): Kept => {
  const taken = left;
  left = null;
  if (taken && !taken.renderer.getContext().isContextLost()) return taken;
  if (taken) end(taken);
  const canvas = document.createElement('canvas');
  return {
    renderer: new WebGLRenderer({ canvas, antialias: false, alpha: false, preserveDrawingBuffer: true }),
    held: [],
  };
};

/** Leaves a renderer for the next stage: nothing of this one is on its canvas, or said by it, any more. */
export const leaveRenderer = (kept: Kept): void => {
  const { renderer } = kept;
  const canvas = renderer.domElement;
  canvas.remove();
  for (const name of canvas.getAttributeNames()) canvas.removeAttribute(name);
  renderer.setRenderTarget(null);
  renderer.setClearColor(0, 1);
  renderer.setPixelRatio(1);
  renderer.setSize(1, 1, false);
  renderer.renderLists.dispose();
  if (left) end(left);
  left = kept;
};
