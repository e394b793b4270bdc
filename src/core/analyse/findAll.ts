import type { Silence } from '../document/silenced.ts';
import { beyondHalf } from './checks/beyondHalf.ts';
import { brightWithoutBloom } from './checks/brightWithoutBloom.ts';
import { coarseMesh } from './checks/coarseMesh.ts';
import { drivenTwice } from './checks/drivenTwice.ts';
import { idleCues } from './checks/idleCues.ts';
import { missingScene } from './checks/missingScene.ts';
import { mixedNormals } from './checks/mixedNormals.ts';
import { negativePower } from './checks/negativePower.ts';
import { notANumber } from './checks/notANumber.ts';
import { numbersAsColours } from './checks/numbersAsColours.ts';
import { openMesh } from './checks/openMesh.ts';
import { overBudget } from './checks/overBudget.ts';
import { ownDistance } from './checks/ownDistance.ts';
import { scriptNames } from './checks/scriptNames.ts';
import { steppedDistortion } from './checks/steppedDistortion.ts';
import { textureUse } from './checks/textureUse.ts';
import { timePrecision } from './checks/timePrecision.ts';
import { toneMappedTwice } from './checks/toneMappedTwice.ts';
import { tooManyTextures } from './checks/tooManyTextures.ts';
import { unclampedOpacity } from './checks/unclampedOpacity.ts';
import { untiledPicture } from './checks/untiledPicture.ts';
import { unusedNames } from './checks/unusedNames.ts';
import { zeroDivisor } from './checks/zeroDivisor.ts';
import { keyOf, type Check, type Finding, type Scene } from './scene.ts';

/** Every check there is: a file each, and a name here; what spoils the picture first. */
export const CHECKS: readonly Check[] = [
  ...[notANumber, zeroDivisor, negativePower, unclampedOpacity, scriptNames, missingScene],
  ...[
    numbersAsColours,
    mixedNormals,
    toneMappedTwice,
    untiledPicture,
    steppedDistortion,
    textureUse,
    beyondHalf,
  ],
  ...[
    idleCues,
    drivenTwice,
    coarseMesh,
    ownDistance,
    openMesh,
    brightWithoutBloom,
    timePrecision,
    tooManyTextures,
    overBudget,
    unusedNames,
  ],
];

/** Where what is said of a part is answered: scripts have no place for it, their set has. */
export const answeredIn = ({ set, scripts }: Pick<Scene, 'set' | 'scripts'>, part: string): string =>
  set && scripts.some((each) => each.part.id === part) ? set.id : part;

/**
 * All that the checks find, what an author has answered with the note.
 * @param of only the checks of this; all where it is not told
 */
export const findAll = (scene: Scene, of?: Check['of']): readonly Finding[] => {
  const silenced = new Map<string, readonly Silence[]>();
  for (const { shader } of scene.subjects) silenced.set(shader.id, shader.body.silenced ?? []);
  if (scene.set) silenced.set(scene.set.id, scene.set.body.silenced ?? []);
  return CHECKS.flatMap(({ name, of: needs, look }) =>
    (of === undefined || of === needs ? look(scene) : []).map((found): Finding => {
      const at = keyOf(found.place);
      const answer = silenced
        .get(answeredIn(scene, found.part))
        ?.find((each) => each.check === name && each.at === at);
      return { ...found, check: name, at, note: answer?.note ?? null };
    }),
  );
};
