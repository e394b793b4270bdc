/** Something that is drawn, as far as its turn depends on it. */
export interface Drawn<T> {
  readonly item: T;
  readonly blends: boolean;
  /** What of the frame behind it it reads. */
  readonly asks: 'color' | 'depth' | null;
  /** False where it is to be left out of what others read behind them. */
  readonly isCopied: boolean;
  /** The author's own: what has less is drawn before. */
  readonly order?: number;
  /** Its distance from the camera, or anything that grows with it. */
  readonly away: number;
}

/** Things that are drawn at one go. */
export interface Group<T> {
  readonly items: readonly T[];
  readonly asks: 'color' | 'depth' | false;
  /** The frame has changed since it was last copied. */
  readonly isStale: boolean;
}

/**
 * The order a frame is drawn in: first what neither blends nor asks; then, by the author's own order and from far to near, the rest, where each that
 * asks for the frame behind it has a turn of its own. What is not to be copied is drawn after the first that asks has
 * its copy, unless nobody asks.
 */
export const drawGroups = <T>(drawn: readonly Drawn<T>[]): readonly Group<T>[] => {
  const someone = drawn.some((each) => each.asks);
  const late = (each: Drawn<T>): boolean => each.blends || each.asks !== null;
  const first = drawn.filter((each) => !late(each) && (each.isCopied || !someone));
  const kept = drawn.filter((each) => !late(each) && !each.isCopied && someone);
  const rest = drawn.filter(late).sort((a, b) => (a.order ?? 0) - (b.order ?? 0) || b.away - a.away);
  const groups: { items: T[]; asks: 'color' | 'depth' | false; isStale: boolean }[] = [];
  if (first.length) groups.push({ items: first.map((each) => each.item), asks: false, isStale: true });
  let isStale = true;
  for (const each of rest) {
    const last = groups.at(-1);
    if (!each.asks && last && !last.asks) last.items.push(each.item);
    else
      groups.push({ items: [each.item], asks: each.asks ?? false, isStale: each.asks !== null && isStale });
    // Depth stays as it was where only what blends was drawn; light does not.
    if (each.asks) isStale = false;
    if (each.asks === 'color' || !each.asks) isStale = true;
  }
  if (kept.length) groups.push({ items: kept.map((each) => each.item), asks: false, isStale: false });
  return groups;
};
