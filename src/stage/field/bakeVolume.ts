import { openEdges } from '#core/meshes/openEdges.ts';
import { createDigest } from '#core/numbers/digest.ts';
import type { Triple } from '#core/numbers/vectors.ts';
import { crossingsOnGrid } from './crossingsOnGrid.ts';
import { distancesOnGrid, type Triangles } from './distancesOnGrid.ts';
import { placeAt, shapeOf, type Volume } from '#core/meshes/volume.ts';

/** Places along the longest side of a mesh's box. */
export const PLACES = 64;
const FEWEST = 8;
/** What lies around the mesh in its box, as a share of its longest side. */
const AROUND = 0.15;
/** A row of places is looked along a hair off its line, so that it does not graze an edge; as a share of the step. */
const ASIDE = [1.3e-4, -2.1e-4] as const;

export interface ToBake extends Triangles {
  /** An open mesh is taken too, by its distances alone. */
  readonly unsigned?: boolean;
  /** Its scale along x, y and z: 1 where it is not given. */
  readonly scale?: Triple;
}

/** Raise it whenever the same mesh would get other numbers: volumes are kept from one visit to the next. */
export const VOLUME_VERSION = 2;

const meshDigests = new WeakMap<Float32Array, { readonly indices: Uint32Array; readonly text: string }>();
/** A digest of a mesh's triangles, computed once for the arrays of a mesh. */
const digestOfMesh = ({ positions, indices }: Triangles): string => {
  const found = meshDigests.get(positions);
  if (found?.indices === indices) return found.text;
  const digest = createDigest();
  for (const { buffer, byteOffset, byteLength } of [positions, indices]) {
    digest.number(byteLength);
    digest.bytes(new Uint8Array(buffer, byteOffset, byteLength));
  }
  meshDigests.set(positions, { indices, text: digest.text() });
  return digest.text();
};

/** The cache key of a volume: a digest of all that `bakeVolume` reads, and of its version. */
export const volumeKey = ({ unsigned = false, scale = [1, 1, 1], ...mesh }: ToBake): string => {
  const digest = createDigest();
  digest.word(digestOfMesh(mesh));
  for (const x of [VOLUME_VERSION, PLACES, Number(unsigned), ...scale]) digest.number(x);
  return digest.text();
};

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
  { positions: own, indices, unsigned = false, scale = [1, 1, 1] }: ToBake,
  places = PLACES,
  progress: (share: number) => void = () => undefined,
): Volume => {
  const positions = own.map((x, i) => x * scale[i % 3]!);
  if (!indices.length) throw new Error('its mesh has no triangle to be near to');
  if (!positions.every(Number.isFinite)) throw new Error('a corner of its mesh is no number');
  const open = openEdges({ positions, indices });
  if (open && !unsigned) throw new OpenMeshError(open);
  const [min, max] = [Math.min, Math.max].map((end) =>
    [0, 1, 2].map((c) => {
      let found = positions[c]!;
      for (let at = c; at < positions.length; at += 3) found = end(found, positions[at]!);
      return found;
    }),
  ) as unknown as [Triple, Triple];
  const around = Math.max(...max.map((x, c) => x - min[c]!), 1e-3) * AROUND;
  const low = min.map((x) => x - around) as unknown as Triple;
  const high = max.map((x) => x + around) as unknown as Triple;
  const size = shapeOf(low, high, places, FEWEST);
  const [nx, ny, nz] = size;
  const step = [0, 1, 2].map((c) => (high[c]! - low[c]!) / size[c]!);
  const signed = open === 0;
  const first = [0, 1, 2].map((c) => placeAt(low[c]!, high[c]!, size[c]!, 0));
  const values = distancesOnGrid({ positions, indices }, size, first, step, progress);
  if (signed) {
    const [startY, startZ] = [first[1]! + ASIDE[0] * step[1]!, first[2]! + ASIDE[1] * step[2]!];
    const crossings = crossingsOnGrid(
      { positions, indices },
      [ny, nz],
      [startY, startZ],
      [step[1]!, step[2]!],
    );
    crossings.forEach((crossed, row) => {
      for (let i = 0, behind = 0; i < nx; i += 1) {
        const x = placeAt(low[0], high[0], nx, i);
        while (behind < crossed.length && crossed[behind]! < x) behind += 1;
        if (behind % 2) values[row * nx + i]! *= -1;
      }
    });
  }
  return { size, low, high, values, signed };
};
