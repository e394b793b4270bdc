import type { Part } from '../document/project.ts';
import { applyPatches, type Patch } from '../document/patch.ts';

/** What is done to one part of a project. */
export type PartChange =
  | { readonly op: 'add'; readonly part: Part }
  | { readonly op: 'delete'; readonly id: string }
  | {
      readonly op: 'change';
      readonly id: string;
      /** What it is called from now on, where that changes. */
      readonly name?: string;
      readonly patches: readonly Patch[];
    };

export const partOfChange = (change: PartChange): string =>
  change.op === 'add' ? change.part.id : change.id;

/**
 * Does a list of changes, one after another.
 * @returns the parts afterwards, and the changes that lead back
 * @throws Error where a part that is to change is not there, or one that is to be added is
 */
export const changeParts = (
  parts: ReadonlyMap<string, Part>,
  changes: readonly PartChange[],
): { readonly parts: ReadonlyMap<string, Part>; readonly back: readonly PartChange[] } => {
  const made = new Map(parts);
  const back: PartChange[] = [];
  for (const change of changes) {
    const id = partOfChange(change);
    const part = made.get(id);
    if (change.op === 'add') {
      if (part) throw new Error(`There is a part “${id}” already.`);
      made.set(id, change.part);
      back.unshift({ op: 'delete', id });
      continue;
    }
    if (!part) throw new Error(`There is no part “${id}” any more.`);
    if (change.op === 'delete') {
      made.delete(id);
      back.unshift({ op: 'add', part });
      continue;
    }
    const { document, inverse } = applyPatches<unknown>(part.body, change.patches);
    made.set(id, { ...part, name: change.name ?? part.name, body: document } as Part);
    back.unshift({
      ...{ op: 'change', id, patches: inverse },
      ...(change.name === undefined ? {} : { name: part.name }),
    });
  }
  return { parts: made, back };
};
