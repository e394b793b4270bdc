import { reachable, rootsOf, type Program } from '#core/program/value.ts';

const known = new WeakMap<Program, boolean>();

/** Whether anything that a program computes follows the time. */
export const readsTime = (program: Program): boolean => {
  const found =
    known.get(program) ??
    reachable(rootsOf(program)).some(
      ({ op, payload }) => op === 'input' && (payload === 'time' || payload === 'timeStep'),
    );
  known.set(program, found);
  return found;
};
