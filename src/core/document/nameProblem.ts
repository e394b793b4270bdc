/** Characters a name may have. */
export const MOST_NAME = 120;

/** A text cut to so many characters, never within one that is written in two. */
export const wholeLetters = (text: string, most: number): string =>
  text.length <= most ? text : text.slice(0, most).replace(/[\uD800-\uDBFF]$/, '');

/** What is wrong with the name of a project or a part, as the end of “a name should …”; null where nothing is. */
export const nameProblem = (name: string): string | null => {
  if (name.length > MOST_NAME) return `have at most ${MOST_NAME} characters`;
  if (!/[^\s\p{Cf}\p{Cc}]/u.test(name)) return 'have something in it that can be seen';
  if (/\p{Cc}/u.test(name)) return 'have no control characters';
  // Half of a pair, as of an emoji that was cut in two: no database and no file takes it.
  if (/\p{Cs}/u.test(name)) return 'have no half of a character that is written in two';
  return null;
};
