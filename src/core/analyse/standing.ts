import { worldOf } from '../document/parents.ts';
import type { StageDocument } from '../document/project.ts';
import type { Lens, Standing } from '../evaluate/points/onMesh.ts';
import { makeMesh, type MeshRecipe } from '../meshes/makeMesh.ts';
import { TICK_SECONDS } from '../time/tick.ts';
import { cross, minus, unit } from '../numbers/vectors.ts';

const [WIDTH, HEIGHT] = [512, 512];

/** A mesh at the world's middle, seen from in front; the square of uv where it is a card a metre wide. */
export const standingAlone = (
  recipe: MeshRecipe,
  middle: readonly [number, number],
  away: number,
): Standing => ({
  mesh: makeMesh(recipe),
  placement: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, ...middle, 0, 1],
  lens: {
    ...{ position: [...middle, away], right: [1, 0, 0], up: [0, 1, 0], back: [0, 0, 1] },
    ...{ fieldOfView: 40, width: WIDTH, height: HEIGHT },
  },
  ...{ time: 0, timeStep: TICK_SECONDS },
});

/** The square of uv: a card a metre wide, seen straight on. */
export const uvSquare = (): Standing =>
  standingAlone({ kind: 'card', size: [1, 1], divisions: [1, 1] }, [0.5, 0.5], 1);

const lensOf = ({ camera }: StageDocument): Lens => {
  const back = unit(minus(camera.position, camera.target));
  const right = unit(cross(Math.abs(back[1]) > 0.999 ? [0, 0, 1] : [0, 1, 0], back));
  return {
    ...{ position: camera.position, right, up: cross(back, right), back },
    ...{ fieldOfView: camera.fieldOfView, width: WIDTH, height: HEIGHT },
  };
};

/** A prop where its set has it, seen by the set's camera; as its rotation says, whatever it is turned to. */
export const standingIn = (set: StageDocument, prop: string): Standing | null => {
  const found = set.props.find((each) => each.id === prop);
  if (!found) return null;
  const m = worldOf(set.props, prop);
  const column = (at: number, last: number) => [m[at]!, m[at + 1]!, m[at + 2]!, last];
  return {
    mesh: makeMesh(found.mesh),
    placement: [column(0, 0), column(3, 0), column(6, 0), column(9, 1)].flat(),
    lens: lensOf(set),
    ...{ time: 0, timeStep: TICK_SECONDS },
  };
};
