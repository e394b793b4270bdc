import { nameProblem } from '../language/names/reserved.ts';
import { OPERATOR_NAMES } from '../operators/catalogue.ts';

/**
 * A free name that can stand in a shader, near to the one wished for.
 * @param used names that stand in the source: one that is changed must not come to be another of them
 */
export const freeName = (
  wish: string,
  taken: ReadonlySet<string>,
  used: ReadonlySet<string> = new Set(),
): string => {
  const plain = wish
    .replace(/^(v|a)_?(?=[A-Za-z])/, (prefix) => (prefix.endsWith('_') ? '' : prefix))
    .replace(/__+/g, '_')
    .replace(/[^A-Za-z0-9_]/g, '');
  // A name that will do is kept: whoever sets it from outside knows it by that.
  const base = nameProblem(wish, OPERATOR_NAMES) ? plain || 'value' : wish;
  for (let n = 1; ; n += 1) {
    const name = n === 1 ? base : `${base}${n}`;
    const free = !taken.has(name) && (name === wish || !used.has(name));
    if (free && !nameProblem(name, OPERATOR_NAMES)) return name;
    if (n > 999) return `${base}_${taken.size}`;
  }
};
