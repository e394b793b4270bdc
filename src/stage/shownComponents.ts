import { costTap, VIEW_TAPS } from '#core/emit/glsl/fragmentStage.ts';
import { componentsOf } from '#core/program/types.ts';
import type { PropMaterial } from './scene/propMaterial.ts';
import type { View } from './stage.ts';

/** How many numbers a view shows of a value; 0 for the finished picture. */
export const shownComponents = (
  { tap, material }: View,
  programOf: (material: string) => PropMaterial | undefined,
): number => {
  if (tap === VIEW_TAPS.finished) return 0;
  if (tap === VIEW_TAPS.uv) return 2;
  if (tap < 0) return 3;
  const shown = material === null ? undefined : programOf(material)?.shader.program.taps[tap - 1];
  return shown ? Math.min(componentsOf(shown.value.type), 3) : 0;
};

/** The tap that a material shows in a view. */
export const tapOf = ({ tap, material, costs }: View, id: string): number =>
  tap === VIEW_TAPS.cost ? costTap(costs?.get(id) ?? 0) : material === null || material === id ? tap : 0;
