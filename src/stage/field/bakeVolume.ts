import { BufferAttribute, BufferGeometry, DoubleSide, Ray, Vector3 } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { openEdges } from '#core/meshes/openEdges.ts';
import { placeAt, shapeOf, type Volume } from '#core/meshes/volume.ts';

/** Places along the longest side of a mesh's box. */
export const PLACES = 64;
const FEWEST = 8;
/** What lies around the mesh in its box, as a share of its longest side. */
const AROUND = 0.15;
/** A row of places is looked along a hair off its line, so that it does not graze an edge; as a share of the step. */
const ASIDE = [1.3e-4, -2.1e-4] as const;

export interface MeshNumbers {
  readonly positions: Float32Array;
  readonly indices: Uint32Array;
  /** An open mesh is taken too, by its distances alone. */
  readonly unsigned?: boolean;
}

/** A mesh that is open, and so has no inside, where one with an inside was asked for. */
export class OpenMeshError extends Error {
  constructor(edges: number) {
    super(
      edges === 1
        ? 'one edge of its mesh is open, so it has no inside'
        : `${edges} edges of its mesh are open, so it has no inside`,
    );
  }
}

/**
 * Distances from places around a mesh to its surface, by the nearest point of any triangle; below 0 inside a closed mesh,
 * told by the surfaces a line crosses on its way.
 * @param progress told the share that is done, now and then
 * @throws OpenMeshError of an open mesh that is not to be taken without an inside
 * @throws Error where a mesh has no triangle, or a corner that is no number
 */
export const bakeVolume = (
  { positions, indices, unsigned = false }: MeshNumbers,
  places = PLACES,
  progress: (share: number) => void = () => undefined,
): Volume => {
  if (!indices.length) throw new Error('its mesh has no triangle to be near to');
  if (!positions.every(Number.isFinite)) throw new Error('a corner of its mesh is no number');
  const open = openEdges({ positions, indices });
  if (open && !unsigned) throw new OpenMeshError(open);
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(positions, 3));
  geometry.setIndex(new BufferAttribute(indices.slice(), 1));
  geometry.computeBoundingBox();
  const { min, max } = geometry.boundingBox!;
  const around = Math.max(...max.clone().sub(min).toArray(), 1e-3) * AROUND;
  const low = min.clone().subScalar(around).toArray();
  const high = max.clone().addScalar(around).toArray();
  const size = shapeOf(low, high, places, FEWEST);
  const [nx, ny, nz] = size;
  const step = [0, 1, 2].map((c) => (high[c]! - low[c]!) / size[c]!);
  const bvh = new MeshBVH(geometry);
  const signed = open === 0;
  const values = new Float32Array(nx * ny * nz);
  const point = new Vector3();
  const found = { point: new Vector3(), distance: 0, faceIndex: 0 };
  const ray = new Ray(new Vector3(), new Vector3(1, 0, 0));
  for (let k = 0; k < nz; k += 1) {
    const z = placeAt(low[2], high[2], nz, k);
    for (let j = 0; j < ny; j += 1) {
      const y = placeAt(low[1], high[1], ny, j);
      const crossed: number[] = [];
      if (signed) {
        ray.origin.set(low[0] - 1, y + ASIDE[0] * step[1]!, z + ASIDE[1] * step[2]!);
        crossed.push(...bvh.raycast(ray, DoubleSide).map((hit) => hit.point.x));
        crossed.sort((a, b) => a - b);
      }
      for (let i = 0, behind = 0; i < nx; i += 1) {
        const x = placeAt(low[0], high[0], nx, i);
        while (behind < crossed.length && crossed[behind]! < x) behind += 1;
        const { distance } = bvh.closestPointToPoint(point.set(x, y, z), found)!;
        values[(k * ny + j) * nx + i] = behind % 2 ? -distance : distance;
      }
    }
    progress((k + 1) / nz);
  }
  geometry.dispose();
  return { size, low, high, values, signed };
};
