import { INPUTS, type InputName } from '../program/inputs.ts';
import { reachable, type Value } from '../program/value.ts';

/** What only the stage's own passes know. */
const OF_THE_SCENE: ReadonlySet<string> = new Set<InputName>([
  'sceneDepthMap',
  'sceneColorMap',
  'surfaceDistance',
]);

/** Whether a value reads what lies behind its surface, which is there only while that is drawn. */
export const readsBehind = (value: Value): boolean =>
  reachable([value]).some(
    ({ op, payload }) => op === 'input' && (payload === 'sceneDepthMap' || payload === 'sceneColorMap'),
  );

/**
 * Whether the columns lack something that a value reads, as a sentence.
 * @param knowsNear whether they are told what stands near
 */
export const lackOf = (value: Value, knowsNear = false): string | null => {
  const found = reachable([value]).find(
    ({ op, payload }) =>
      op === 'input' &&
      OF_THE_SCENE.has(payload as string) &&
      !(knowsNear && payload === ('surfaceDistance' satisfies InputName)),
  );
  return found
    ? `It reads what only the picture knows: ${INPUTS[found.payload as InputName].summary.toLowerCase()}`
    : null;
};
