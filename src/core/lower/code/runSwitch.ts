import { coerce } from '../expression/conversions.ts';
import { flagOf, fork, or, type Flag, type State } from './flow.ts';
import { fail } from '../../language/mistake.ts';
import type { Runner, ScopeChain } from './runner.ts';
import type { Switch } from '../../language/glsl/syntax.ts';

/**
 * Runs a switch: a section is entered where one of its labels is met, or where the section before it runs on into it;
 * `default` is met where no label is, wherever it stands.
 */
export const runSwitch = (
  { b, evaluate, runAll }: Runner,
  { selector, sections }: Switch,
  state: State,
  scope: ScopeChain,
): void => {
  const chosen = evaluate(selector, state, scope);
  if (chosen.type !== 'int' && chosen.type !== 'uint')
    return fail(selector, 'What a switch looks at is a whole number.');
  const isMet = (labels: Switch['sections'][number]['labels']): Flag =>
    labels.reduce<Flag>((met, label) => {
      if (!label) return met;
      const value = coerce(b, evaluate(label, state, scope), chosen.type, label, 'A label');
      return or(b, met, flagOf(b.equal(chosen.parts[0]!, value.parts[0]!)));
    }, false);
  const met = sections.map(({ labels }) => isMet(labels));
  const any = met.reduce<Flag>((some, each) => or(b, some, each), false);
  const none: Flag = typeof any === 'boolean' ? !any : b.not(any);
  const inner = [...scope, new Map()];
  let entered: Flag = false;
  sections.forEach(({ labels, body }, i) => {
    entered = or(b, entered, labels.includes(null) ? or(b, met[i]!, none) : met[i]!);
    if (entered === false) return;
    if (entered === true) return runAll(body, state, inner);
    fork(
      b,
      entered,
      state,
      (then) => runAll(body, then, inner),
      () => {},
    );
  });
  state.broken = false;
};
