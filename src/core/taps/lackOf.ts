import { INPUTS, type InputName } from '../program/inputs.ts';
import { reachable, type Value } from '../program/value.ts';

/** What only the stage's own passes know. */
const OF_THE_SCENE: ReadonlySet<string> = new Set<InputName>([
  'sceneDepthMap',
  'sceneColorMap',
  'surfaceDistance',
]);

/** Whether the columns lack something that a value reads, as a sentence. */
export const lackOf = (value: Value): string | null => {
  const found = reachable([value]).find(
    ({ op, payload }) => op === 'input' && OF_THE_SCENE.has(payload as string),
  );
  return found
    ? `It reads what only the picture knows: ${INPUTS[found.payload as InputName].summary.toLowerCase()}`
    : null;
};
