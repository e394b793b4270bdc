import { Ray, Triangle, Vector3, type PerspectiveCamera, type WebGLRenderer } from 'three';
import {
  onPicture,
  standCorners,
  type Given,
  type Lens,
  type Standing,
} from '#core/evaluate/points/onMesh.ts';
import type { Picture } from '#core/evaluate/points/points.ts';
import { nearestSpot, pointOf, type Spots } from '#core/evaluate/points/spots.ts';
import type { Mesh } from '#core/meshes/mesh.ts';
import type { MeshRecipe } from '#core/meshes/makeMesh.ts';
import type { Triple } from '#core/numbers/vectors.ts';
import { TABLE_SIZE } from '#core/numbers/curve.ts';
import { preparePin } from '#core/taps/readPin.ts';
import type { Hit } from '#core/time/inputs.ts';
import { TICK_SECONDS } from '#core/time/tick.ts';
import type { CameraFrame, MaterialNumbers, PropMaterial } from '../scene/propMaterial.ts';
import type { PlacedProp } from '../scene/props.ts';
import type { Pinned, PinSeen } from '../stage.ts';
import { createDrawnReadings } from './drawnReadings.ts';
import { firstAlong } from '../surfaceUnder.ts';
import { createTexels } from './texels.ts';

interface Around {
  readonly all: () => readonly PlacedProp[];
  readonly meshFor: (recipe: MeshRecipe) => Mesh;
  readonly programOf: (material: string) => PropMaterial | undefined;
  readonly numbersOf: (material: string) => MaterialNumbers | undefined;
  /** What stands near a prop whose shader asks for it. */
  readonly near: (prop: PlacedProp) => Standing['near'];
  readonly time: () => number;
  readonly cameraFrame: () => CameraFrame;
  /** The picture’s size, in pixels. */
  readonly size: () => readonly [number, number];
}
/** Reads what steps come to at points of props: by the reference evaluator, and as the graphics card draws them there. */
export const createPins = (renderer: WebGLRenderer, camera: PerspectiveCamera, around: Around) => {
  const texelsOf = createTexels(renderer);
  const drawn = createDrawnReadings(renderer, camera);
  const readers = new WeakMap<PropMaterial, ReturnType<typeof preparePin>>();
  const spots = new WeakMap<Mesh, Map<string, Spots | null>>();

  const spotOf = (mesh: Mesh, at: Triple): Spots | null => {
    const known = spots.get(mesh) ?? new Map<string, Spots | null>();
    spots.set(mesh, known);
    const key = at.join();
    if (!known.has(key)) known.set(key, nearestSpot(mesh, at));
    return known.get(key)!;
  };
  const lens = (): Lens => {
    const [width, height] = around.size();
    return { ...around.cameraFrame(), fieldOfView: camera.fov, width, height };
  };
  const find = (id: string) => {
    const prop = around.all().find((each) => each.id === id);
    const material = prop && around.programOf(prop.material);
    const numbers = prop && around.numbersOf(prop.material);
    if (!prop || !material || !numbers) return null;
    const near = around.near(prop);
    const standing: Standing = {
      ...(near && { near }),
      ...{ mesh: around.meshFor(prop.recipe), placement: prop.object.matrixWorld.elements, lens: lens() },
      ...{ time: around.time(), timeStep: TICK_SECONDS },
    };
    return { prop, material, numbers, standing };
  };
  const givenTo = (
    { shader }: PropMaterial,
    { parameters, knobs, textures, tables }: MaterialNumbers,
  ): Given => {
    const pictureOf = (name: string): Picture => {
      const table = tables?.get(name);
      return table
        ? { width: TABLE_SIZE, height: 1, rgba: table, wrap: 'clamp', filter: 'nearest' }
        : texelsOf(textures.get(name));
    };
    const pictures = new Map(shader.live.textures.map((name) => [name, pictureOf(name)]));
    return { parameters, knobs, pictures };
  };

  /** The triangle of a prop, as it stands and is moved, that a ray through a place of the picture meets first. */
  const meet = (id: string, x: number, y: number) => {
    const found = find(id);
    if (!found) return null;
    const { mesh } = found.standing;
    const offset = found.material.shader.program.outputs['vertexOffset'];
    const corners = Array.from({ length: mesh.positions.length / 3 }, (_, i) => i);
    const given = givenTo(found.material, found.numbers);
    const { positionAt } = standCorners(found.standing, corners, offset, given);
    const from = new Vector3().setFromMatrixPosition(camera.matrixWorld);
    const way = new Vector3(x * 2 - 1, 1 - y * 2, 0.5).unproject(camera).sub(from).normalize();
    const met = firstAlong(new Ray(from, way), {
      ...mesh,
      positions: Float32Array.from(corners.flatMap(positionAt)),
    });
    const weights = met && Triangle.getBarycoord(met.hit, ...met.corners, new Vector3());
    return weights ? { ...met, from, mesh, weights: weights.toArray() } : null;
  };

  return {
    standingOf: (id: string): { readonly standing: Standing; readonly given: Given } | null => {
      const found = find(id);
      return found && { standing: found.standing, given: givenTo(found.material, found.numbers) };
    },
    /** What a pin’s steps come to; null where its prop does not stand on the stage, or is not drawn yet. */
    read: ({ prop: id, at }: Pinned): PinSeen | null => {
      const found = find(id);
      const spot = found && spotOf(found.standing.mesh, at);
      if (!found || !spot) return null;
      const { material, numbers, standing } = found;
      const read = readers.get(material) ?? preparePin(material.shader.program);
      readers.set(material, read);
      try {
        const { place, readings } = read(standing, spot, givenTo(material, numbers));
        const [x, y, ahead] = onPicture(standing.lens, place.position);
        const { taps } = material.shader;
        return {
          ...{ place, screen: ahead > 0 ? [x, 1 - y] : null, material: found.prop.material },
          readings: new Map([...taps].map(([key, tap]) => [key, readings[tap - 1]!])),
        };
      } catch (error) {
        return { why: `It cannot be told where this pin is: ${(error as Error).message}.` };
      }
    },
    /** The same steps as the graphics card draws them at the pin; what is not drawn in the picture has none. */
    draw: async ({ prop: id, at }: Pinned, where: readonly [number, number]) => {
      const found = find(id);
      const spot = found && spotOf(found.standing.mesh, at);
      if (!found || !spot) return new Map<string, readonly number[]>();
      return drawn.take(found.material, found.prop.object, spot, where, around.size());
    },
    /** The point of a prop under a place of the picture, (0, 0) at its upper left and (1, 1) at its lower right. */
    spotUnder: (id: string, x: number, y: number): Triple | null => {
      const met = meet(id, x, y);
      return met
        ? pointOf(met.mesh, {
            count: 1,
            corners: Uint32Array.from(met.ids),
            weights: Float32Array.from(met.weights),
          })
        : null;
    },
    /** What the pointer meets of a prop there: in the world, the normal on the camera’s side. */
    hitUnder: (id: string, x: number, y: number): Hit | null => {
      const met = meet(id, x, y);
      if (!met) return null;
      const [a, b, c] = met.corners;
      const normal = b.clone().sub(a).cross(c.clone().sub(a)).normalize();
      if (normal.dot(met.hit.clone().sub(met.from)) > 0) normal.negate();
      const uv = [0, 1].map((k) =>
        met.ids.reduce((sum, corner, i) => sum + met.mesh.uvs[corner * 2 + k]! * met.weights[i]!, 0),
      );
      return {
        ...{ prop: id, point: met.hit.toArray(), normal: normal.toArray() },
        ...{ uv: [uv[0]!, uv[1]!], distance: met.hit.distanceTo(met.from) },
      };
    },
    dispose: (): void => drawn.dispose(),
  };
};
