import { BufferGeometry, Matrix4, Mesh, type Scene } from 'three';
import type { MeshRecipe } from '#core/meshes/makeMesh.ts';
import { broughtFor } from '#core/meshes/makeMesh.ts';
import type { Triple } from '#core/numbers/vectors.ts';
import type { DrawnLayer } from '#core/time/drawnLayers.ts';
import { bandGeometry, meshGeometry, middleOf, setInstance, spritesGeometry } from './layerGeometry.ts';
import type { Meshes } from './meshes.ts';
import {
  knowsAll,
  type CameraFrame,
  type LiveNumbers,
  type MaterialNumbers,
  type PropMaterial,
} from './propMaterial.ts';
import { handsOver } from './props.ts';

/** A layer with what its material's parameters stand at for it alone. */
export interface StageLayer extends DrawnLayer {
  readonly parameters: ReadonlyMap<string, readonly number[]>;
}

interface Kept {
  readonly object: Mesh;
  drawnBy: PropMaterial | null;
  recipe: MeshRecipe | null;
  kind: DrawnLayer['drawn']['kind'] | null;
  live: LiveNumbers | null;
}

/** Layers kept when they have ended, for the next that are like them. */
const MOST_KEPT = 128;

/** Draws the layers of flourishes: each with the numbers of its own moment, by the program that its material has. */
export const createLayers = (
  scene: Scene,
  meshes: Meshes,
  programOf: (material: string) => PropMaterial | undefined,
) => {
  const kept = new Map<string, Kept>();
  let shown: readonly StageLayer[] = [];

  const keep = (key: string): Kept => {
    const known = kept.get(key);
    if (known) return known;
    const object = new Mesh();
    object.frustumCulled = false;
    object.matrixAutoUpdate = false;
    const made: Kept = { object, drawnBy: null, recipe: null, kind: null, live: null };
    kept.set(key, made);
    return made;
  };
  const dress = (own: Kept, drawnBy: PropMaterial): void => {
    if (own.drawnBy === drawnBy) return;
    own.drawnBy = drawnBy;
    own.object.material = drawnBy.surface;
    own.object.userData['material'] = drawnBy;
    const hands = handsOver(own.object, drawnBy);
    // Others are drawn by the same program with numbers of their own.
    own.object.onBeforeRender = (...given) => {
      hands.apply(own.object, given);
      drawnBy.lend(own.live);
    };
    own.object.onAfterRender = () => drawnBy.lend(null);
  };
  const place = ({ object }: Kept, matrix: Matrix4): void => {
    object.matrix.copy(matrix);
    object.matrixWorldNeedsUpdate = true;
  };
  const at = new Matrix4();
  const stand = (own: Kept, { drawn, age, seed }: StageLayer, camera: CameraFrame): boolean => {
    const { object } = own;
    if (own.kind !== drawn.kind) {
      object.geometry.dispose();
      object.geometry = new BufferGeometry();
      own.recipe = null;
      own.kind = drawn.kind;
    }
    if (drawn.kind === 'mesh') {
      if (own.recipe !== drawn.recipe) {
        object.geometry.dispose();
        object.geometry = meshGeometry(meshes.geometryFor(drawn.recipe));
        // What is on its way stands in for itself until it is here.
        own.recipe = broughtFor(drawn.recipe)?.isHere === false ? null : drawn.recipe;
      }
      setInstance(object.geometry, [age, 0, seed]);
      const m = drawn.place as readonly number[];
      const row = (r: number) => [m[r]!, m[3 + r]!, m[6 + r]!, m[9 + r]!] as const;
      place(own, at.set(...row(0), ...row(1), ...row(2), 0, 0, 0, 1));
      return true;
    }
    const points: readonly Triple[] = drawn.kind === 'ribbon' ? drawn.band.points : drawn.sprites.points;
    if (points.length < (drawn.kind === 'ribbon' ? 2 : 1)) return false;
    const middle = middleOf(points);
    const before = object.geometry.index ? object.geometry : null;
    object.geometry =
      drawn.kind === 'ribbon'
        ? bandGeometry(before, drawn.band, { middle, seed, camera })
        : spritesGeometry(before, drawn.sprites, { middle, camera });
    place(own, at.makeTranslation(...middle));
    return true;
  };
  const letGo = (key: string): void => {
    const own = kept.get(key)!;
    own.object.removeFromParent();
    own.object.geometry.dispose();
    kept.delete(key);
  };

  return {
    recipes: (): readonly MeshRecipe[] =>
      shown.flatMap(({ drawn }) => (drawn.kind === 'mesh' ? [drawn.recipe] : [])),
    set: (layers: readonly StageLayer[]): void => {
      shown = layers;
    },
    isEmpty: (): boolean => !shown.length,
    /** Brings what is drawn in step with what is shown, as the camera sees it. */
    update: (
      camera: CameraFrame,
      time: number,
      of: {
        readonly numbersOf: (material: string) => MaterialNumbers | undefined;
        readonly isSeen: (material: string) => boolean;
      },
    ): void => {
      const now = new Set(shown.map(({ key }) => key));
      for (const [key, { object }] of kept)
        if (!now.has(key)) {
          object.removeFromParent();
          if (kept.size > MOST_KEPT) letGo(key);
        }
      for (const layer of shown) {
        const drawnBy = programOf(layer.material);
        const numbers = of.numbersOf(layer.material);
        const own = keep(layer.key);
        const given = numbers && { ...numbers, parameters: layer.parameters };
        const isThere =
          drawnBy &&
          given &&
          knowsAll(given, drawnBy.shader) &&
          of.isSeen(layer.material) &&
          stand(own, layer, camera);
        if (!isThere) {
          own.object.removeFromParent();
          continue;
        }
        dress(own, drawnBy);
        own.object.userData['drawOrder'] = layer.drawOrder;
        own.live = drawnBy.numbersFor(given, time, camera);
        scene.add(own.object);
        own.object.updateMatrixWorld();
      }
    },
    dispose: (): void => [...kept.keys()].forEach(letGo),
  };
};
