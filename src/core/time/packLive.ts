import { prepare } from '../evaluate/columns/evaluate.ts';
import type { Points } from '../evaluate/points/points.ts';
import type { LiveLayout } from '../emit/glsl/liveLayout.ts';

/** The numbers that live source reads as uniforms. */
export interface LiveNumbers {
  readonly floats: Float32Array;
  readonly ints: Int32Array;
}

/**
 * Prepares what is done each frame: compute everything that is the same at every point, and put it where the shader
 * reads it. The arrays returned are the same ones every time.
 */
export const prepareLive = (
  layout: LiveLayout,
): ((given: Omit<Points, 'count' | 'quads'>) => LiveNumbers) => {
  const compute = prepare(layout.slots.map((slot) => slot.value));
  const floats = new Float32Array(layout.floats * 4);
  const ints = new Int32Array(layout.ints * 4);
  return (given) => {
    compute({ ...given, count: 1 }).forEach((column, i) => {
      const { array, place } = layout.slots[i]!;
      const into = array === 'live' ? floats : ints;
      for (let c = 0; c < place.size; c += 1) into[place.slot * 4 + place.offset + c] = column.data[c]!;
    });
    return { floats, ints };
  };
};
