import { partsIn } from '../images/recipe.ts';
import { motifsIn } from './motif.ts';
import { materialsOn } from './materialsOn.ts';
import type { Part } from './project.ts';

/** The parts that would not mean anything any more without a part, by name: who uses a motif, a shader, a material, a script. */
export const usersOf = (parts: readonly Part[], id: string): string[] =>
  parts.flatMap((part) => {
    switch (part.kind) {
      case 'shader':
      case 'motif':
        return motifsIn(part.body.strands).has(id) ? [part.name] : [];
      case 'material':
        return part.body.shader === id || Object.values(part.body.made ?? {}).includes(id) ? [part.name] : [];
      case 'texture':
        return partsIn(part.body.steps).includes(id) ? [part.name] : [];
      case 'stage':
        return [part.body.script, ...(part.body.alsoPlays ?? [])].includes(id) ||
          materialsOn(part.body).has(id)
          ? [part.name]
          : [];
      default:
        return [];
    }
  });
