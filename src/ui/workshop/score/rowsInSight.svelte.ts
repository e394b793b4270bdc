import { SvelteSet } from 'svelte/reactivity';

/** Rows this far beyond the edge of the score are in the page too, so that scrolling finds them there. */
const BEYOND = '200px';

/**
 * What is known of the rows of a long score: those near what can be seen, and how tall the others were when last there.
 * A row that comes near is let in in a frame of its own, so that scrolling never waits for more than one.
 * @param first what is near before anything has been looked at
 */
export const createRowsInSight = (first: readonly string[]) => {
  const near = new SvelteSet<string>(first);
  const coming = new Set<string>();
  let frame = 0;
  const letIn = () => {
    frame = 0;
    for (const row of coming) {
      coming.delete(row);
      near.add(row);
      break;
    }
    if (coming.size) frame = requestAnimationFrame(letIn);
  };
  const heights = new Map<string, number>();
  const rows = new Map<Element, string>();
  let observer: IntersectionObserver | null = null;
  const look = (entries: readonly IntersectionObserverEntry[]) => {
    for (const { target, isIntersecting, boundingClientRect } of entries) {
      const row = rows.get(target);
      if (row === undefined) continue;
      if (isIntersecting && !near.has(row)) coming.add(row);
      else if (!isIntersecting) {
        coming.delete(row);
        if (near.has(row)) heights.set(row, boundingClientRect.height);
        near.delete(row);
      }
    }
    if (coming.size) frame ||= requestAnimationFrame(letIn);
  };
  // The rows scroll inside the score: a margin about the window alone would not reach them.
  const about: IntersectionObserverInit & { scrollMargin: string } = {
    rootMargin: BEYOND,
    scrollMargin: BEYOND,
  };
  return {
    isNear: (row: string): boolean => near.has(row),
    /** How tall a row was when it left, in pixels; null for one that was never there. */
    heightOf: (row: string): number | null => heights.get(row) ?? null,
    watch: (element: Element, row: string) => {
      observer ??= new IntersectionObserver(look, about);
      rows.set(element, row);
      observer.observe(element);
      return () => {
        observer?.unobserve(element);
        rows.delete(element);
        coming.delete(row);
        near.delete(row);
      };
    },
  };
};
