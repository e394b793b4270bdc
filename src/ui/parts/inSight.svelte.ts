/**
 * Follows which rows can be seen, by their ids.
 * @param beyond how far beyond the edge of what scrolls rows count as seen too, as CSS, so that scrolling shows them at once
 */
export const createInSight = (beyond: string) => {
  let ids = $state.raw<ReadonlySet<string>>(new Set());
  let observer: IntersectionObserver | null = null;
  const rows = new Map<Element, string>();
  const look = (entries: readonly IntersectionObserverEntry[]) => {
    const now = new Set(ids);
    for (const { target, isIntersecting } of entries) {
      const id = rows.get(target);
      if (id === undefined) continue;
      if (isIntersecting) now.add(id);
      else now.delete(id);
    }
    ids = now;
  };
  // Rows scroll inside a pane: a margin about the window alone would not reach them.
  const about: IntersectionObserverInit & { scrollMargin: string } = {
    rootMargin: beyond,
    scrollMargin: beyond,
  };
  return {
    get ids() {
      return ids;
    },
    /** Follows whether a row can be seen; gives back how to stop. */
    watch: (row: Element, id: string) => {
      observer ??= new IntersectionObserver(look, about);
      rows.set(row, id);
      observer.observe(row);
      return () => {
        observer?.unobserve(row);
        rows.delete(row);
        const now = new Set(ids);
        now.delete(id);
        ids = now;
      };
    },
  };
};
