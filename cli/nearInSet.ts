import { Matrix4 } from 'three';
import { worldOf } from '#core/document/parents.ts';
import type { StageDocument } from '#core/document/project.ts';
import type { Nearby } from '#core/evaluate/points/nearest.ts';
import { broughtFor, makeMesh } from '#core/meshes/makeMesh.ts';
import type { Volume } from '#core/meshes/volume.ts';
import { bakeVolume, OpenMeshError } from '#stage/field/bakeVolume.ts';
import { grown, rigid } from '#stage/field/rigid.ts';

/** What was baked, or found to be open, of a mesh as large as it stands: a folder has one in several sets. */
const baked = new Map<string, Volume | null>();

/**
 * What counts for distances from a prop of a set, as the stage has it, each mesh baked once.
 * @returns of a prop: what is near it, in the world; undefined where a mesh is not here to be baked
 */
export const nearInSet = ({ props }: StageDocument): ((asking: string) => readonly Nearby[] | undefined) => {
  const volumeOf = ({ mesh, unsigned = false }: (typeof props)[number], world: Matrix4): Volume | null => {
    const key = JSON.stringify([mesh, unsigned, rigid(world).size.toArray()]);
    const known = baked.get(key);
    if (known !== undefined) return known;
    let made: Volume | null = null;
    try {
      made = bakeVolume({ ...grown(makeMesh(mesh), world), unsigned });
    } catch (error) {
      // It counts as nowhere, and a check says so.
      if (!(error instanceof OpenMeshError)) throw error;
    }
    baked.set(key, made);
    return made;
  };
  return (asking) => {
    const near = props.filter(({ id, hidden, fieldless }) => id !== asking && !hidden && !fieldless);
    if (near.some(({ mesh }) => broughtFor(mesh)?.isHere === false)) return undefined;
    return near.flatMap((prop): Nearby[] => {
      const m = worldOf(props, prop.id);
      const world = new Matrix4().set(
        ...([m[0]!, m[3]!, m[6]!, m[9]!, m[1]!, m[4]!, m[7]!, m[10]!] as const),
        ...([m[2]!, m[5]!, m[8]!, m[11]!, 0, 0, 0, 1] as const),
      );
      const volume = volumeOf(prop, world);
      return volume ? [{ volume, toMesh: rigid(world).place.invert().elements }] : [];
    });
  };
};
