import { partsIn } from '../images/recipe.ts';
import { materialsOn } from './materialsOn.ts';
import { motifsIn } from './motif.ts';
import type { Part, PartOf } from './project.ts';

/** A set and everything it stands on: its materials and scripts, their shaders, the motifs in those, the shared values; and its takes. */
export const closureOf = <P extends Pick<Part, 'id' | 'kind' | 'body'>>(
  parts: readonly P[],
  set: string,
): readonly P[] => {
  const byId = new Map(parts.map((each) => [each.id, each]));
  const found = new Set<P>();
  const visit = (id: string | undefined): void => {
    const part = id === undefined ? undefined : byId.get(id);
    if (!part || found.has(part)) return;
    found.add(part);
    for (const needed of neededBy(part as unknown as Part)) visit(needed);
  };
  visit(set);
  const stage = byId.get(set) as PartOf<'stage'> | undefined;
  // A set that names no script plays the project’s first.
  if (stage?.body.script === undefined) visit(parts.find((each) => each.kind === 'script')?.id);
  for (const each of parts) {
    const body = each.body as Part['body'];
    if (each.kind === 'shared' || ('set' in body && body.set === set)) visit(each.id);
  }
  return parts.filter((each) => found.has(each));
};

const neededBy = (part: Part): readonly (string | undefined)[] => {
  switch (part.kind) {
    case 'stage':
      return [part.body.script, ...(part.body.alsoPlays ?? []), ...materialsOn(part.body)];
    case 'material':
      return [part.body.shader, ...Object.values(part.body.made ?? {})];
    case 'texture':
      return partsIn(part.body.steps);
    case 'shader':
    case 'motif':
      return [...motifsIn(part.body.strands)];
    default:
      return [];
  }
};
