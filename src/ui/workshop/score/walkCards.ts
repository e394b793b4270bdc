interface Row {
  readonly steps: readonly { readonly id: string }[];
}

/**
 * The card that a key leads to from another: beside it, at an end of its strand, or at the same place in the strand
 * above or below that has any.
 * @param strands those that show their cards
 * @returns null where there is none
 */
export const walkCards = (strands: readonly Row[], from: string, key: string): string | null => {
  const rows = strands.map(({ steps }) => steps.map(({ id }) => id)).filter((ids) => ids.length > 0);
  const row = rows.findIndex((ids) => ids.includes(from));
  const own = rows[row] ?? [];
  const at = own.indexOf(from);
  const beyond = (way: -1 | 1): string | undefined => {
    const ids = rows[row + way] ?? [];
    return ids[Math.min(at, ids.length - 1)];
  };
  switch (key) {
    case 'ArrowLeft':
      return own[at - 1] ?? null;
    case 'ArrowRight':
      return own[at + 1] ?? null;
    case 'Home':
      return own[0] ?? null;
    case 'End':
      return own.at(-1) ?? null;
    case 'ArrowUp':
      return beyond(-1) ?? null;
    case 'ArrowDown':
      return beyond(1) ?? null;
    default:
      return null;
  }
};
