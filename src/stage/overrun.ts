/** A program that is drawn for so long without trouble is not what the graphics card gave up over. */
const PROBATION_MS = 10_000;

/**
 * Finds the material that the graphics card most likely gave up over, and keeps it from being drawn until its source
 * is another: the one whose program took the place of another last, if that is not long ago.
 */
export const createOverrun = (now: () => number = () => performance.now()) => {
  let last: { readonly id: string; readonly source: string; readonly at: number } | null = null;
  /** What is not drawn, with the source that it is not drawn for. */
  const muted = new Map<string, string>();
  return {
    /**
     * A material is drawn by a program of some source from now on; `isFirst` where it had none before.
     * @returns whether it was muted until now
     */
    changed: (id: string, source: string, isFirst: boolean): boolean => {
      if (!isFirst) last = { id, source, at: now() };
      return muted.has(id) && muted.get(id) !== source && muted.delete(id);
    },
    /** The graphics card gave up. @returns whether a material is muted for it */
    lost: (): boolean => {
      if (!last || now() - last.at > PROBATION_MS) return false;
      muted.set(last.id, last.source);
      last = null;
      return true;
    },
    isMuted: (id: string): boolean => muted.has(id),
    muted: (): readonly string[] => [...muted.keys()],
  };
};
