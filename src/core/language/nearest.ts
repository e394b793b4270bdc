/** How many letters must be changed, added, dropped or swapped with a neighbour to get from `a` to `b`. */
export const editDistance = (a: string, b: string): number => {
  let before: number[] = [];
  let row = Array.from({ length: b.length + 1 }, (_, j) => j);
  for (let i = 1; i <= a.length; i += 1) {
    const next = [i];
    for (let j = 1; j <= b.length; j += 1) {
      const same = a[i - 1] === b[j - 1];
      let least = Math.min(row[j]! + 1, next[j - 1]! + 1, row[j - 1]! + (same ? 0 : 1));
      if (i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1])
        least = Math.min(least, before[j - 2]! + 1);
      next.push(least);
    }
    before = row;
    row = next;
  }
  return row[b.length]!;
};

/** The known name that was most likely meant, or null when none is close. */
export const nearestName = (wanted: string, known: Iterable<string>): string | null => {
  const limit = Math.max(1, Math.floor(wanted.length / 3)) + 0.5;
  let best: string | null = null;
  let least = limit;
  const lower = wanted.slice(0, 64).toLowerCase();
  for (const name of known) {
    const distance = name.toLowerCase() === lower ? 0.25 : editDistance(lower, name.toLowerCase());
    if (distance < least) {
      least = distance;
      best = name;
    }
  }
  return best;
};
