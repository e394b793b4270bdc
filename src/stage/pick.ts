import {
  Color,
  Vector3,
  WebGLRenderTarget,
  type PerspectiveCamera,
  type Scene,
  type WebGLRenderer,
} from 'three';
import type { PlacedProp } from './scene/props.ts';

const blends = ({ object }: PlacedProp): boolean =>
  (Array.isArray(object.material) ? object.material : [object.material]).some((each) => each.transparent);

/** As a frame is drawn: what blends comes last, from far to near, so that its clear places hide nothing. */
const inOrder =
  ({ position }: PerspectiveCamera) =>
  (a: PlacedProp, b: PlacedProp): number => {
    const [first, second] = [blends(a), blends(b)];
    if (first !== second) return first ? 1 : -1;
    const away = ({ object }: PlacedProp) =>
      new Vector3().setFromMatrixPosition(object.matrixWorld).distanceToSquared(position);
    return first ? away(b) - away(a) : 0;
  };

/**
 * Finds the prop that is seen at a pixel by drawing each alone into that pixel over one depth buffer: the last that
 * leaves a mark is in front. So what a vertex offset moves is picked where it is, and a hole in a cut-out is a hole.
 */
export const createPicker = (renderer: WebGLRenderer) => {
  const target = new WebGLRenderTarget(1, 1);
  const texel = new Uint8Array(4);
  const before = new Color();
  return {
    /** @param x, y in pixels of a picture `width` by `height`, from its upper left */
    pick: (
      scene: Scene,
      camera: PerspectiveCamera,
      props: readonly PlacedProp[],
      [x, y, width, height]: readonly [x: number, y: number, width: number, height: number],
    ): string | null => {
      const shown = props.map((each) => each.object.visible);
      renderer.getClearColor(before);
      const alpha = renderer.getClearAlpha();
      camera.setViewOffset(width, height, x, y, 1, 1);
      renderer.setRenderTarget(target);
      renderer.setClearColor(0, 0);
      renderer.clear(true, true, false);
      let found: string | null = null;
      for (const each of props) each.object.visible = false;
      for (const each of [...props].sort(inOrder(camera))) {
        if (each.hidden || each.locked) continue;
        each.object.visible = true;
        renderer.clear(true, false, false);
        renderer.render(scene, camera);
        each.object.visible = false;
        renderer.readRenderTargetPixels(target, 0, 0, 1, 1, texel);
        if (texel.some((channel) => channel > 0)) found = each.id;
      }
      props.forEach((each, i) => (each.object.visible = shown[i]!));
      camera.clearViewOffset();
      renderer.setRenderTarget(null);
      renderer.setClearColor(before, alpha);
      return found;
    },
    dispose: (): void => target.dispose(),
  };
};
