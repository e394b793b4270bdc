import type { PerspectiveCamera, Scene, WebGLRenderer } from 'three';
import type { MeshRecipe } from '#core/meshes/makeMesh.ts';
import type { Field } from './field/createField.ts';
import { createOverdraw } from './overdraw.ts';
import type { createTargets } from './passes/targets.ts';
import { createPins } from './pins/createPins.ts';
import { createPictureMeshes } from './pictureMeshes.ts';
import { createTapReader } from './readTap.ts';
import type { createMeshes } from './scene/meshes.ts';
import type { createNumbers } from './scene/numbers.ts';
import type { createPrograms } from './scene/programs.ts';
import type { CameraFrame, PropMaterial } from './scene/propMaterial.ts';
import type { createProps } from './scene/props.ts';
import type { Stage, View } from './stage.ts';
import { createTapPictures } from './tapPictures.ts';

/** What stands on a stage, for whoever reads numbers of it. */
interface Standing {
  readonly renderer: WebGLRenderer;
  readonly scene: Scene;
  readonly camera: PerspectiveCamera;
  readonly props: Pick<ReturnType<typeof createProps>, 'all'>;
  readonly meshes: Pick<ReturnType<typeof createMeshes>, 'meshFor' | 'geometryFor'>;
  readonly programs: Pick<ReturnType<typeof createPrograms>, 'get' | 'entries'>;
  readonly numbers: Pick<ReturnType<typeof createNumbers>, 'of'>;
  readonly field: Pick<Field, 'near'>;
  readonly targets: Pick<ReturnType<typeof createTargets>, 'at'>;
  /** None of a material that is left out. */
  readonly programOf: (material: string) => PropMaterial | undefined;
  readonly cameraFrame: () => CameraFrame;
  /** Brings a material's numbers to the graphics card. */
  readonly upload: (material: string, frame: CameraFrame) => void;
  readonly isGone: () => boolean;
  readonly time: () => number;
  readonly view: () => View;
  /** Has materials show again what the view asks for. */
  readonly applyView: () => void;
  /** What a step is shown on that stands nowhere. */
  readonly square: MeshRecipe;
}

/** Numbers and small pictures of what stands on a stage, besides the picture of all of it. */
export const createReadings = (on: Standing) => {
  const { renderer, scene, camera, props, meshes, programs, isGone, programOf } = on;
  const tapPictures = createTapPictures(renderer, camera);
  const tapReader = createTapReader(renderer, scene, camera);
  const overdraw = createOverdraw(renderer, scene, camera);
  const pins = createPins(renderer, camera, {
    ...{ all: props.all, meshFor: meshes.meshFor, programOf, cameraFrame: on.cameraFrame, time: on.time },
    numbersOf: on.numbers.of,
    near: (prop) => on.field.near(props.all(), prop),
    size: () => [on.targets.at(0).width, on.targets.at(0).height],
  });
  const pictures: Stage['pictures'] = async (id, asked, size) => {
    const material = programOf(id);
    const prop = props.all().find((each) => each.material === id);
    if (!material || !asked.length || isGone()) return [];
    on.upload(id, on.cameraFrame());
    const geometryOf = createPictureMeshes(meshes, prop ? prop.recipe : on.square);
    return tapPictures.take(material, geometryOf, prop?.object ?? null, asked, size);
  };
  const told: Pick<Stage, 'pictures' | 'standingOf' | 'readPin' | 'drawPin' | 'readTap' | 'overdraw'> = {
    pictures,
    standingOf: (prop) => (isGone() ? null : pins.standingOf(prop)),
    readPin: (pin) => (isGone() ? null : pins.read(pin)),
    drawPin: async (pin, screen) => (isGone() ? new Map() : pins.draw(pin, screen)),
    readTap: async () => (isGone() ? null : tapReader.read(on.view(), programs.get, on.targets.at(0))),
    overdraw: async () => {
      if (isGone()) return null;
      const materials = [...programs.entries()].map(([, each]) => each);
      return overdraw.read(materials, on.targets.at(0), on.applyView);
    },
  };
  return {
    told,
    spotUnder: pins.spotUnder,
    hitUnder: pins.hitUnder,
    dispose: (): void => {
      tapPictures.dispose();
      tapReader.dispose();
      overdraw.dispose();
      pins.dispose();
    },
  };
};
