/** A moment as people write it, in their own zone and language: “25 Nov 2026, 14:05”. */
export const whenOf = (iso: string, seconds = false): string =>
  new Intl.DateTimeFormat(undefined, { dateStyle: 'medium', timeStyle: seconds ? 'medium' : 'short' }).format(
    new Date(iso),
  );
