import type { Prop } from '../document/project.ts';
import { requirementsOf } from './requirements.ts';
import type { Subject } from './scene.ts';

/**
 * The props of a set that ask how far the nearest surface is. Of those that are alike a subject names one alone; all that
 * wear its material ask.
 */
export const propsAsking = (subjects: readonly Subject[], props: readonly Prop[]): readonly Prop[] => {
  const materials = new Set(
    subjects.flatMap(({ program, worn }) =>
      requirementsOf(program).includes('surfaceDistance') ? worn.map(({ material }) => material?.id) : [],
    ),
  );
  return props.filter(({ hidden, material }) => !hidden && materials.has(material));
};
