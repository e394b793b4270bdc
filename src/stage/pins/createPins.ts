import { Vector3, type PerspectiveCamera, type WebGLRenderer } from 'three';
import {
  onPicture,
  standCorners,
  type Given,
  type Lens,
  type Standing,
} from '#core/evaluate/points/onMesh.ts';
import type { Picture } from '#core/evaluate/points/points.ts';
import { nearestSpot, type Spots } from '#core/evaluate/points/spots.ts';
import type { Mesh } from '#core/meshes/mesh.ts';
import type { MeshRecipe } from '#core/meshes/makeMesh.ts';
import { TABLE_SIZE } from '#core/numbers/curve.ts';
import { preparePin } from '#core/taps/readPin.ts';
import { TICK_SECONDS } from '#core/time/tick.ts';
import type { CameraFrame, MaterialNumbers, PropMaterial } from '../scene/propMaterial.ts';
import type { PlacedProp } from '../scene/props.ts';
import type { Pinned, PinSeen } from '../stage.ts';
import { createDrawnReadings } from './drawnReadings.ts';
import { createTexels } from './texels.ts';

interface Around {
  readonly all: () => readonly PlacedProp[];
  readonly meshFor: (recipe: MeshRecipe) => Mesh;
  readonly programOf: (material: string) => PropMaterial | undefined;
  readonly numbersOf: (material: string) => MaterialNumbers | undefined;
  readonly time: () => number;
  readonly cameraFrame: () => CameraFrame;
  /** The picture’s size, in pixels. */
  readonly size: () => readonly [number, number];
}
type Triple = readonly [number, number, number];

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
    const standing: Standing = {
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
      const found = find(id);
      if (!found) return null;
      const { mesh } = found.standing;
      const offset = found.material.shader.program.outputs['vertexOffset'];
      const ids = Array.from({ length: mesh.positions.length / 3 }, (_, i) => i);
      const given = givenTo(found.material, found.numbers);
      const { positions } = standCorners(found.standing, ids, offset, given);
      const from = new Vector3().setFromMatrixPosition(camera.matrixWorld);
      const way = new Vector3(x * 2 - 1, 1 - y * 2, 0.5).unproject(camera).sub(from).normalize();
      return firstOn(mesh, positions, from.toArray(), way.toArray());
    },
    dispose: (): void => drawn.dispose(),
  };
};

const sub = (a: Triple, b: Triple): Triple => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const dot = (a: Triple, b: Triple): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const cross = (a: Triple, b: Triple): Triple => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];

/**
 * The first point of a mesh along a ray, in the mesh’s own space, where its corners stand elsewhere (T. Möller and
 * B. Trumbore, "Fast, Minimum Storage Ray/Triangle Intersection", 1997).
 */
const firstOn = (mesh: Mesh, at: readonly Triple[], from: Triple, way: Triple): Triple | null => {
  let nearest = Infinity;
  let found: Triple | null = null;
  for (let t = 0; t + 2 < mesh.indices.length; t += 3) {
    const [i, j, k] = [mesh.indices[t]!, mesh.indices[t + 1]!, mesh.indices[t + 2]!];
    const [e1, e2] = [sub(at[j]!, at[i]!), sub(at[k]!, at[i]!)];
    const p = cross(way, e2);
    const size = dot(e1, p);
    if (size === 0) continue;
    const away = sub(from, at[i]!);
    const u = dot(away, p) / size;
    const q = cross(away, e1);
    const v = dot(way, q) / size;
    const far = dot(e2, q) / size;
    if (u < 0 || v < 0 || u + v > 1 || !(far > 0 && far < nearest)) continue;
    nearest = far;
    const weights = [1 - u - v, u, v];
    found = [0, 1, 2].map((c) =>
      [i, j, k].reduce((sum, corner, n) => sum + weights[n]! * mesh.positions[corner * 3 + c]!, 0),
    ) as unknown as Triple;
  }
  return found;
};
