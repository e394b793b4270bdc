import { requirementsOf } from '#core/analyse/requirements.ts';
import { REQUIREMENT_NAMES, type Requirement } from '#core/program/inputs.ts';
import type { Program } from '#core/program/value.ts';

/** What of a game’s the stage draws itself. */
const GIVEN: ReadonlySet<Requirement> = new Set([
  ...(['sceneDepth', 'sceneColor', 'sceneLevels', 'surfaceDistance'] as const),
]);

/** What a shader asks of a game that the stage does not give, as a sentence; null where that is nothing. */
export const wantsOf = (program: Program): string | null => {
  const needed = requirementsOf(program).filter((each) => !GIVEN.has(each));
  return needed.length
    ? `Needs ${needed.map((each) => REQUIREMENT_NAMES[each]).join(' and ')} of the game; the stage stands in with nothing near.`
    : null;
};
