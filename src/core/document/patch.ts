/**
 * One change to a JSON document, as in RFC 6902 but with the path already split. In a list, `add` inserts before
 * the index and `remove` closes the gap.
 */
export type Patch =
  | { readonly op: 'add' | 'replace'; readonly path: readonly (string | number)[]; readonly value: unknown }
  | { readonly op: 'remove'; readonly path: readonly (string | number)[] };

/** Something the author did: what undo, saving and conflicts are made of. */
export interface Edit {
  /** As a menu would say it: “Move step”. */
  readonly label: string;
  /** The part it changes. */
  readonly part: string;
  readonly patches: readonly Patch[];
  /** Edits in a row with the same mark undo as one: a number being dragged. */
  readonly merge?: string;
}

type Container = unknown[] | Record<string, unknown>;

const describe = (path: readonly (string | number)[]): string => path.join('/') || 'the document';

const applyOne = <T>(document: T, patch: Patch): { document: T; inverse: Patch } => {
  const { path } = patch;
  if (!path.length) {
    if (patch.op === 'remove') throw new Error('A document cannot be removed from itself.');
    return { document: patch.value as T, inverse: { op: 'replace', path, value: document } };
  }
  // Copies only what lies along the path, so that everything else stays the same object.
  const root: Container = copyOf(document, path);
  let at: Container = root;
  for (const key of path.slice(0, -1)) {
    const inner = copyOf((at as Record<string | number, unknown>)[key], path);
    (at as Record<string | number, unknown>)[key] = inner;
    at = inner;
  }
  return { document: root as T, inverse: change(at, patch, path[path.length - 1]!) };
};

const change = (at: Container, patch: Patch, key: string | number): Patch => {
  const { path } = patch;
  if (Array.isArray(at)) {
    if (typeof key !== 'number' || key < 0 || key > at.length || (patch.op !== 'add' && key >= at.length))
      throw new Error(`There is nothing at ${describe(path)}.`);
    if (patch.op === 'add') {
      at.splice(key, 0, patch.value);
      return { op: 'remove', path };
    }
    const before = at[key];
    if (patch.op === 'remove') {
      at.splice(key, 1);
      return { op: 'add', path, value: before };
    }
    at[key] = patch.value;
    return { op: 'replace', path, value: before };
  }
  if (key === '__proto__') throw new Error('A document has no field of that name.');
  const had = Object.hasOwn(at, key);
  if (!had && patch.op !== 'add') throw new Error(`There is nothing at ${describe(path)}.`);
  const before = at[key];
  if (patch.op === 'remove') Reflect.deleteProperty(at, key);
  else at[key] = patch.value;
  return had
    ? { op: patch.op === 'remove' ? 'add' : 'replace', path, value: before }
    : { op: 'remove', path };
};

const copyOf = (value: unknown, path: readonly (string | number)[]): Container => {
  if (Array.isArray(value)) return [...(value as unknown[])];
  if (typeof value === 'object' && value !== null) return { ...(value as Record<string, unknown>) };
  throw new Error(`There is nothing at ${describe(path)}.`);
};

/**
 * Applies patches in order, and gives back those that undo them. The given document is left as it was.
 * @throws Error when a path leads nowhere
 */
export const applyPatches = <T>(
  document: T,
  patches: readonly Patch[],
): { readonly document: T; readonly inverse: readonly Patch[] } => {
  const inverse: Patch[] = [];
  let changed = document;
  for (const patch of patches) {
    const done = applyOne(changed, patch);
    changed = done.document;
    inverse.unshift(done.inverse);
  }
  return { document: changed, inverse };
};
