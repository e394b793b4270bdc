/** A title that is not taken: the one wished for, or its stem with a number behind it. */
export const freeTitle = (wish: string, taken: ReadonlySet<string>): string => {
  const stem = wish.replace(/ \d+$/, '');
  let title = wish;
  for (let n = 2; taken.has(title); n += 1) title = `${stem} ${n}`;
  return title;
};
