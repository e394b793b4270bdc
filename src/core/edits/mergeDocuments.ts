type Json = unknown;
type Fields = Readonly<Record<string, Json>>;
interface Item extends Fields {
  readonly id: string;
}

/** A merge of two documents, or the places that both changed, each in its own way. */
export type Merged<T> = { readonly merged: T } | { readonly conflicts: readonly string[] };

/** Stands for a field or an item that is not there. */
const NONE = Symbol('none');
type Value = Json | typeof NONE;

const isFields = (value: Value): value is Fields =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
const isItems = (value: Value): value is readonly Item[] =>
  Array.isArray(value) &&
  value.every((each) => isFields(each) && typeof each['id'] === 'string') &&
  new Set((value as readonly Item[]).map(({ id }) => id)).size === value.length;

/** Equal as JSON, in whatever order fields are written. */
const isSame = (a: Value, b: Value): boolean => {
  if (Object.is(a, b)) return true;
  if (Array.isArray(a) && Array.isArray(b))
    return a.length === b.length && a.every((each, i) => isSame(each, b[i]));
  if (!isFields(a) || !isFields(b)) return false;
  const keys = Object.keys(a);
  return (
    keys.length === Object.keys(b).length &&
    keys.every((key) => Object.hasOwn(b, key) && isSame(a[key], b[key]))
  );
};
const at = (fields: Fields, key: string): Value => (Object.hasOwn(fields, key) ? fields[key] : NONE);

/** The order of the items that both sides have: that of the side that moved them; null where both did, each otherwise. */
const orderOf = (base: readonly string[], mine: readonly string[], theirs: readonly string[]) => {
  const [own, other] = [new Set(mine), new Set(theirs)];
  const common = new Set(base.filter((id) => own.has(id) && other.has(id)));
  const [was, here, there] = [base, mine, theirs].map((ids) => ids.filter((id) => common.has(id)).join('\n'));
  if (here === was || here === there) return { leading: theirs, added: mine };
  return there === was ? { leading: mine, added: theirs } : null;
};

/**
 * Merges two documents that were changed since they were the same, field by field; items of lists are matched by their ids.
 * @returns the merged document, or the paths that both changed, each otherwise
 */
export const mergeDocuments = <T>(base: T, mine: T, theirs: T): Merged<T> => {
  const conflicts: string[] = [];

  const mergeItems = (
    was: readonly Item[],
    here: readonly Item[],
    there: readonly Item[],
    path: string,
  ): Json => {
    const byId = [was, here, there].map((items) => new Map(items.map((each) => [each.id, each])));
    const [before, own, other] = byId as [Map<string, Item>, Map<string, Item>, Map<string, Item>];
    const order = orderOf(
      ...([before, own, other].map((each) => [...each.keys()]) as [string[], string[], string[]]),
    );
    if (!order) {
      conflicts.push(path);
      return there;
    }
    // What only the other side added goes after the item it was put behind.
    const leading = new Set(order.leading);
    const behind = new Map<string | null, string[]>();
    let last: string | null = null;
    for (const id of order.added) {
      if (leading.has(id)) last = id;
      else {
        const row = behind.get(last) ?? [];
        row.push(id);
        behind.set(last, row);
      }
    }
    const ids = [null, ...order.leading].flatMap((id) => [
      ...(id === null ? [] : [id]),
      ...(behind.get(id) ?? []),
    ]);
    return ids.flatMap((id) => {
      const item = merge(
        before.get(id) ?? NONE,
        own.get(id) ?? NONE,
        other.get(id) ?? NONE,
        `${path}[${id}]`,
      );
      return item === NONE ? [] : [item];
    });
  };

  const merge = (was: Value, here: Value, there: Value, path: string): Value => {
    if (isSame(here, there) || isSame(was, here)) return there;
    if (isSame(was, there)) return here;
    if (isItems(was) && isItems(here) && isItems(there)) return mergeItems(was, here, there, path);
    if (isFields(was) && isFields(here) && isFields(there)) {
      const keys = new Set([...Object.keys(there), ...Object.keys(here)]);
      const inner = [...keys].flatMap((key) => {
        const value = merge(at(was, key), at(here, key), at(there, key), path ? `${path}.${key}` : key);
        return value === NONE ? [] : [[key, value] as const];
      });
      return Object.fromEntries(inner);
    }
    conflicts.push(path);
    return there;
  };

  const merged = merge(base, mine, theirs, '');
  return conflicts.length ? { conflicts } : { merged: merged as T };
};
