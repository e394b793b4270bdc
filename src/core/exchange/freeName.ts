import { nameProblem } from '../language/reserved.ts';
import { OPERATOR_NAMES } from '../operators/catalogue.ts';

/** A free name that can stand in a shader, near to the one wished for. */
export const freeName = (wish: string, taken: ReadonlySet<string>): string => {
  const base =
    wish
      .replace(/^(v|a|u)_?(?=[A-Za-z])/, (prefix) => (prefix.endsWith('_') ? '' : prefix))
      .replace(/__+/g, '_')
      .replace(/[^A-Za-z0-9_]/g, '') || 'value';
  for (let n = 1; ; n += 1) {
    const name = n === 1 ? base : `${base}${n}`;
    if (!taken.has(name) && !nameProblem(name, OPERATOR_NAMES)) return name;
    if (n > 999) return `${base}_${taken.size}`;
  }
};
